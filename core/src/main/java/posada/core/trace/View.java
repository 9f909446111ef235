package posada.core.trace;

import posada.core.geometry.Affine;
import posada.core.geometry.Ray;
import posada.core.geometry.Vec3;
import posada.core.scene.Camera;

/**
 * A camera placed in the world with a picture size. The vertical angle (or height) of the camera is
 * kept and the width follows from the picture's shape; pixels are square. Immutable.
 */
public final class View {
  public static final int MAX_SIDE = 16384;
  final int width;
  final int height;
  private final boolean perspective;
  private final float px, py, pz;
  private final float rx, ry, rz;
  private final float ux, uy, uz;
  private final float fx, fy, fz;

  /** Half the height of the picture at distance 1 (perspective) or in metres (orthographic). */
  private final float half;

  /**
   * @param toWorld placement of the camera's node; its scale is ignored
   */
  public View(Camera camera, Affine toWorld, int width, int height) {
    if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) {
      throw new IllegalArgumentException(
          "picture size must be 1 .. "
              + MAX_SIDE
              + " pixels each way (got "
              + width
              + " x "
              + height
              + ")");
    }
    this.width = width;
    this.height = height;
    perspective = camera.perspective();
    half = (float) (perspective ? StrictMath.tan(camera.verticalAngle() / 2) : camera.halfHeight());
    Vec3 p = toWorld.translation();
    px = (float) p.x();
    py = (float) p.y();
    pz = (float) p.z();
    Vec3 f = toWorld.vector(new Vec3(0, 0, -1)).normalized();
    Vec3 up = toWorld.vector(new Vec3(0, 1, 0));
    Vec3 r = f.cross(up).normalized();
    Vec3 u = r.cross(f);
    fx = (float) f.x();
    fy = (float) f.y();
    fz = (float) f.z();
    rx = (float) r.x();
    ry = (float) r.y();
    rz = (float) r.z();
    ux = (float) u.x();
    uy = (float) u.y();
    uz = (float) u.z();
  }

  /** Aims a ray of unit length through a place of the picture, in pixels from the top left. */
  void aim(float x, float y, Ray ray) {
    float sx = (2 * x - width) / height * half;
    float sy = (1 - 2 * y / height) * half;
    if (perspective) {
      float dx = fx + rx * sx + ux * sy;
      float dy = fy + ry * sx + uy * sy;
      float dz = fz + rz * sx + uz * sy;
      float l = 1 / (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
      ray.set(px, py, pz, dx * l, dy * l, dz * l, Float.POSITIVE_INFINITY);
    } else {
      ray.set(
          px + rx * sx + ux * sy,
          py + ry * sx + uy * sy,
          pz + rz * sx + uz * sy,
          fx,
          fy,
          fz,
          Float.POSITIVE_INFINITY);
    }
  }

  /** Returns the distance along the view axis of a world point, metres. */
  float depth(float x, float y, float z) {
    return (x - px) * fx + (y - py) * fy + (z - pz) * fz;
  }
}
