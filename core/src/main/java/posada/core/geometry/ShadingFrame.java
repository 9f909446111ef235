package posada.core.geometry;

/**
 * A right-handed frame around a unit normal, which is its +Z. Scratch of one worker thread.
 *
 * <p>Source: T. Duff et al., "Building an Orthonormal Basis, Revisited", JCGT 6(1), 2017.
 */
public final class ShadingFrame {
  private float sx, sy, sz, tx, ty, tz;
  public float nx, ny, nz;

  /** The last vector that was turned. */
  public float rx, ry, rz;

  /** Builds the frame around a unit normal. */
  public void set(float x, float y, float z) {
    nx = x;
    ny = y;
    nz = z;
    float sign = z < 0 ? -1 : 1;
    float a = -1 / (sign + z);
    float b = x * y * a;
    sx = 1 + sign * x * x * a;
    sy = sign * b;
    sz = -sign * x;
    tx = b;
    ty = sign + y * y * a;
    tz = -y;
  }

  /** Builds the frame around a unit normal with its x axis along a unit tangent at right angles. */
  public void set(float x, float y, float z, float tangentX, float tangentY, float tangentZ) {
    nx = x;
    ny = y;
    nz = z;
    sx = tangentX;
    sy = tangentY;
    sz = tangentZ;
    tx = y * sz - z * sy;
    ty = z * sx - x * sz;
    tz = x * sy - y * sx;
  }

  /** Turns a vector of this frame to world space, into {@code rx, ry, rz}. */
  public void toWorld(float x, float y, float z) {
    rx = sx * x + tx * y + nx * z;
    ry = sy * x + ty * y + ny * z;
    rz = sz * x + tz * y + nz * z;
  }

  /** Turns a world vector to this frame, into {@code rx, ry, rz}. */
  public void toLocal(float x, float y, float z) {
    rx = sx * x + sy * y + sz * z;
    ry = tx * x + ty * y + tz * z;
    rz = nx * x + ny * y + nz * z;
  }
}
