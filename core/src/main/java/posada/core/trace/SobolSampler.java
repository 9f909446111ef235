package posada.core.trace;

/**
 * Owen-scrambled Sobol points, two dimensions at a time, decorrelated between pixels and pairs of
 * dimensions. Every power of two of samples is well spread in each pair. Scratch of one thread.
 *
 * <p>Source: B. Burley, "Practical Hash-based Owen Scrambling", JCGT 9(4), 2020 (padding by
 * shuffled index, the hash of Laine and Karras with Vegdahl's constants).
 */
final class SobolSampler {
  private static final float TO_UNIT = 1f / (1 << 24);
  private int pixel;

  /** The sample's number with its bits reversed. */
  private int index;

  private int dimension;

  /** The pair drawn last, each in [0, 1). */
  float u, v;

  /** Starts a sample of a pixel at its first dimension. */
  void start(int x, int y, int sample, int seed) {
    pixel = mix(mix(mix(seed ^ 0x9e3779b9) ^ x) ^ y);
    index = Integer.reverse(sample);
    dimension = 0;
  }

  /** Draws the next pair into {@code u} and {@code v}. */
  void next() {
    int h = mix(pixel ^ (dimension++ * 0x9e3779b9));
    int i = laineKarras(index, h);
    u = (scramble(i, mix(h ^ 0x68bc21eb)) >>> 8) * TO_UNIT;
    v = (scramble(secondDimension(i), mix(h ^ 0x02e5be93)) >>> 8) * TO_UNIT;
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
