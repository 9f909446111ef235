package posada.core.trace.preview;

import posada.core.geometry.Vec3;
import posada.core.image.DisplayImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Workers;
import posada.core.settings.Preview;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/** One quick picture: what each pixel sees, then how close others are, then colours. */
final class PreviewFrame {
  /** Most pixels, with all rays, that one picture is made of. */
  static final int MOST_RAYS = 1 << 26;

  /** Up to this many triangles for each pixel they are projected; beyond that rays are faster. */
  private static final int MOST_TRIANGLES = 30;

  /** Smallest cosine between neighbours of one surface in the drawn lines' sense. */
  private static final float CREASE = 0.6f;

  private static final float[] LINE = {0.02f, 0.025f, 0.03f};

  private final Stage stage;
  private final View view;
  private final Preview look;

  /** Unit direction towards the plain light. */
  private final Vec3 key;

  private final int width, height;

  /** Rays a pixel along each side. */
  private final int fine;

  private final PreviewSight seen;

  /**
   * @param view of the picture with a pixel for each ray
   * @param seen memory for what is seen, of the view's size
   */
  PreviewFrame(Stage stage, View view, Preview look, Vec3 key, PreviewSight seen) {
    this.stage = stage;
    this.view = view;
    this.look = look;
    this.key = key;
    this.seen = seen;
    width = view.width;
    height = view.height;
    fine = (int) Math.round(Math.sqrt(look.rays()));
  }

  /** Looks at the scene and returns the picture. */
  DisplayImage draw(Workers workers) {
    look(workers);
    boolean shaded = look.style() == Preview.Style.SHADED || look.style() == Preview.Style.CLAY;
    boolean felt = shaded && look.contact() > 0;
    if (felt) {
      seen.contact.feel(stage, view, workers);
    }
    short[] out = new short[width / fine * (height / fine) * 3];
    workers.each(height / fine, y -> row(y, felt, out));
    return new DisplayImage(width / fine, height / fine, 3, out);
  }

  /** Returns the nearest and the farthest depth that is seen, metres; null if nothing is. */
  double[] depths(Workers workers) {
    look(workers);
    return seen.depths();
  }

  private void look(Workers workers) {
    boolean project = view.oneEye() && stage.triangles() <= (long) MOST_TRIANGLES * width * height;
    Projector projected = project ? seen.projector : null;
    if (project) {
      projected.project(stage, view);
    }
    ThreadLocal<PreviewLooker> mine =
        ThreadLocal.withInitial(() -> new PreviewLooker(stage, view, look, key, projected, seen));
    workers.each(height, y -> mine.get().row(y));
  }

  private void row(int y, boolean felt, short[] out) {
    boolean grey = look.style() == Preview.Style.DEPTH;
    float share = 1f / (fine * fine);
    float[] c = new float[3];
    for (int x = 0; x < width / fine; x++) {
      c[0] = c[1] = c[2] = 0;
      for (int j = 0; j < fine; j++) {
        for (int k = 0; k < fine; k++) {
          add(x * fine + k, y * fine + j, felt, c);
        }
      }
      int at = (y * (width / fine) + x) * 3;
      for (int k = 0; k < 3; k++) {
        float v = c[k] * share;
        out[at + k] = grey ? (short) (int) (65535 * v + 0.5f) : ViewTransform.encode(v);
      }
    }
  }

  private void add(int x, int y, boolean felt, float[] c) {
    int i = y * width + x;
    float r = seen.red[i], g = seen.green[i], b = seen.blue[i];
    switch (look.style()) {
      case DEPTH -> r = g = b = nearness(seen.depth[i]);
      case OUTLINED -> {
        if (line(x, y)) {
          r = LINE[0];
          g = LINE[1];
          b = LINE[2];
        }
      }
      default -> {
        float k = felt ? 1 - (float) look.contact() * seen.contact.at(x, y) : 1;
        r *= k;
        g *= k;
        b *= k;
      }
    }
    c[0] += r;
    c[1] += g;
    c[2] += b;
  }

  /** Equal ratios of depth are equal steps; the farthest is still lighter than nothing. */
  private float nearness(float d) {
    if (d == Float.POSITIVE_INFINITY) {
      return 0;
    }
    double v = Math.log(d / look.near()) / Math.log(look.far() / look.near());
    return (float) (1 - 0.92 * Math.max(0, Math.min(1, v)));
  }

  /** Returns true where what is right of a pixel or below it is something else. */
  private boolean line(int x, int y) {
    int i = y * width + x;
    boolean right = x + 1 < width && edge(i, i + 1, x > 0 ? i - 1 : i);
    boolean below = y + 1 < height && edge(i, i + width, y > 0 ? i - width : i);
    return right || below;
  }

  /**
   * Tells two neighbours apart.
   *
   * @param before the pixel on the other side of {@code i}
   */
  private boolean edge(int i, int j, int before) {
    int[] surface = seen.surface;
    float[] depth = seen.depth;
    if (surface[i] == PreviewSight.NOTHING || surface[j] == PreviewSight.NOTHING) {
      return surface[i] != surface[j];
    }
    if (seen.cosine(i, j) < CREASE) {
      return true;
    }
    // A flat surface goes on as it came: inverse depth is linear over the picture.
    double a = 1.0 / depth[i], b = 1.0 / depth[j], p = 1.0 / depth[before];
    double bent = Math.abs(b - a - (a - p));
    double step = Math.abs(b - a);
    return Math.min(bent, step) > 0.03 * Math.min(a, b)
        || surface[i] != surface[j] && step > 0.01 * Math.min(a, b);
  }
}
