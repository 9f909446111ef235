package posada.core.trace;

import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Vec3;
import posada.core.image.DisplayImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Workers;

/** One quick picture: what each pixel sees, then how close others are, then colours. */
final class PreviewFrame {
  /** Most pixels, with all rays, that one picture is made of. */
  static final int MOST_RAYS = 1 << 26;

  /** Up to this many triangles for each pixel they are projected; beyond that rays are faster. */
  private static final int MOST_TRIANGLES = 30;

  /** Surfaces that a ray may pass: cut-outs, panes, what the camera does not see. */
  private static final int MOST_PASSED = 16;

  /** Contact is felt up to this part of the picture's height. */
  private static final float REACH = 1 / 15f;

  /** Contact is felt once in a square of this many pixels a side. */
  private static final int CELL = 3;

  /** Directions that contact is looked for in, over a square of cells with this side. */
  private static final int PATTERN = 4;

  /** Of the light that comes through a pane. */
  private static final float PANE = 0.9f;

  /** Smallest cosine between neighbours of one surface in the drawn lines' sense. */
  private static final float CREASE = 0.6f;

  /** Cosine-weighted directions around +Z: rings of equal share, turned from cell to cell. */
  private static final float[] AROUND = new float[3 * PATTERN * PATTERN];

  static {
    int n = PATTERN * PATTERN;
    for (int k = 0; k < n; k++) {
      double r2 = ((k * 5 + 3) % n + 0.5) / n;
      double turn = 2 * Math.PI * (k * 7 % n + 0.5) / n;
      AROUND[3 * k] = (float) (Math.sqrt(r2) * StrictMath.cos(turn));
      AROUND[3 * k + 1] = (float) (Math.sqrt(r2) * StrictMath.sin(turn));
      AROUND[3 * k + 2] = (float) Math.sqrt(1 - r2);
    }
  }

  private static final float[] SKY_LOW = {0.52f, 0.56f, 0.6f}, SKY_HIGH = {0.24f, 0.29f, 0.36f};
  private static final float[] LINE = {0.02f, 0.025f, 0.03f};

  /** No surface. */
  private static final int NOTHING = -1;

  private final Stage stage;
  private final View view;
  private final Preview look;

  /** Unit direction towards the plain light. */
  private final Vec3 key;

  private final int width, height;

  /** Rays a pixel along each side. */
  private final int fine;

  private final Buffers buffers;
  private final float[] red, green, blue, depth, nx, ny, nz;

  /** Which surface: instance and primitive. */
  private final int[] surface;

  /** Share of directions in which something is close, for each cell. */
  private final float[] close;

  /** The mean of it over cells around on the same surface. */
  private final float[] around;

  private final int cells, cellRows;

  /**
   * @param view of the picture with a pixel for each ray
   */
  PreviewFrame(Stage stage, View view, Preview look, Vec3 key, Buffers buffers) {
    this.buffers = buffers;
    this.stage = stage;
    this.view = view;
    this.look = look;
    this.key = key;
    width = view.width;
    height = view.height;
    fine = (int) Math.round(Math.sqrt(look.rays()));
    red = buffers.planes[0];
    green = buffers.planes[1];
    blue = buffers.planes[2];
    depth = buffers.planes[3];
    nx = buffers.planes[4];
    ny = buffers.planes[5];
    nz = buffers.planes[6];
    surface = buffers.surface;
    cells = cells(width);
    cellRows = cells(height);
    close = buffers.close;
    around = buffers.around;
  }

  private static int cells(int pixels) {
    return (pixels + CELL - 1) / CELL;
  }

  /** The memory of a picture in work, which is used again for the next of the same size. */
  static final class Buffers {
    private final float[][] planes;
    private final int[] surface;
    private final float[] close, around;
    private final Projector projector;

    Buffers(View view) {
      planes = new float[7][view.width * view.height];
      surface = new int[view.width * view.height];
      close = new float[cells(view.width) * cells(view.height)];
      around = new float[close.length];
      projector = view.oneEye() ? new Projector(view) : null;
    }
  }

  /** Looks at the scene and returns the picture. */
  DisplayImage draw(Workers workers) {
    look(workers);
    boolean shaded = look.style() == Preview.Style.SHADED || look.style() == Preview.Style.CLAY;
    boolean felt = shaded && look.contact() > 0;
    if (felt) {
      workers.each(cellRows, this::feel);
      workers.each(cellRows, this::spread);
    }
    short[] out = new short[width / fine * (height / fine) * 3];
    workers.each(height / fine, y -> row(y, felt, out));
    return new DisplayImage(width / fine, height / fine, 3, out);
  }

