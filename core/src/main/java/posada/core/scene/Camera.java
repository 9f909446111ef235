package posada.core.scene;

/**
 * A camera's projection; it looks along -Z of its node, +Y up.
 *
 * @param verticalAngle full vertical angle of view in radians, for a perspective camera; 0 for an
 *     orthographic one
 * @param halfHeight half the height of the view in metres, for an orthographic camera; else 0
 */
public record Camera(String name, double verticalAngle, double halfHeight) {
  public Camera {
    boolean perspective = verticalAngle > 0 && verticalAngle < Math.PI;
    if (!perspective && !(halfHeight > 0 && Double.isFinite(halfHeight))) {
      throw new IllegalArgumentException(
          "camera "
              + name
              + " needs an angle of view between 0 and 180 degrees or a height above 0 m (got "
              + Math.toDegrees(verticalAngle)
              + " degrees, "
              + 2 * halfHeight
              + " m)");
    }
  }

  public boolean perspective() {
    return verticalAngle > 0;
  }
}
