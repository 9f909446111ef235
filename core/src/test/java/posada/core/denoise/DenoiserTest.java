package posada.core.denoise;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.Assumptions;
import org.junit.jupiter.api.Test;
import posada.core.geometry.VectorPath;
import posada.core.parallel.Workers;

/** On pictures whose truth is known: two surfaces, a shadow across them, a checkered texture. */
class DenoiserTest {
  private static final int W = 90;
  private static final int H = 70;
  private static final int SAMPLES = 16;
  private static final float SPREAD = 0.8f;

  /** A picture that was made up, moved by some pixels, with its truth. */
  private record Made(NoisyPicture noisy, float[][] truth) {}

  private static float light(double x) {
    // A shadow with a soft edge, over a slow change.
    return (float) ((1 + 0.3 * Math.sin(x / 15)) * (x % 40 < 18 ? 0.3 : 1));
  }

  private static Made made(int seed, int moved, float spread) {
    Random random = new Random(seed);
    int n = W * H;
    float[][] diffuse = new float[9][n], glossy = new float[3][n], seen = new float[3][n];
    float[][] tint = new float[3][n],
        mirrored = new float[3][n],
        albedo = new float[3][n],
        normal = new float[3][n];
    float[][] near = new float[1][n], truth = new float[3][n], groups = new float[6][n];
    float[] vd = new float[n], vg = new float[n];
    for (int i = 0; i < n; i++) {
      int x = i % W + moved, y = i / W;
      boolean left = x < 45;
      float t = (x + y) % 2 == 0 ? 0.2f : 0.8f;
      float q = (x + 2 * y) % 3 == 0 ? 0.3f : 0.9f;
      float e = light(x), m = left ? 0.1f : 0.02f;
      double sumD = 0, squareD = 0, sumG = 0, squareG = 0;
      for (int s = 0; s < SAMPLES; s++) {
        double d = e * (1 + spread * random.nextGaussian());
        double g = m * (1 + spread * random.nextGaussian());
        sumD += d;
        squareD += d * d;
        sumG += g;
        squareG += g * g;
      }
      float d = (float) (sumD / SAMPLES), g = (float) (sumG / SAMPLES);
      vd[i] = (float) (3 * Math.max(0, squareD / SAMPLES - d * d) / (SAMPLES - 1));
      vg[i] = (float) (3 * Math.max(0, squareG / SAMPLES - g * g) / (SAMPLES - 1));
      for (int c = 0; c < 3; c++) {
        diffuse[c][i] = d * t;
        // Two parts of the diffuse light: a quarter and the rest.
        diffuse[3 + c][i] = 0.25f * d * t;
        diffuse[6 + c][i] = 0.75f * d * t;
        glossy[c][i] = g * q;
        groups[c][i] = 0.6f * (d * t + g * q);
        groups[3 + c][i] = 0.4f * (d * t + g * q);
        tint[c][i] = t;
        mirrored[c][i] = q;
        albedo[c][i] = t;
        truth[c][i] = e * t + m * q;
      }
      normal[left ? 0 : 2][i] = 1;
      near[0][i] = left ? 0.5f : 0.25f;
    }
    float[] none = new float[n];
    NoisyPicture p =
        new NoisyPicture(
            W,
            H,
            new Noisy(diffuse, vd),
            new Noisy(glossy, vg),
            new Noisy(seen, none),
            groups,
            tint,
            mirrored,
            new Noisy(albedo, none),
            new Noisy(normal, none),
            new Noisy(near, none));
    return new Made(p, truth);
  }

  private static CleanPicture clean(NoisyPicture p, Workers workers) {
    return Denoiser.clean(Denoiser.prepare(p, workers), List.of(), 1, workers);
  }

  private static float[][] plain(NoisyPicture p) {
    return new CleanPicture(
            p.diffuse().planes(), p.glossy().planes(), p.seen().planes(), p.groups())
        .beauty();
  }

  private static double error(float[][] a, float[][] truth) {
    double sum = 0;
    for (int c = 0; c < 3; c++) {
      for (int i = 0; i < W * H; i++) {
        double d = (a[c][i] - truth[c][i]) / (truth[c][i] + 0.05);
        sum += d * d;
      }
    }
    return sum / (3 * W * H);
  }

  @Test
  void noiseGoesAndTextureAndShadowsStay() {
    Made m = made(1, 0, SPREAD);
    float[][] clean = clean(m.noisy, Workers.CALLER).beauty();
    double plain = error(plain(m.noisy), m.truth);
    double left = error(clean, m.truth);
    assertTrue(left < plain / 12, plain + " became " + left);
    // The checkered texture is as strong as before: it was divided out.
    double kept = 0, whole = 0;
    for (int i = 1; i < W * H - 1; i++) {
      kept += Math.pow(clean[0][i + 1] - clean[0][i - 1], 2);
      whole += Math.pow(m.truth[0][i + 1] - m.truth[0][i - 1], 2);
    }
    assertEquals(1, kept / whole, 0.1);
  }

