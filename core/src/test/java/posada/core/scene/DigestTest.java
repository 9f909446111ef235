package posada.core.scene;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;

import java.nio.ByteBuffer;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class DigestTest {
  private record Part(String name, float[] place, List<Integer> uses, Map<String, double[]> keys) {}

  private static Part part(String name, float x, int use, String key, double value) {
    Map<String, double[]> keys = new LinkedHashMap<>(Map.of(key, new double[] {1, value}));
    return new Part(name, new float[] {0, x}, new ArrayList<>(List.of(3, use)), keys);
  }

  @Test
  void equalContentsHaveEqualFingerprints() {
    assertEquals(
        Digest.of(part("a", 1, 2, "k", 3), AlphaMode.MASK, null),
        Digest.of(part("a", 1, 2, "k", 3), AlphaMode.MASK, null));
    assertEquals(Digest.of(List.of(1, 2)), Digest.of(new ArrayList<>(List.of(1, 2))));
  }

  /** So that a fingerprint of yesterday, or of another machine, is one of today. */
  @Test
  void isTheSha256OfKindsLengthsAndContents() throws Exception {
    ByteBuffer b = ByteBuffer.allocate(100);
    b.put((byte) 'r').putInt(4).put((byte) 'F').putInt(2).putFloat(0).putFloat(1.5f);
    b.put((byte) 'l').putInt(2).put((byte) 'i').putInt(8).putLong(3);
    b.put((byte) 'i').putInt(8).putLong(2).put((byte) 'm').putInt(0);
    byte[] sha =
        MessageDigest.getInstance("SHA-256").digest(Arrays.copyOf(b.array(), b.position()));
    assertEquals(
        HexFormat.of().formatHex(sha).substring(0, 32),
        Digest.of(new Three("any", new float[] {0, 1.5f}, List.of(3, 2), Map.of())));
  }

  private record Three(String name, float[] place, List<Integer> uses, Map<String, String> keys) {}

  @Test
  void namesDoNotCountNorTheOrderThatAProcessGivesSets() {
    assertEquals(Digest.of(part("a", 1, 2, "k", 3)), Digest.of(part("b", 1, 2, "k", 3)));
    Set<String> many = new LinkedHashSet<>(List.of("x", "y", "z", "w"));
    assertEquals(Digest.of(Set.of("w", "z", "y", "x")), Digest.of(Set.of("x", "y", "z", "w")));
    assertNotEquals(Digest.of(many), Digest.of(Set.of("x", "y", "z")));
  }

  @Test
  void anyDifferenceShows() {
    Set<String> all = new LinkedHashSet<>();
    Object[][] states = {
      {part("a", 1, 2, "k", 3)},
      {part("a", -1, 2, "k", 3)},
      {part("a", 1, 3, "k", 3)},
      {part("a", 1, 2, "l", 3)},
      {part("a", 1, 2, "k", 3.0000001)},
      {part("a", 1, 2, "k", 3), null},
      {null, part("a", 1, 2, "k", 3)},
      {AlphaMode.MASK},
      {AlphaMode.BLEND},
      {new int[] {1, 2}},
      {new int[] {2, 1}},
      {new int[] {1, 2, 0}},
      {new Object[] {1, "2"}},
      {new Object[] {"2", 1}},
      {},
      {new float[0]}
    };
    for (Object[] s : states) {
      all.add(Digest.of(s));
    }
    assertEquals(states.length, all.size());
  }
}
