package posada.core.denoise;

import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import posada.core.parallel.Workers;

/**
 * Means over a window around each pixel, in which pixels count by how alike they are: their patches
 * in pictures with noise, of which no more difference is expected than their variance, and the
 * pixels themselves in features. Source: F. Rousselle, M. Manzi and M. Zwicker, "Robust Denoising
 * using Feature and Color Information", 2013, sections 3 and 4.
 *
 * <p>Work goes along rows of tiles; each row meets all places of one line of the window at once.
 */
final class NonLocalMeans {
  /** Pixels along a row of a tile with the patches of those at its ends: whole vectors. */
  private static final int ROW = 8 * Rows.STEP;

  private static final int TILE_HEIGHT = 32;

  /** Weight of the pixel itself where nothing is like it. */
  private static final float ALONE = 1e-3f;

  /** Where a plane's values end that may stand for something. */
  static final float ELSEWHERE = 1e8f;

  /** Standard deviation of the weights over the window, in radii. */
  private static final double TAPER = 0.8;

  private final int width, height, patch, pad, stride, tileWidth;
  private final Workers workers;
  private final Rows rows = Rows.best();

  /**
   * @param radius largest of all windows, pixels to each side
   * @param patch pixels to each side of what is compared
   */
  NonLocalMeans(int width, int height, int radius, int patch, Workers workers) {
    this.width = width;
    this.height = height;
    this.patch = patch;
    tileWidth = ROW - 2 * patch;
    this.workers = workers;
    pad = radius + patch;
    stride = width + 2 * pad;
  }

  /** Returns planes as groups and features need them: with their border repeated. */
  float[][] padded(float[]... planes) {
    float[][] out = new float[planes.length][];
    workers.each(planes.length, c -> out[c] = Padded.of(planes[c], width, height, pad));
    return out;
  }

  /** Returns light with its border repeated. */
  Noisy padded(Noisy light) {
    return new Noisy(padded(light.planes()), padded(light.variance())[0]);
  }

  /** Makes what lies outside of the picture unlike everything in it. */
  void fence(float[] padded) {
    for (int y = 0; y < height + 2 * pad; y++) {
      int from = y * stride;
      boolean inside = y >= pad && y < pad + height;
      Arrays.fill(padded, from, from + (inside ? pad : stride), ELSEWHERE);
      Arrays.fill(padded, from + pad + width, from + stride, ELSEWHERE);
    }
  }

  /**
   * What is cleaned with one set of weights. All planes are padded.
   *
   * @param guide three planes that patches are compared in, and their variance
   * @param tolerance how many variances of difference count as alike
   * @param light that is cleaned, with its variance
   */
  record Group(float[][] guide, float tolerance, Noisy light) {}

  /**
   * A picture that pixels are taken from.
   *
   * @param groups as many as all pictures have, with as many planes
   * @param features that tell surfaces apart; null for none
   * @param radius of the window, which is round
   * @param step between places of the window
   */
  record Picture(List<Group> groups, Rows.Features features, int radius, int step) {}

  /**
   * Cleans the first picture with all of them.
   *
   * @param strictness how much features count, for one or more results
   * @return of each group each result
   */
  List<List<Noisy>> clean(List<Picture> pictures, float... strictness) {
    int n = width * height;
    List<List<Noisy>> out =
        pictures.get(0).groups.stream()
            .map(
                g ->
                    IntStream.range(0, strictness.length)
                        .mapToObj(
                            s -> new Noisy(new float[g.light.planes().length][n], new float[n]))
                        .toList())
            .toList();
    int columns = (width + tileWidth - 1) / tileWidth;
    int lines = (height + TILE_HEIGHT - 1) / TILE_HEIGHT;
    ThreadLocal<Tile> tiles = ThreadLocal.withInitial(() -> new Tile(pictures, strictness, out));
    workers.each(
        columns * lines,
        i -> tiles.get().clean(i % columns * tileWidth, i / columns * TILE_HEIGHT));
    return out;
  }

  /** Scratch of one worker thread. */
  private final class Tile {
    private final List<Picture> pictures;
    private final Picture self;
    private final float[] strictness;
    private final List<List<Noisy>> out;

    /** For each place of one line of the window; of groups the latest rows of a patch. */
    private final Rows.Places places;

    private final float[] apart, surface;
    private final float[][][] lately;
    private final float[][] patchRows = new float[2 * patch + 1][];

    /** Of each group and result the sums of {@link Rows#gather}. */
    private final float[][][][] sums;

    /** Groups that have noise here. */
    private final boolean[] noisy;

    private int x0, y0, w, h;