  /** Returns the nearest and the farthest depth that is seen, metres; null if nothing is. */
  double[] depths(Workers workers) {
    look(workers);
    double least = Double.POSITIVE_INFINITY;
    double most = 0;
    for (int i = 0; i < depth.length; i++) {
      if (surface[i] != NOTHING) {
        least = Math.min(least, depth[i]);
        most = Math.max(most, depth[i]);
      }
    }
    return most > 0 ? new double[] {least, most} : null;
  }

  private void look(Workers workers) {
    boolean project = view.oneEye() && stage.triangles() <= (long) MOST_TRIANGLES * width * height;
    Projector seen = null;
    if (project) {
      seen = buffers.projector;
      seen.project(stage, view);
    }
    Projector projected = seen;
    ThreadLocal<Looker> mine = ThreadLocal.withInitial(() -> new Looker(projected));
    workers.each(height, y -> mine.get().row(y));
  }

  /** What one thread needs to look. */
  private final class Looker {
    private final Projector seen;
    private final InstanceBvh top = stage.top();
    private final Ray ray = new Ray();

    /** Direction of view. */
    private final float[] to = new float[3];

    private final View.Place place = new View.Place();
    private final SurfacePoint point = new SurfacePoint();

    /**
     * @param seen null to look along rays
     */
    Looker(Projector seen) {
      this.seen = seen;
    }

    void row(int y) {
      for (int x = 0; x < width; x++) {
        int i = y * width + x;
        if (seen == null) {
          trace(x, y, i);
          continue;
        }
        int number = seen.instance(i);
        Instance in = number < 0 ? null : stage.instances[number];
        int prim = in == null ? 0 : in.mesh.primitiveOf(seen.triangle(i));
        if (in != null && !simple(in, in.looks[prim])) {
          trace(x, y, i);
          continue;
        }
        float along = view.direction(x + 0.5f, y + 0.5f, to);
        if (in == null) {
          nothing(i, 1);
        } else {
          float far = seen.depth(i);
          int triangle = seen.triangle(i) - in.mesh.firstTriangle(prim);
          float width = view.footprint(far / along);
          point.plain(in, prim, triangle, seen.u(i), seen.v(i), seen.front(i), to, width);
          keep(i, far, number);
        }
      }
    }

    private void trace(int x, int y, int i) {
      ray.time = 0;
      view.aim(x + 0.5f, y + 0.5f, 0, 0, 0, place, ray);
      to[0] = ray.dx;
      to[1] = ray.dy;
      to[2] = ray.dz;
      top.intersect(ray);
      see(i);
    }

    /** Returns false if a surface may be looked through. */
    private static boolean simple(Instance in, Look l) {
      return in.cameraSees && l.opaque && !l.pane;
    }

    private void see(int i) {
      float through = 1;
      float gone = 0;
      for (int passed = 0; ray.hit() && passed < MOST_PASSED; passed++) {
        SurfacePoint p = point;
        p.fill(stage, ray, view.footprint(gone + ray.tMax));
        gone += ray.tMax;
        boolean pane = p.look.pane;
        if (p.instance.cameraSees && p.alpha >= 0.5f && !pane) {
          float far = view.depth(p.x, p.y, p.z, 0, place);
          int instance = ray.instance;
          int triangle = ray.triangle - p.instance.mesh.firstTriangle(p.prim);
          p.plain(p.instance, p.prim, triangle, p.v, p.w, p.front, to, view.footprint(gone));
          keep(i, far, instance);
          red[i] *= through;
          green[i] *= through;
          blue[i] *= through;
          return;
        }
        through *= pane && p.instance.cameraSees ? PANE : 1;
        p.leave(ray, ray.dx, ray.dy, ray.dz, Float.POSITIVE_INFINITY);
        top.intersect(ray);
      }
      nothing(i, through);
    }

    private void nothing(int i, float through) {
      surface[i] = NOTHING;
      depth[i] = Float.POSITIVE_INFINITY;
      nx[i] = ny[i] = nz[i] = 0;
      sky(to[1], i, through);
    }

    private void keep(int i, float far, int instance) {
      SurfacePoint p = point;
      depth[i] = far;
      surface[i] = instance << 4 ^ p.prim;
      if (p.instance.holdout) {
        nx[i] = ny[i] = nz[i] = 0;
        sky(to[1], i, 1);
        return;
      }
      nx[i] = p.nx;
      ny[i] = p.ny;
      nz[i] = p.nz;
      float toEye = -(to[0] * p.nx + to[1] * p.ny + to[2] * p.nz);
      float light = look.style() == Preview.Style.OUTLINED ? 0.9f : light(i, toEye);
      float[] base = p.values.base;
      float[] e = p.emission;
      red[i] = base[0] * light + Math.min(1, e[0]);
      green[i] = base[1] * light + Math.min(1, e[1]);
      blue[i] = base[2] * light + Math.min(1, e[2]);
    }

