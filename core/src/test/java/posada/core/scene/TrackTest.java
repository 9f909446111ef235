package posada.core.scene;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TrackTest {
  private static final Track SUN = new Track(new double[] {6, 12, 18}, new double[] {-10, 60, -10});

  @ParameterizedTest
  @CsvSource({
    "-100, -10",
    "6, -10",
    "9, 25",
    "12, 60",
    "12.6, 53",
    "17.999999, -9.9999883",
    "18, -10",
    "1e9, -10"
  })
  void straightLinesBetweenKeysAndHeldOutside(double seconds, double value) {
    assertEquals(value, SUN.at(seconds), 1e-6);
  }

  @Test
  void aSingleKeyHoldsForEver() {
    Track t = Track.of(3);
    assertEquals(3, t.at(-5));
    assertEquals(3, t.at(500));
    assertFalse(t.changes());
    assertTrue(SUN.changes());
    assertFalse(new Track(new double[] {0, 1}, new double[] {7, 7}).changes());
  }

  @Test
  void equalKeysAreEqual() {
    Track same = new Track(SUN.times().clone(), SUN.values().clone());
    assertEquals(SUN, same);
    assertEquals(SUN.hashCode(), same.hashCode());
    assertFalse(SUN.equals(Track.of(3)));
  }

  @Test
  void whatIsWrongIsSaid() {
    assertSays("1 times, 2 values", new double[1], new double[2]);
    assertSays("0 times, 0 values", new double[0], new double[0]);
    assertSays("key 1", new double[] {0, 1}, new double[] {0, Double.NaN});
    assertSays("key 0", new double[] {Double.POSITIVE_INFINITY}, new double[1]);
    assertSays("got 2.0 then 2.0 s", new double[] {2, 2}, new double[2]);
    assertEquals(SUN, SUN.within("height", -90, 90));
    Exception e =
        assertThrows(IllegalArgumentException.class, () -> SUN.within("height", -90, 59.5));
    assertEquals("height must be -90 .. 59.5 (got 60)", e.getMessage());
  }

  private static void assertSays(String what, double[] times, double[] values) {
    String said =
        assertThrows(IllegalArgumentException.class, () -> new Track(times, values)).getMessage();
    assertTrue(said.contains(what), said);
  }
}
