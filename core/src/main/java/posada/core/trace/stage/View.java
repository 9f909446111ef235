package posada.core.trace.stage;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Ray;
import posada.core.geometry.Trig;
import posada.core.geometry.Vec3;
import posada.core.scene.Camera;
import posada.core.settings.Lens;
import posada.core.settings.Limits;

/**
 * A camera placed in the world with a picture size and a lens. Pixels are square. Without a focal
 * length the camera's vertical angle (or height) is kept and the width follows from the picture's
 * shape. Immutable.
 */
public final class View {

  /** Distance at which a lens is as good as focused on infinity, metres. */
  private static final double FAR = 1e6;

  /** Position, right, up, forward: x, y, z each. */
  private static final int PLACE = 12;

  public final int width;
  public final int height;
  private final boolean perspective;

  /** Places at even times from the shutter's opening to its closing. */
  private final float[] places;

  private final int steps;

  /** Half the height of the picture at distance 1 (perspective) or in metres (orthographic). */
  private final float half;

  /** Radius of the lens's opening, metres; 0 for a pinhole. */
  private final float aperture;

  private final float focus;
  private final int blades;
  private final float bladeTurn;
  private final float bladeStep;

  /** What the exposure multiplies all light by. */
  public final float gain;

  /**
   * @param toWorld placements of the camera's node while the shutter is open; their scale is
   *     ignored
   * @param focusPoint world point to focus on; null for the lens's own distance
   */
  View(
      Camera camera,
      List<Affine> toWorld,
      int width,
      int height,
      Lens lens,
      Vec3 focusPoint,
      double seconds) {
    if (width < 1 || height < 1 || width > Limits.MAX_SIDE || height > Limits.MAX_SIDE) {
      throw new IllegalArgumentException(
          "picture size must be 1 .. "
              + Limits.MAX_SIDE
              + " pixels each way (got "
              + width
              + " x "
              + height
              + ")");
    }
    this.width = width;
    this.height = height;
    perspective = camera.perspective();
    steps = toWorld.size();
    places = new float[steps * PLACE];
    for (int k = 0; k < steps; k++) {
      put(toWorld.get(k), k * PLACE);
    }
    double film = lens.film(width, height);
    double tangent = perspective ? StrictMath.tan(camera.verticalAngle() / 2) : 0;
    double focal = perspective ? film / 2 / tangent : 0;
    if (perspective && lens.focalLength() != null) {
      focal = lens.focalLength().at(seconds) * 1e-3;
      tangent = film / 2 / focal;
    }
    half = (float) (perspective ? tangent : camera.halfHeight());
    aperture =
        perspective && lens.depthOfField() ? (float) (focal / lens.fStop().at(seconds) / 2) : 0;
    double distance = lens.focusDistance() == null ? FAR : lens.focusDistance().at(seconds);
    if (focusPoint != null) {
      double there =
          depth(
              (float) focusPoint.x(),
              (float) focusPoint.y(),
              (float) focusPoint.z(),
              0.5f,
              new Place());
      distance = there > 0 ? there : distance;
    }
    focus = (float) distance;
    blades = lens.blades();
    bladeTurn = (float) (lens.bladeRotation() / 360 - Math.floor(lens.bladeRotation() / 360));
    bladeStep = blades == 0 ? 0 : 1f / blades;
    gain = Lens.gain(lens.exposure().at(seconds));
  }

  /** Returns a camera's focal length, millimetres; NaN without perspective. */
  public static double focalLength(
      Camera camera, Lens lens, int width, int height, double seconds) {
    if (!camera.perspective()) {
      return Double.NaN;
    }
    return lens.focalLength() != null
        ? lens.focalLength().at(seconds)
        : lens.film(width, height) / 2 / StrictMath.tan(camera.verticalAngle() / 2) * 1e3;
  }

