package posada.demo;

/** Smooth value noise from whole-number hashes; the same on every platform. */
final class Noise {
  private Noise() {}

  static double hash(int x, int z, int seed) {
    int h = x * 0x27d4eb2d ^ z * 0x165667b1 ^ seed * 0x9e3779b9;
    h ^= h >>> 15;
    h *= 0x85ebca6b;
    h ^= h >>> 13;
    h *= 0xc2b2ae35;
    h ^= h >>> 16;
    return (h >>> 8) / (double) (1 << 24);
  }

  /** Returns noise of period 1 in 0 .. 1. */
  static double value(double x, double z, int seed) {
    int i = (int) Math.floor(x);
    int j = (int) Math.floor(z);
    double fx = x - i;
    double fz = z - j;
    fx = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
    fz = fz * fz * fz * (fz * (fz * 6 - 15) + 10);
    double a = hash(i, j, seed) + (hash(i + 1, j, seed) - hash(i, j, seed)) * fx;
    double b = hash(i, j + 1, seed) + (hash(i + 1, j + 1, seed) - hash(i, j + 1, seed)) * fx;
    return a + (b - a) * fz;
  }

  /** Returns octaves of noise around 0, about -1 .. 1. */
  static double rolling(double x, double z, int octaves, int seed) {
    double sum = 0;
    double weight = 1;
    double total = 0;
    for (int o = 0; o < octaves; o++) {
      sum += weight * (2 * value(x, z, seed + o) - 1);
      total += weight;
      weight *= 0.5;
      double rx = 1.6 * x + 1.2 * z;
      z = 1.6 * z - 1.2 * x;
      x = rx;
    }
    return sum / total;
  }

  /** Returns octaves of sharp crests, 0 .. 1, finer ones only where coarse ones are high. */
  static double crests(double x, double z, int octaves, int seed) {
    double sum = 0;
    double weight = 0.55;
    double carry = 1;
    for (int o = 0; o < octaves; o++) {
      double v = 1 - Math.abs(2 * value(x, z, seed + o) - 1);
      v = v * v * carry;
      carry = Math.min(1, v * 1.8);
      sum += weight * v;
      weight *= 0.5;
      double rx = 1.6 * x + 1.2 * z;
      z = 1.6 * z - 1.2 * x;
      x = rx;
    }
    return sum;
  }
}
