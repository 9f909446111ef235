package posada.core.scene;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;

class ContentHashTest {
  private record Part(String name, float[] place, List<Integer> uses, Map<String, double[]> keys) {}

  private static Part part(String name, float x, int use, String key, double value) {
    Map<String, double[]> keys = new LinkedHashMap<>(Map.of(key, new double[] {1, value}));
    return new Part(name, new float[] {0, x}, new ArrayList<>(List.of(3, use)), keys);
  }

  @Test
  void equalContentsHaveEqualNumbers() {
    assertEquals(
        ContentHash.of(part("a", 1, 2, "k", 3), AlphaMode.MASK, null),
        ContentHash.of(part("a", 1, 2, "k", 3), AlphaMode.MASK, null));
    assertEquals(ContentHash.of(List.of(1, 2)), ContentHash.of(new ArrayList<>(List.of(1, 2))));
  }

  @Test
  void anyDifferenceShows() {
    Set<Long> all = new LinkedHashSet<>();
    Object[][] states = {
      {part("a", 1, 2, "k", 3)},
      {part("b", 1, 2, "k", 3)},
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
      all.add(ContentHash.of(s));
    }
    assertEquals(states.length, all.size());
  }
}
