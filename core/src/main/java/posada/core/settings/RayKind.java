package posada.core.settings;

/** What a ray is sent for. */
public enum RayKind {
  /** From the camera to the first surface, and what is kept of that. */
  CAMERA,
  /** On from where light is scattered evenly. */
  DIFFUSE,
  /** On from where it is mirrored. */
  SPECULAR,
  /** On through a surface. */
  TRANSMISSION,
  /** To lights: whether anything is in the way. */
  LIGHTS
}
