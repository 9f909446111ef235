package posada.core.material;

/** The three kinds in which scattered light is counted, limited and kept apart. */
public enum Scatter {
  DIFFUSE,
  SPECULAR,
  TRANSMISSION
}
