package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.List;
import posada.core.scene.NameMask;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.RenderSettings;

/**
 * The regions of a layer that follows objects: their projected bounds over the whole exposure, out
 * of focus as far as the lens blurs them. Scratch of one thread.
 */
public final class RegionPlan {
  /** Nearer than this to the camera's plane, edges are cut off. */
  private static final float NEAR = 1e-3f;

  /** Parts of a step that shares of a picture are off by when they are turned into pixels. */
  private static final double SAME = 1e-6;

  private final Layer.Region region;
  private final int width;
  private final int height;
  private final double margin;

  /** Bounds in pixels: least and most x, least and most y. */
  private double x0, x1, y0, y1;

  private final float[] out = new float[2];
  private final View.Place scratch = new View.Place();

  public RegionPlan(Layer.Region region, int width, int height, RenderSettings settings) {
    this.region = region;
    this.width = width;
    this.height = height;
    margin = settings.filter().radius() + region.pad();
  }

  /** Returns likewise where a region is that was drawn on the picture, at a moment. */
  public int[] drawn(double seconds) {
    Layer.Key k = region.drawnAt(seconds);
    int left = (int) Math.floor(k.x() * width / region.snap() + SAME) * region.snap();
    int top = (int) Math.floor(k.y() * height / region.snap() + SAME) * region.snap();
    return new int[] {
      Math.min(left, width - 1),
      Math.min(top, height - 1),
      Math.max(left + 1, snapped((k.x() + k.width()) * width, width)),
      Math.max(top + 1, snapped((k.y() + k.height()) * height, height))
    };
  }

  /**
   * Returns the bounds in a frame as left, top, right and bottom, snapped; null if none is seen.
   */
  public int[] bounds(Stage stage, View view, int[] inherited) {
    x0 = y0 = Double.POSITIVE_INFINITY;
    x1 = y1 = Double.NEGATIVE_INFINITY;
    for (Instance in : stage.instances) {
      if (inherited[in.node] < 0) {
        continue;
      }
      int times = Math.max(in.worlds().size(), view.moves() ? View.TIMES : 1);
      times = Math.max(times, in.closing == null ? 1 : 2);
      for (int k = 0; k < times; k++) {
        float time = times == 1 ? 0.5f : k / (times - 1f);
        float[] m = in.place(time, new float[12]);
        for (int p = 0; p < in.primitives.size(); p++) {
          add(view, m, in.primitives.get(p), time);
          if (in.closing != null) {
            add(view, m, in.closing.get(p), time);
          }
        }
      }
    }
    int left = (int) Math.floor(Math.max(0, x0 - margin) / region.snap()) * region.snap();
    int top = (int) Math.floor(Math.max(0, y0 - margin) / region.snap()) * region.snap();
    int right = snapped(x1 + margin, width);
    int bottom = snapped(y1 + margin, height);
    return left < right && top < bottom ? new int[] {left, top, right, bottom} : null;
  }

  private int snapped(double v, int most) {
    double up = Math.ceil(Math.max(0, Math.min(v, most)) / region.snap() - SAME) * region.snap();
    return (int) Math.min(most, up);
  }

  private void add(View view, float[] m, Primitive p, float time) {
    float[] v = new float[9];
    int[] t = p.indices();
    for (int i = 0; i < t.length; i += 3) {
      for (int c = 0; c < 3; c++) {
        int o = t[i + c] * 3;
        float x = p.positions()[o], y = p.positions()[o + 1], z = p.positions()[o + 2];
        for (int r = 0; r < 3; r++) {
          v[c * 3 + r] = m[r * 4] * x + m[r * 4 + 1] * y + m[r * 4 + 2] * z + m[r * 4 + 3];
        }
      }
      for (int c = 0; c < 3; c++) {
        edge(view, v, c * 3, (c + 1) % 3 * 3, time);
      }
    }
  }

  /** Adds what an edge covers in front of the camera. */
  private void edge(View view, float[] v, int a, int b, float time) {
    float da = view.depth(v[a], v[a + 1], v[a + 2], time, scratch);
    float db = view.depth(v[b], v[b + 1], v[b + 2], time, scratch);
    if (da >= NEAR) {
      point(view, v[a], v[a + 1], v[a + 2], da, time);
    }
    if (da < NEAR != db < NEAR) {
      float f = (NEAR - da) / (db - da);
      point(
          view,
          v[a] + (v[b] - v[a]) * f,
          v[a + 1] + (v[b + 1] - v[a + 1]) * f,
          v[a + 2] + (v[b + 2] - v[a + 2]) * f,
          NEAR,
          time);
    }
  }

  private void point(View view, float x, float y, float z, float depth, float time) {
    if (!view.project(x, y, z, time, scratch, out)) {
      return;
    }
    double blur = view.blur(depth);
    x0 = Math.min(x0, out[0] - blur);
    x1 = Math.max(x1, out[0] + blur);
    y0 = Math.min(y0, out[1] - blur);
    y1 = Math.max(y1, out[1] + blur);
  }

  /**
   * Turns the bounds of several frames into regions.
   *
   * @param all for each frame; null where nothing is seen
   */
  public List<Crop> crops(List<int[]> all) {
    int w = region.snap(), h = region.snap();
    for (int[] b : all) {
      if (b != null) {
        w = Math.max(w, b[2] - b[0]);
        h = Math.max(h, b[3] - b[1]);
      }
    }
    w = Math.min(w, width);
    h = Math.min(h, height);
    List<Crop> crops = new ArrayList<>();
    for (int[] b : all) {
      if (b == null) {
        // Something must be written: the smallest region, or an empty one of the constant size.
        int least = region.snap();
        crops.add(
            region.constantSize()
                ? new Crop(0, 0, w, h, false)
                : new Crop(0, 0, Math.min(least, width), Math.min(least, height), false));
      } else if (region.constantSize()) {
        crops.add(new Crop(at(b[0], b[2], w, width), at(b[1], b[3], h, height), w, h, false));
      } else {
        crops.add(new Crop(b[0], b[1], b[2] - b[0], b[3] - b[1], false));
      }
    }
    return crops;
  }

  /**
   * Where a span of a size begins that has bounds in its middle, snapped and inside the picture.
   */
  private int at(int from, int to, int size, int most) {
    int middle = Math.floorDiv((from + to - size) / 2, region.snap()) * region.snap();
    int begin = Math.max(0, Math.min(middle, most - size));
    return begin + size < to ? Math.min(to - size, most - size) : Math.min(begin, from);
  }

  /** Returns for each node whether it is followed: 0 or more if it is. */
  public static int[] followed(Scene scene, Layer.Region region) {
    return NameMask.inherited(scene.nodes(), List.of(region.follow()));
  }
}
