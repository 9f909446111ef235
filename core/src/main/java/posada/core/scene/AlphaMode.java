package posada.core.scene;

/** How a material's alpha is read: ignored, cut at a threshold, or as coverage. */
public enum AlphaMode {
  OPAQUE,
  MASK,
  BLEND
}
