package posada.core.parallel;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

class RecentTest {
  private final List<Integer> made = new ArrayList<>();
  private final Recent<Integer, Integer> recent = new Recent<>(10, v -> v);

  private int get(int size) {
    return recent.get(
        size,
        k -> {
          made.add(k);
          return k;
        });
  }

  @Test
  void whatTakesTurnsIsMadeOnce() {
    for (int i = 0; i < 3; i++) {
      assertEquals(4, get(4));
      assertEquals(5, get(5));
    }
    assertEquals(List.of(4, 5), made);
    assertEquals(9, recent.bytes());
  }

  @Test
  void whatWasNotAskedForLongestGoesAndTheLastStays() {
    get(4);
    get(5);
    get(4);
    get(3); // 12: five goes.
    assertEquals(7, recent.bytes());
    get(4);
    get(50);
    assertEquals(50, recent.bytes());
    get(5);
    assertEquals(List.of(4, 5, 3, 50, 5), made);
  }
}
