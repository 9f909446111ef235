package posada.core.image;

import java.nio.charset.StandardCharsets;

/**
 * Numbers that stand for names in ID mattes: MurmurHash3, 32 bits for x86, seed 0, of the name in
 * UTF-8, read as a float that is an ordinary number.
 *
 * <p>Source: A. Appleby, MurmurHash3 (public domain); J. Friedman and A. Jones, "Cryptomatte
 * specification" 1.2.0, "Hashing" and "Conversion of hashes to floats".
 */
public final class NameHash {
  private static final int C1 = 0xcc9e2d51;
  private static final int C2 = 0x1b873593;

  private NameHash() {}

  /** Returns the hash of a name. */
  public static int of(String name) {
    return of(name.getBytes(StandardCharsets.UTF_8), 0);
  }

  /** Returns the hash of bytes. */
  static int of(byte[] b, int seed) {
    int h = seed;
    int blocks = b.length & ~3;
    for (int i = 0; i < blocks; i += 4) {
      int k = b[i] & 255 | (b[i + 1] & 255) << 8 | (b[i + 2] & 255) << 16 | b[i + 3] << 24;
      h = Integer.rotateLeft(h ^ mixed(k), 13) * 5 + 0xe6546b64;
    }
    int k = 0;
    for (int i = b.length - 1; i >= blocks; i--) {
      k = k << 8 | b[i] & 255;
    }
    h ^= mixed(k) ^ b.length;
    h = (h ^ h >>> 16) * 0x85ebca6b;
    h = (h ^ h >>> 13) * 0xc2b2ae35;
    return h ^ h >>> 16;
  }

  private static int mixed(int k) {
    return Integer.rotateLeft(k * C1, 15) * C2;
  }

  /** Returns the float that stands for a hash; never a denormal, infinite or no number. */
  public static float toFloat(int hash) {
    int exponent = hash >>> 23 & 255;
    return Float.intBitsToFloat(exponent == 0 || exponent == 255 ? hash ^ 1 << 23 : hash);
  }

  /** Returns the float's bits as the eight hexadecimal digits of manifests. */
  public static String hex(String name) {
    return String.format("%08x", Float.floatToRawIntBits(toFloat(of(name))));
  }

  /** Returns the key under which a set of mattes describes itself in a header. */
  public static String key(String set) {
    return "cryptomatte/" + String.format("%08x", of(set)).substring(0, 7) + "/";
  }
}
