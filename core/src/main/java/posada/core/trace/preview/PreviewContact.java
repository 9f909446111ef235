package posada.core.trace.preview;

import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.parallel.Workers;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/** How close others are to what a quick picture sees: felt for cells of some pixels. */
final class PreviewContact {
  /** Contact is felt up to this part of the picture's height. */
  private static final float REACH = 1 / 15f;

  /** Contact is felt once in a square of this many pixels a side. */
  private static final int CELL = 3;

  /** Directions that contact is looked for in, over a square of cells with this side. */
  private static final int PATTERN = 4;

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

  private final PreviewSight seen;

  /** Share of directions in which something is close, for each cell. */
  private final float[] close;

  /** The mean of it over cells around on the same surface. */
  private final float[] around;

  private final int cells, cellRows;

  PreviewContact(PreviewSight seen) {
    this.seen = seen;
    cells = cells(seen.width);
    cellRows = cells(seen.height);
    close = new float[cells * cellRows];
    around = new float[close.length];
  }

  private static int cells(int pixels) {
    return (pixels + CELL - 1) / CELL;
  }

  /** Feels around everything that is seen. */
  void feel(Stage stage, View view, Workers workers) {
    workers.each(cellRows, y -> feel(stage, view, y));
    workers.each(cellRows, this::spread);
  }

  /** The pixel that a cell of contact is felt at. */
  private int pixel(int cx, int cy) {
    return Math.min(seen.height - 1, CELL * cy + 1) * seen.width
        + Math.min(seen.width - 1, CELL * cx + 1);
  }

  /** Looks for what is close to the surfaces of a row of cells, one direction each. */
  private void feel(Stage stage, View view, int cy) {
    Ray ray = new Ray();
    View.Place place = new View.Place();
    ShadingFrame frame = new ShadingFrame();
    for (int cx = 0; cx < cells; cx++) {
      int i = pixel(cx, cy);
      if (seen.surface[i] == PreviewSight.NOTHING
          || seen.nx[i] == 0 && seen.ny[i] == 0 && seen.nz[i] == 0) {
        close[cy * cells + cx] = 0;
        continue;
      }
      int k = (cx % PATTERN + PATTERN * (cy % PATTERN)) * 3;
      frame.set(seen.nx[i], seen.ny[i], seen.nz[i]);
      frame.toWorld(AROUND[k], AROUND[k + 1], AROUND[k + 2]);
      float reach = view.footprint(seen.depth[i]) * seen.height * REACH;
      float off = 0.01f * reach;
      view.aim(i % seen.width + 0.5f, i / seen.width + 0.5f, 0, 0, 0, place, ray);
      float t = seen.depth[i] / view.along(ray.dx, ray.dy, ray.dz, 0, place);
      ray.set(
          ray.ox + ray.dx * t + seen.nx[i] * off,
          ray.oy + ray.dy * t + seen.ny[i] * off,
          ray.oz + ray.dz * t + seen.nz[i] * off,
          frame.rx,
          frame.ry,
          frame.rz,
          reach);
      close[cy * cells + cx] = stage.top().occluded(ray) ? 1 : 0;
    }
  }

  /** Returns the share of the directions around a pixel in which something is close. */
  float at(int x, int y) {
    int i = y * seen.width + x;
    if (seen.surface[i] == PreviewSight.NOTHING) {
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
    return Math.abs(seen.depth[j] - seen.depth[i]) < 0.05f * seen.depth[i]
        && seen.cosine(i, j) > 0.7f;
  }

  private void spread(int cy) {
    for (int cx = 0; cx < cells; cx++) {
      int i = pixel(cx, cy);
      around[cy * cells + cx] = seen.surface[i] == PreviewSight.NOTHING ? 0 : mean(i, cx, cy);
    }
  }
}
