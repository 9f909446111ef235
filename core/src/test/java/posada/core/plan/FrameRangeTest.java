package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.List;
import org.junit.jupiter.api.Test;

class FrameRangeTest {
  @Test
  void readsRangesStepsAndLists() {
    assertEquals(48, FrameRange.parse("1-48").size());
    assertEquals(List.of(1, 5, 9), FrameRange.parse("1-12x4").frames());
    assertEquals(List.of(1, 10, 20, 21, 22), FrameRange.parse("1,10,20-22").frames());
    assertEquals("1-9x4", FrameRange.parse("1-12x4").toString());
  }

  @Test
  void refusesWhatCannotBeMeant() {
    for (String bad : List.of("", "a", "5-1", "1-5x0", "1,,2", "-3", "0-9999999")) {
      assertThrows(IllegalArgumentException.class, () -> FrameRange.parse(bad), bad);
    }
  }

  @Test
  void takesTheAnimationsOwnLength() {
    assertEquals("1-96", FrameRange.ofAnimation(1 / 24.0, 4, 24).toString());
    assertEquals("0-48", FrameRange.ofAnimation(0, 2, 24).toString());
  }
}
