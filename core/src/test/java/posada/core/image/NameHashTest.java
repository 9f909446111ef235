package posada.core.image;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.util.Random;
import org.apache.commons.codec.digest.MurmurHash3;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Hashes of names against published vectors and a library. */
class NameHashTest {
  @ParameterizedTest
  @CsvSource({
    "'', 0, 0",
    "'', 1, 514e28b7",
    "'', ffffffff, 81f16f39",
    "test, 0, ba6bd213",
    "test, 9747b28c, 704b81dc",
    "'Hello, world!', 0, c0363e43",
    "'Hello, world!', 9747b28c, 24884cba",
    "The quick brown fox jumps over the lazy dog, 0, 2e4ff723",
    "The quick brown fox jumps over the lazy dog, 9747b28c, 2fa826cd"
  })
  void publishedVectors(String text, String seed, String hash) {
    byte[] b = text.getBytes(StandardCharsets.UTF_8);
    assertEquals(Integer.parseUnsignedInt(hash, 16), NameHash.of(b, parse(seed)));
  }

  private static int parse(String hex) {
    return Integer.parseUnsignedInt(hex, 16);
  }

  @Test
  void agreesWithALibraryAtEveryLengthAndInEveryAlphabet() {
    Random r = new Random(1);
    for (int n = 0; n < 3000; n++) {
      byte[] b = new byte[n % 67];
      r.nextBytes(b);
      assertEquals(MurmurHash3.hash32x86(b, 0, b.length, n), NameHash.of(b, n));
    }
    byte[] utf8 = "Zahnräder 歯車".getBytes(StandardCharsets.UTF_8);
    assertEquals(MurmurHash3.hash32x86(utf8, 0, utf8.length, 0), NameHash.of("Zahnräder 歯車"));
  }

  @Test
  void everyFloatIsAnOrdinaryNumber() {
    for (int hash : new int[] {0, 1, 0x7f800000, 0x7fffffff, 0xff800001, 0x80000000, 0x3f800000}) {
      float f = NameHash.toFloat(hash);
      assertTrue(Math.abs(f) >= Float.MIN_NORMAL && Float.isFinite(f), Integer.toHexString(hash));
    }
    // An ordinary number keeps its bits.
    assertEquals(0x3f800000, Float.floatToRawIntBits(NameHash.toFloat(0x3f800000)));
  }
}