    Tile(List<Picture> pictures, float[] strictness, List<List<Noisy>> out) {
      this.pictures = pictures;
      this.strictness = strictness;
      this.out = out;
      self = pictures.get(0);
      noisy = new boolean[out.size()];
      int along = pictures.stream().mapToInt(p -> 2 * (p.radius / p.step) + 1).max().orElse(1);
      places = new Rows.Places(along, ROW);
      apart = places.buffer();
      surface = places.buffer();
      lately = new float[out.size()][2 * patch + 1][];
      for (float[][] rows : lately) {
        Arrays.setAll(rows, r -> places.buffer());
      }
      sums = new float[out.size()][strictness.length][][];
      for (int g = 0; g < sums.length; g++) {
        for (int s = 0; s < strictness.length; s++) {
          sums[g][s] =
              new float[Rows.SUMS + self.groups.get(g).light.planes().length][ROW * TILE_HEIGHT];
        }
      }
    }

    void clean(int x, int y) {
      x0 = x;
      y0 = y;
      w = Math.min(tileWidth, width - x);
      h = Math.min(TILE_HEIGHT, height - y);
      boolean any = false;
      for (int g = 0; g < sums.length; g++) {
        noisy[g] = noisy(self.groups.get(g).guide[3]);
        any |= noisy[g];
        for (float[][] result : sums[g]) {
          for (float[] s : result) {
            Arrays.fill(s, 0);
          }
        }
      }
      for (int k = 0; any && k < pictures.size(); k++) {
        Picture p = pictures.get(k);
        int reach = p.radius / p.step * p.step;
        for (int dy = -reach; dy <= reach; dy += p.step) {
          line(p, dy, k > 0);
        }
      }
      for (int g = 0; g < sums.length; g++) {
        for (int s = 0; s < strictness.length; s++) {
          store(self.groups.get(g), sums[g][s], out.get(g).get(s));
        }
      }
    }

    private boolean noisy(float[] variance) {
      for (int r = 0; r < h; r++) {
        int i = row(r, pad);
        for (int j = 0; j < w; j++) {
          if (variance[i + j] > 0) {
            return true;
          }
        }
      }
      return false;
    }

    /** Adds what one line of the window has to give. */
    private void line(Picture from, int dy, boolean other) {
      places.count = 0;
      int reach = from.radius / from.step * from.step;
      double round = Math.pow(from.radius + from.step / 2.0, 2);
      for (int dx = -reach; dx <= reach; dx += from.step) {
        int far = dx * dx + dy * dy;
        if (far <= round && (far > 0 || other)) {
          float weight = (float) Math.exp(-far / (2 * Math.pow(TAPER * from.radius, 2)));
          places.most[places.count] = weight;
          places.right[places.count++] = dx;
        }
      }
      int shift = dy * stride;
      int taps = 2 * patch + 1;
      for (int r = -2 * patch; r < h; r++) {
        int i = row(r + 2 * patch, pad - patch);
        for (int g = 0; g < sums.length; g++) {
          if (noisy[g]) {
            Group own = self.groups.get(g), q = from.groups.get(g);
            int n = w + 2 * patch;
            rows.apart(apart, n, places, own.guide, i, q.guide, i + shift, own.tolerance);
            rows.along(lately[g][(r + taps) % taps], places.numbers(), apart, taps);
          }
        }
        if (r >= 0) {
          gather(from, r, dy);
        }
      }
    }

    private void gather(Picture from, int r, int dy) {
      int i = row(r, pad), k = i + dy * stride;
      if (self.features != null) {
        rows.surface(surface, w, places, self.features, i, from.features, k, dy);
      }
      int taps = 2 * patch + 1;
      for (int g = 0; g < sums.length; g++) {
        if (noisy[g]) {
          for (int t = 0; t < taps; t++) {
            patchRows[t] = lately[g][(r + 1 + t) % taps];
          }
          int n = places.numbers();
          rows.down(apart, n, patchRows, 1f / (taps * taps));
          Group q = from.groups.get(g);
          for (int s = 0; s < strictness.length; s++) {
            rows.gather(sums[g][s], r * ROW, w, places, apart, surface, strictness[s], q.light, k);
          }
        }
      }
    }

    /** Returns where a row of the tile is in padded planes. */
    private int row(int r, int margin) {
      return (y0 + r + margin) * stride + x0 + margin;
    }

    private void store(Group own, float[][] s, Noisy to) {
      for (int r = 0; r < h; r++) {
        for (int j = 0; j < w; j++) {
          int at = r * ROW + j;
          int i = row(r, pad) + j;
          int k = (y0 + r) * width + x0 + j;
          float self = Math.max(s[Rows.MOST][at], ALONE);
          float all = s[Rows.WEIGHTS][at] + self;
          for (int c = 0; c < to.planes().length; c++) {
            to.planes()[c][k] = (s[Rows.SUMS + c][at] + self * own.light.planes()[c][i]) / all;
          }
          to.variance()[k] =
              (s[Rows.VARIANCE][at] + self * self * own.light.variance()[i]) / (all * all);
        }
      }
    }
  }
}