  private void put(Affine toWorld, int at) {
    Vec3 f = toWorld.vector(new Vec3(0, 0, -1)).normalized();
    Vec3 r = f.cross(toWorld.vector(new Vec3(0, 1, 0))).normalized();
    Vec3[] all = {toWorld.translation(), r, r.cross(f), f};
    for (int i = 0; i < 4; i++) {
      places[at + i * 3] = (float) all[i].x();
      places[at + i * 3 + 1] = (float) all[i].y();
      places[at + i * 3 + 2] = (float) all[i].z();
    }
  }

  /** One thread's place for the camera and on the lens. */
  public static final class Place {
    private final float[] now = new float[PLACE];
    private float lensX, lensY;
  }

  /** Chooses a place evenly over a round opening of radius 1, or over one with straight blades. */
  private void lens(float u, float v, Place out) {
    if (blades == 0) {
      float r = (float) Math.sqrt(u);
      out.lensX = r * Trig.cosTurns(v);
      out.lensY = r * Trig.sinTurns(v);
      return;
    }
    int k = Math.min(blades - 1, (int) (v * blades));
    float side = v * blades - k;
    float r = (float) Math.sqrt(u);
    float from = bladeTurn + k * bladeStep, to = from + bladeStep;
    out.lensX = r * ((1 - side) * Trig.cosTurns(from) + side * Trig.cosTurns(to));
    out.lensY = r * ((1 - side) * Trig.sinTurns(from) + side * Trig.sinTurns(to));
  }

  private float[] at(float time, Place scratch) {
    if (steps == 1) {
      return places;
    }
    float s = time * (steps - 1);
    int k = Math.max(0, Math.min(steps - 2, (int) s));
    float f = s - k;
    float[] p = scratch.now;
    for (int i = 0; i < PLACE; i++) {
      float a = places[k * PLACE + i];
      p[i] = a + (places[(k + 1) * PLACE + i] - a) * f;
    }
    return p;
  }

  /** Moments of the exposure at which a moving view is looked through to find bounds. */
  static final int TIMES = 9;

  /** Returns true if the camera moves while the shutter is open. */
  boolean moves() {
    return steps > 1;
  }

  /** Returns the radius in pixels of the disc that the lens makes of a point at a depth. */
  double blur(double depth) {
    return aperture == 0 ? 0 : aperture * Math.abs(1 / focus - 1 / depth) / (2 * half) * height;
  }

  /** Returns true if all rays of a moment start at one point. */
  public boolean oneEye() {
    return perspective && aperture == 0;
  }

  /**
   * Stores the direction of unit length through a place of the picture of a view in perspective
   * without a lens, when the shutter opens.
   *
   * @return how far it goes along the view axis
   */
  public float direction(float x, float y, float[] out) {
    float[] p = places;
    float sx = (2 * x - width) / height * half;
    float sy = (1 - 2 * y / height) * half;
    float l = 1 / (float) Math.sqrt(1 + sx * sx + sy * sy);
    for (int k = 0; k < 3; k++) {
      out[k] = (p[9 + k] + p[3 + k] * sx + p[6 + k] * sy) * l;
    }
    return l;
  }

  /** Returns the height of the picture at a depth of a view in perspective, metres. */
  public double height(double depth) {
    return 2.0 * half * depth;
  }

  /**
   * Stores a placement as the camera sees it when the shutter opens.
   *
   * @param place rows of 3 by 4
   * @param out rows of 4: right, up, forward
   */
  public void toEye(float[] place, double[] out) {
    for (int r = 0; r < 3; r++) {
      int axis = 3 + 3 * r;
      for (int c = 0; c < 4; c++) {
        double sum = 0;
        for (int k = 0; k < 3; k++) {
          double at = c < 3 ? place[4 * k + c] : (double) place[4 * k + 3] - places[k];
          sum += places[axis + k] * at;
        }
        out[4 * r + c] = sum;
      }
    }
  }

  /** Returns how far a direction of unit length goes along the view axis. */
  public float along(float x, float y, float z, float time, Place scratch) {
    float[] p = at(time, scratch);
    return p[9] * x + p[10] * y + p[11] * z;
  }

  /** Returns true if rays start from all over a lens. */
  public boolean hasLens() {
    return aperture > 0;
  }