  /** A few bright paths for each square of pixels must not become spots on an even wall. */
  @Test
  void rareBrightPathsLeaveNoBlotches() {
    Random random = new Random(9);
    int n = W * H;
    float[][] diffuse = new float[3][n], none = new float[3][n], grey = new float[3][n];
    float[][] normal = new float[3][n];
    float[] variance = new float[n], still = new float[n], near = filled(n, 0.5f);
    for (int i = 0; i < n; i++) {
      int hits = 0;
      for (int s = 0; s < SAMPLES; s++) {
        hits += random.nextInt(100) == 0 ? 1 : 0;
      }
      double share = hits / (double) SAMPLES;
      variance[i] = (float) (3 * share * (1 - share) * 100 * 100 / (SAMPLES - 1));
      normal[2][i] = 1;
      for (int c = 0; c < 3; c++) {
        grey[c][i] = 0.5f;
        diffuse[c][i] = (float) (0.5 * (1 + 100 * share));
      }
    }
    Noisy dark = new Noisy(none, still);
    NoisyPicture wall =
        new NoisyPicture(
            W,
            H,
            new Noisy(diffuse, variance),
            dark,
            dark,
            new float[0][],
            grey,
            grey,
            new Noisy(grey, still),
            new Noisy(normal, still),
            new Noisy(new float[][] {near}, still));
    float[] clean = clean(wall, Workers.CALLER).beauty()[1];
    double squares = 0, mean = 0;
    for (int i = 0; i < n; i++) {
      mean += clean[i] / n;
    }
    float[] smooth = Box.mean(clean, W, H, 3, Workers.CALLER);
    for (float v : smooth) {
      squares += Math.pow(v / mean - 1, 2) / n;
    }
    assertEquals(1, mean, 0.05);
    assertTrue(Math.sqrt(squares) < 0.04, "blotches of " + Math.sqrt(squares));
  }

  /** Black walls have noisy neighbours; squares there are not to be noisier than numbers can be. */
  @Test
  void blackBesideBlindingStaysBlack() {
    NoisyPicture p = made(11, 0, SPREAD).noisy;
    for (int i = 0; i < W * H; i++) {
      float k = i % W < 45 ? 0 : 1e8f;
      for (float[] plane : p.diffuse().planes()) {
        plane[i] *= k;
      }
      p.diffuse().variance()[i] *= k * k;
    }
    for (float[] plane : clean(p, Workers.CALLER).diffuse()) {
      for (int i = 0; i < W * H; i++) {
        assertTrue(Float.isFinite(plane[i]), "pixel " + i);
        assertTrue(i % W > 36 || plane[i] == 0, "pixel " + i + " is " + plane[i]);
      }
    }
  }

  @Test
  void whatHasNoNoiseStays() {
    Made m = made(1, 0, 0);
    float[][] clean = clean(m.noisy, Workers.CALLER).beauty();
    for (int c = 0; c < 3; c++) {
      assertArrayEquals(m.truth[c], clean[c], 1e-3f);
    }
  }

  @Test
  void partsAndGroupsAddUp() {
    CleanPicture c = clean(made(2, 0, SPREAD).noisy, Workers.CALLER);
    float[][] beauty = c.beauty();
    for (int i = 0; i < W * H; i++) {
      float d = c.diffuse()[0][i];
      assertEquals(d, c.diffuse()[3][i] + c.diffuse()[6][i], 1e-5 * (1 + d));
      assertEquals(0.25 * d, c.diffuse()[3][i], 1e-5 * (1 + d));
      assertEquals(beauty[0][i], c.groups()[0][i] + c.groups()[3][i], 1e-5 * (1 + beauty[0][i]));
    }
  }

  @Test
  void amountMixes() {
    Made m = made(3, 0, SPREAD);
    PreparedPicture p = Denoiser.prepare(m.noisy, Workers.CALLER);
    float[][] none = Denoiser.clean(p, List.of(), 0, Workers.CALLER).beauty();
    float[][] half = Denoiser.clean(p, List.of(), 0.5, Workers.CALLER).beauty();
    float[][] all = Denoiser.clean(p, List.of(), 1, Workers.CALLER).beauty();
    float[][] plain = plain(m.noisy);
    for (int i = 0; i < W * H; i++) {
      assertEquals(plain[1][i], none[1][i], 1e-6);
      assertEquals((plain[1][i] + all[1][i]) / 2, half[1][i], 1e-5);
    }
  }

