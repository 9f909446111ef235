package posada.core.scene;

/**
 * A punctual light after glTF extension KHR_lights_punctual; shines along -Z of its node.
 *
 * @param color scene-linear red, green, blue
 * @param intensity candela for point and spot lights, lux for directional ones; taken one to one as
 *     radiant intensity and irradiance
 * @param range metres after which it ends; infinite for none
 * @param innerAngle half angle of a spot's full light, radians
 * @param outerAngle half angle at which a spot ends, radians
 * @param size radius in metres of a point or spot light, half angle in radians of a directional
 *     one; 0 for hard shadows
 * @param cameraSees true if the camera sees the shape that its size gives it
 */
public record Light(
    String name,
    Kind kind,
    float[] color,
    double intensity,
    double range,
    double innerAngle,
    double outerAngle,
    double size,
    boolean cameraSees) {
  /** The three shapes of the extension. */
  public enum Kind {
    POINT,
    SPOT,
    DIRECTIONAL
  }

  /** A light whose shape the camera does not see. */
  public Light(
      String name,
      Kind kind,
      float[] color,
      double intensity,
      double range,
      double innerAngle,
      double outerAngle,
      double size) {
    this(name, kind, color, intensity, range, innerAngle, outerAngle, size, false);
  }

  /** Returns this light with another colour and brightness: factors for red, green and blue. */
  public Light times(float[] f) {
    float[] c = {color[0] * f[0], color[1] * f[1], color[2] * f[2]};
    return new Light(name, kind, c, intensity, range, innerAngle, outerAngle, size, cameraSees);
  }

  /** Returns this light with a shape that the camera does not see. */
  public Light unseen() {
    return new Light(name, kind, color, intensity, range, innerAngle, outerAngle, size, false);
  }

  /** Returns true if it gives any light. */
  public boolean gives() {
    return intensity > 0 && (color[0] > 0 || color[1] > 0 || color[2] > 0);
  }
}