  /**
   * Aims a ray of unit length through a place of the picture, in pixels from the top left.
   *
   * @param u chooses the place on the lens, with v; both in [0, 1)
   */
  public void aim(float x, float y, float u, float v, float time, Place scratch, Ray ray) {
    float[] p = at(time, scratch);
    ray.time = time;
    float sx = (2 * x - width) / height * half;
    float sy = (1 - 2 * y / height) * half;
    if (!perspective) {
      ray.set(
          p[0] + p[3] * sx + p[6] * sy,
          p[1] + p[4] * sx + p[7] * sy,
          p[2] + p[5] * sx + p[8] * sy,
          p[9],
          p[10],
          p[11],
          Float.POSITIVE_INFINITY);
      return;
    }
    float dx = p[9] + p[3] * sx + p[6] * sy;
    float dy = p[10] + p[4] * sx + p[7] * sy;
    float dz = p[11] + p[5] * sx + p[8] * sy;
    float ox = p[0], oy = p[1], oz = p[2];
    if (aperture > 0) {
      lens(u, v, scratch);
      float lx = scratch.lensX * aperture, ly = scratch.lensY * aperture;
      float px = p[3] * lx + p[6] * ly, py = p[4] * lx + p[7] * ly, pz = p[5] * lx + p[8] * ly;
      dx = dx * focus - px;
      dy = dy * focus - py;
      dz = dz * focus - pz;
      ox += px;
      oy += py;
      oz += pz;
    }
    float l = 1 / (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    ray.set(ox, oy, oz, dx * l, dy * l, dz * l, Float.POSITIVE_INFINITY);
  }

  /** Stores a direction as the camera sees it: x right, y up, z towards the camera. */
  public void turned(float x, float y, float z, float time, Place scratch, float[] out) {
    float[] p = at(time, scratch);
    out[0] = p[3] * x + p[4] * y + p[5] * z;
    out[1] = p[6] * x + p[7] * y + p[8] * z;
    out[2] = -(p[9] * x + p[10] * y + p[11] * z);
  }

  /** Returns in world space what the camera sees right, up and towards itself. */
  public Vec3 world(float x, float y, float z) {
    float[] p = places;
    return new Vec3(
        p[3] * x + p[6] * y - p[9] * z,
        p[4] * x + p[7] * y - p[10] * z,
        p[5] * x + p[8] * y - p[11] * z);
  }

  /** Returns the width of a pixel at a distance, metres. */
  public float footprint(float distance) {
    return 2 * half / height * (perspective ? distance : 1);
  }

  /** Returns how fast a pixel's width grows with distance. */
  public float spread() {
    return perspective ? 2 * half / height : 0;
  }

  /** Returns the distance along the view axis of a world point, metres. */
  public float depth(float x, float y, float z, float time, Place scratch) {
    float[] p = at(time, scratch);
    return (x - p[0]) * p[9] + (y - p[1]) * p[10] + (z - p[2]) * p[11];
  }

  /**
   * Finds where a world point is seen through the middle of the lens, in pixels from the top left.
   *
   * @return false if it is behind the camera
   */
  public boolean project(float x, float y, float z, float time, Place scratch, float[] out) {
    float[] p = at(time, scratch);
    return place(x - p[0], y - p[1], z - p[2], perspective, p, out);
  }

  /** Likewise for a point infinitely far away; false for a view without perspective. */
  boolean projectDirection(float x, float y, float z, float time, Place scratch, float[] out) {
    return perspective && place(x, y, z, true, at(time, scratch), out);
  }

  private boolean place(float x, float y, float z, boolean shrinks, float[] p, float[] out) {
    float deep = x * p[9] + y * p[10] + z * p[11];
    if (!(deep > 0)) {
      return false;
    }
    float k = 1 / (shrinks ? deep * half : half);
    out[0] = 0.5f * ((x * p[3] + y * p[4] + z * p[5]) * k * height + width);
    out[1] = 0.5f * height * (1 - (x * p[6] + y * p[7] + z * p[8]) * k);
    return true;
  }
}