  /** Same bits with two threads as with one. */
  @Test
  void threadsChangeNothing() {
    NoisyPicture p = made(4, 0, SPREAD).noisy;
    ExecutorService pool = Executors.newFixedThreadPool(2);
    try {
      float[][] one = clean(p, Workers.CALLER).beauty();
      float[][] two = clean(p, new Workers(pool, 2)).beauty();
      for (int c = 0; c < 3; c++) {
        assertArrayEquals(one[c], two[c]);
      }
    } finally {
      pool.shutdown();
    }
  }

  /** The frame before and after help, also where the camera has moved. */
  @Test
  void neighboursHelp() {
    Made m = made(5, 0, SPREAD);
    int n = W * H;
    PreparedPicture p = Denoiser.prepare(m.noisy, Workers.CALLER);
    PreparedPicture later = Denoiser.prepare(made(6, 3, SPREAD).noisy, Workers.CALLER);
    PreparedPicture before = Denoiser.prepare(made(7, -3, SPREAD).noisy, Workers.CALLER);
    float[] still = new float[n], left = filled(n, -3), right = filled(n, 3);
    double alone = error(Denoiser.clean(p, List.of(), 1, Workers.CALLER).beauty(), m.truth);
    List<Denoiser.Beside> both =
        List.of(new Denoiser.Beside(later, left, still), new Denoiser.Beside(before, right, still));
    double with = error(Denoiser.clean(p, both, 1, Workers.CALLER).beauty(), m.truth);
    assertTrue(with < 0.8 * alone, alone + " became " + with);
    // Motion that points at another surface does no harm: what is there is not alike.
    List<Denoiser.Beside> wrong = List.of(new Denoiser.Beside(later, filled(n, 40), filled(n, 90)));
    double off = error(Denoiser.clean(p, wrong, 1, Workers.CALLER).beauty(), m.truth);
    assertTrue(off < 1.1 * alone, alone + " became " + off);
  }

  private static float[] filled(int n, float v) {
    float[] out = new float[n];
    Arrays.fill(out, v);
    return out;
  }

  @Test
  void vectorsFindTheSame() {
    Assumptions.assumeTrue(VectorPath.ON);
    Random random = new Random(8);
    float[][] p = random(random, 4), q = random(random, 4), light = random(random, 8);
    Rows[] kinds = {new PlainRows(), new WideRows()};
    float[][][] results = new float[2][][];
    Rows.Features one = new Rows.Features(p, q, light), other = new Rows.Features(q, light, p);
    Rows.Places at = new Rows.Places(4, 2 * Rows.STEP);
    for (int dx : new int[] {-2, 0, 3}) {
      at.most[at.count] = 1 + 0.1f * dx;
      at.right[at.count++] = dx;
    }
    int n = at.numbers();
    for (int k = 0; k < 2; k++) {
      Rows rows = kinds[k];
      float[] apart = at.buffer(), sums = at.buffer(), surface = at.buffer();
      float[] three = at.buffer(), seven = at.buffer();
      rows.apart(apart, Rows.STEP + 6, at, p, 7, q, 5, 0.5f);
      rows.along(sums, n, apart, 3);
      rows.along(seven, n, apart, 7);
      rows.down(three, n, new float[][] {apart, sums, seven}, 1 / 9f);
      rows.surface(surface, Rows.STEP, at, one, 3, other, 6, -1);
      float[][] gathered = new float[Rows.SUMS + light.length][n];
      float[][] alone = new float[Rows.SUMS + 1][n];
      for (int i = 2; i < 4; i++) {
        rows.gather(gathered, 0, Rows.STEP, at, three, surface, 0.3f, new Noisy(light, p[3]), i);
        Noisy first = new Noisy(Arrays.copyOf(light, 1), p[3]);
        rows.gather(alone, 0, Rows.STEP, at, three, surface, 0.3f, first, i);
      }
      Stream<float[]> each =
          Stream.of(apart, sums, three, seven, surface)
              .flatMap(
                  rowsOfPlaces ->
                      IntStream.range(0, at.count)
                          .map(t -> t * at.stride)
                          .mapToObj(i -> Arrays.copyOfRange(rowsOfPlaces, i, i + Rows.STEP)));
      results[k] =
          Stream.concat(each, Stream.of(gathered).map(row -> Arrays.copyOf(row, Rows.STEP)))
              .toArray(float[][]::new);
      for (int c = 0; c < gathered.length; c++) {
        float[] row = gathered[c];
        assertTrue(c >= alone.length || Arrays.equals(row, alone[c]), "one plane or many: " + c);
        assertTrue(row[3] > 0, "nothing was alike, so nothing was compared");
      }
    }
    assertArrayEquals(results[0], results[1]);
  }

  private static float[][] random(Random random, int planes) {
    float[][] out = new float[planes][100];
    for (float[] p : out) {
      for (int i = 0; i < p.length; i++) {
        p[i] = random.nextFloat();
      }
    }
    return out;
  }
}