    /** A light from the side, one from the eye, and more from above than from below. */
    private float light(int i, float toEye) {
      float side = (float) (nx[i] * key.x() + ny[i] * key.y() + nz[i] * key.z());
      return 0.3f + 0.12f * ny[i] + 0.62f * Math.max(0, side) + 0.12f * Math.max(0, toEye);
    }
  }

  private void sky(float up, int i, float through) {
    float f = Math.max(0, Math.min(1, up * 1.5f + 0.1f));
    red[i] = through * (SKY_LOW[0] + (SKY_HIGH[0] - SKY_LOW[0]) * f);
    green[i] = through * (SKY_LOW[1] + (SKY_HIGH[1] - SKY_LOW[1]) * f);
    blue[i] = through * (SKY_LOW[2] + (SKY_HIGH[2] - SKY_LOW[2]) * f);
  }

  /** The pixel that a cell of contact is felt at. */
  private int pixel(int cx, int cy) {
    return Math.min(height - 1, CELL * cy + 1) * width + Math.min(width - 1, CELL * cx + 1);
  }

  /** Looks for what is close to the surfaces of a row of cells, one direction each. */
  private void feel(int cy) {
    Ray ray = new Ray();
    View.Place place = new View.Place();
    ShadingFrame frame = new ShadingFrame();
    for (int cx = 0; cx < cells; cx++) {
      int i = pixel(cx, cy);
      if (surface[i] == NOTHING || nx[i] == 0 && ny[i] == 0 && nz[i] == 0) {
        close[cy * cells + cx] = 0;
        continue;
      }
      int k = (cx % PATTERN + PATTERN * (cy % PATTERN)) * 3;
      frame.set(nx[i], ny[i], nz[i]);
      frame.toWorld(AROUND[k], AROUND[k + 1], AROUND[k + 2]);
      float reach = view.footprint(depth[i]) * height * REACH;
      float off = 0.01f * reach;
      view.aim(i % width + 0.5f, i / width + 0.5f, 0, 0, 0, place, ray);
      float t = depth[i] / view.along(ray.dx, ray.dy, ray.dz, 0, place);
      ray.set(
          ray.ox + ray.dx * t + nx[i] * off,
          ray.oy + ray.dy * t + ny[i] * off,
          ray.oz + ray.dz * t + nz[i] * off,
          frame.rx,
          frame.ry,
          frame.rz,
          reach);
      close[cy * cells + cx] = stage.top().occluded(ray) ? 1 : 0;
    }
  }

  /** Share of the directions around a pixel in which something is close. */
  private float closeness(int x, int y) {
    int i = y * width + x;
    if (surface[i] == NOTHING) {
      return 0;
    }
    int cx = x / CELL, cy = y / CELL;
    if (alike(i, pixel(cx, cy))) {
      return around[cy * cells + cx];
    }
    return mean(i, cx, cy);
  }

  /** The mean of the cells around one that are on the same surface as a pixel. */
  private float mean(int i, int cx0, int cy0) {
    float sum = 0;
    int count = 0;
    for (int cy = Math.max(0, cy0 - 2); cy < Math.min(cellRows, cy0 + PATTERN - 2); cy++) {
      for (int cx = Math.max(0, cx0 - 2); cx < Math.min(cells, cx0 + PATTERN - 2); cx++) {
        if (alike(i, pixel(cx, cy))) {
          sum += close[cy * cells + cx];
          count++;
        }
      }
    }
    return count == 0 ? 0 : sum / count;
  }

  private boolean alike(int i, int j) {
    return Math.abs(depth[j] - depth[i]) < 0.05f * depth[i]
        && nx[i] * nx[j] + ny[i] * ny[j] + nz[i] * nz[j] > 0.7f;
  }

  private void spread(int cy) {
    for (int cx = 0; cx < cells; cx++) {
      int i = pixel(cx, cy);
      around[cy * cells + cx] = surface[i] == NOTHING ? 0 : mean(i, cx, cy);
    }
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
    float r = red[i], g = green[i], b = blue[i];
    switch (look.style()) {
      case DEPTH -> r = g = b = nearness(depth[i]);
      case OUTLINED -> {
        if (line(x, y)) {
          r = LINE[0];
          g = LINE[1];
          b = LINE[2];
        }
      }
      default -> {
        float k = felt ? 1 - (float) look.contact() * closeness(x, y) : 1;
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
    if (surface[i] == NOTHING || surface[j] == NOTHING) {
      return surface[i] != surface[j];
    }
    if (nx[i] * nx[j] + ny[i] * ny[j] + nz[i] * nz[j] < CREASE) {
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
