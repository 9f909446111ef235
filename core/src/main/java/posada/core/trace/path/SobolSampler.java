package posada.core.trace.path;

import posada.core.settings.Sampling;

/**
 * Owen-scrambled Sobol points, two or four dimensions at a time. Any number of samples of a pixel
 * is well spread in each pair of dimensions, and in the four that belong together; powers of two
 * best. Scratch of one thread.
 *
 * <p>Neighbouring pixels of a tile use neighbouring stretches of one sequence, in the order of a
 * space-filling curve; so errors of neighbours tend to cancel, and noise has the look of blue
 * noise.
 *
 * <p>Source: B. Burley, "Practical Hash-based Owen Scrambling", JCGT 9(4), 2020 (padding by
 * shuffled index, the hash of Laine and Karras with Vegdahl's constants); S. Joe and F. Kuo,
 * "Constructing Sobol Sequences with Better Two-Dimensional Projections", SIAM J. Sci. Comput.
 * 30(5), 2008 (direction numbers); A. Ahmed and P. Wonka, "Screen-Space Blue-Noise Diffusion of
 * Monte Carlo Sampling Error via Hierarchical Ordering of Pixels", 2020.
 */
public final class SobolSampler {
  private static final float TO_UNIT = 1f / (1 << 24);

  /** Generators of the third and fourth dimension: x^2 + x + 1 and x^3 + x + 1. */
  private static final int[] THIRD = generator(2, 1, 1, 3);

  private static final int[] FOURTH = generator(3, 1, 1, 3, 1);

  /** Binary logarithm of a tile's side. */
  private static final int TILE = 6;

  private int tile;

  /** The sample's number in the tile's sequence, bits reversed. */
  private int index;

  private int dimension;

  /** Number of the point drawn last in its own sequence, bits reversed, and what scrambles it. */
  private int point, scramble;

  private int pixel;
  private int bits;
  private final boolean random;

  /** The pair drawn last, each in [0, 1). */
  public float u, v;

  SobolSampler(Sampling.Pattern pattern) {
    random = pattern == Sampling.Pattern.RANDOM;
  }

  /**
   * Starts a pixel.
   *
   * @param most samples that the pixel may get, 1 .. 65536
   */
  void pixel(int x, int y, int most, int seed) {
    bits = 32 - Integer.numberOfLeadingZeros(most - 1);
    int mask = (1 << TILE) - 1;
    tile = mix(mix(mix(seed ^ 0x9e3779b9) ^ (x >> TILE)) ^ (y >> TILE));
    pixel = (spread(x & mask) | spread(y & mask) << 1) << bits;
  }

  private static int spread(int v) {
    v = (v | v << 4) & 0x0f0f;
    v = (v | v << 2) & 0x3333;
    return (v | v << 1) & 0x5555;
  }

  /** Starts a sample of the pixel at its first dimension. */
  public void start(int sample) {
    index = Integer.reverse(pixel | sample);
    dimension = 0;
  }

  /**
   * Goes on with one of the paths into which a sample splits.
   *
   * @param at {@link #tile} and dimension at which it split
   * @param branch 0 or more; 0 goes on as if it had not split
   */
  void branch(int at, int branch, int atDimension) {
    dimension = atDimension;
    tile = branch == 0 ? at : mix(at ^ branch * 0x2c1b3c6d);
  }

  int tile() {
    return tile;
  }

  int dimension() {
    return dimension;
  }

  /** Draws the next pair into {@code u} and {@code v}. */
  public void next() {
    int h = mix(tile ^ (dimension++ * 0x9e3779b9));
    scramble = h;
    if (random) {
      u = (mix(mix(h ^ index) ^ 0x68bc21eb) >>> 8) * TO_UNIT;
      v = (mix(mix(h ^ index) ^ 0x02e5be93) >>> 8) * TO_UNIT;
      return;
    }
    int i = laineKarras(index, h);
    point = i;
    u = (scramble(i, mix(h ^ 0x68bc21eb)) >>> 8) * TO_UNIT;
    v = (scramble(secondDimension(i), mix(h ^ 0x02e5be93)) >>> 8) * TO_UNIT;
  }

  /**
   * Draws the third number of the point whose first two were drawn last, into {@code u}: what is
   * chosen by all of them together is spread, too.
   */
  public void third() {
    if (random) {
      next();
      return;
    }
    u = (scramble(times(THIRD, point), mix(scramble ^ 0x3c6ef372)) >>> 8) * TO_UNIT;
  }

  /** Draws the third and the fourth number of that point into {@code u} and {@code v}. */
  void more() {
    third();
    if (random) {
      return;
    }
    v = (scramble(times(FOURTH, point), mix(scramble ^ 0x1b873593)) >>> 8) * TO_UNIT;
  }

  /**
   * Makes the table of a dimension's generator matrix: for each value of each byte of a
   * bit-reversed index what it adds to the fraction.
   *
   * @param degree of the primitive polynomial
   * @param inner its inner coefficients, as bits
   * @param first direction numbers, {@code degree} of them
   */
  private static int[] generator(int degree, int inner, int... first) {
    int[] v = new int[32];
    for (int k = 0; k < 32; k++) {
      if (k < degree) {
        v[k] = first[k] << (31 - k);
        continue;
      }
      v[k] = v[k - degree] ^ (v[k - degree] >>> degree);
      for (int j = 1; j < degree; j++) {
        v[k] ^= (inner >>> (degree - 1 - j) & 1) * v[k - j];
      }
    }
    int[] table = new int[4 << 8];
    for (int at = 0; at < table.length; at++) {
      for (int bit = 0; bit < 8; bit++) {
        table[at] ^= (at >>> bit & 1) * v[31 - (at >>> 8) * 8 - bit];
      }
    }
    return table;
  }

  private static int times(int[] generator, int x) {
    return generator[x & 255]
        ^ generator[256 + (x >>> 8 & 255)]
        ^ generator[512 + (x >>> 16 & 255)]
        ^ generator[768 + (x >>> 24)];
  }

  /** Owen scramble of a fraction's bits: each bit is flipped by a hash of the bits above it. */
  private static int scramble(int x, int seed) {
    return Integer.reverse(laineKarras(Integer.reverse(x), seed));
  }

  private static int laineKarras(int x, int seed) {
    x ^= x * 0x3d20adea;
    x += seed;
    x *= (seed >>> 16) | 1;
    x ^= x * 0x05526c56;
    x ^= x * 0x53a22864;
    return x;
  }

  /**
   * Multiplies by Pascal's triangle modulo 2, the generator of Sobol's second dimension, as five
   * steps over a bit-reversed index.
   */
  static int secondDimension(int x) {
    x ^= (x << 16) & 0xffff0000;
    x ^= (x << 8) & 0xff00ff00;
    x ^= (x << 4) & 0xf0f0f0f0;
    x ^= (x << 2) & 0xcccccccc;
    x ^= (x << 1) & 0xaaaaaaaa;
    return x;
  }

  private static int mix(int x) {
    x ^= x >>> 16;
    x *= 0x7feb352d;
    x ^= x >>> 15;
    x *= 0x846ca68b;
    x ^= x >>> 16;
    return x;
  }
}
