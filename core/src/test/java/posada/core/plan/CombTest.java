package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Comparator;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

class CombTest {
  private static List<Integer> order(int n) {
    return IntStream.range(0, n)
        .boxed()
        .sorted(Comparator.comparing(i -> Comb.rank(i, n)))
        .toList();
  }

  /** First, last, middle, quarters (van der Corput's sequence, here of 8 and 9 places). */
  @Test
  void framesComeFromAllOverTheRangeFirst() {
    assertEquals(List.of(0, 7, 4, 2, 6, 1, 5, 3), order(8).subList(0, 8));
    assertEquals(List.of(0, 8, 4), order(9).subList(0, 3));
    assertEquals(List.of(0), order(1));
  }

  @Test
  void eachPlaceHasARankOfItsOwn() {
    for (int n = 1; n < 70; n++) {
      int count = n;
      assertEquals(
          n, IntStream.range(0, n).map(i -> Comb.rank(i, count)).distinct().count(), "of " + n);
    }
  }
}
