package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class NamePatternTest {
  @Test
  void fillsAndPads() {
    NamePattern p = new NamePattern("{pass}/{camera}_v{version:3}.{frame:4}");
    String name =
        p.fill(Map.of("pass", "all", "camera", "a/b: c", "version", "7", "frame", "12345"));
    assertEquals("all/a-b-c_v007.12345", name);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "../{frame}",
        "/x{frame}",
        "a//b",
        "{fraem}",
        "{frame:0}",
        "{frame",
        "a:b{frame}"
      })
  void refusesWhatWouldLandElsewhere(String pattern) {
    assertThrows(IllegalArgumentException.class, () -> new NamePattern(pattern));
  }

  @Test
  void refusesSeveralFramesUnderOneName() {
    NamePattern p = new NamePattern("still");
    p.check(1);
    var e = assertThrows(IllegalArgumentException.class, () -> p.check(2));
    assertTrue(e.getMessage().contains("{frame:4}"), e.getMessage());
  }

  @ParameterizedTest
  @CsvSource({
    "Car Ride,car-ride",
    "a/b,a?b",
    "ÄTNA,ätna",
    "e\u0301,\u00c9",
    "ﬁlm,FILM",
    "STRASSE,straße"
  })
  void namesThatSomeFileSystemTakesForOneFoldTogether(String a, String b) {
    assertEquals(NamePattern.folded(a), NamePattern.folded(b));
  }

  @Test
  void namesOfOtherScriptsStayApartAndFitIntoAFileName() {
    assertEquals("缆车", NamePattern.safe("缆车"));
    assertEquals("Канатная-дорога", NamePattern.safe("Канатная дорога"));
    assertNotEquals(NamePattern.folded("缆车"), NamePattern.folded("山顶"));
    String wide = NamePattern.safe("𝒞".repeat(100));
    assertEquals("𝒞".repeat(20), wide, "80 bytes, and no half letter");
    for (String nothing : List.of(" ", ".", "..", "...")) {
      assertEquals("unnamed", NamePattern.safe(nothing));
    }
  }

  @Test
  void timecodeCountsFramesAtTheNearestWholeRate() {
    assertEquals("00:00:01:01", new FrameRate(24).timecode(25));
    assertEquals("01:00:00:00", new FrameRate(25).timecode(90_000));
    assertEquals("25-96x4, 90000", new FrameRate(24).frames("00:00:01:01-96x4, 01:02:30:00"));
    for (int f : new int[] {0, 23, 24, 1439, 86_400}) {
      FrameRate r = new FrameRate(29.97);
      assertEquals("" + f, r.frames(r.timecode(f)));
    }
    String why =
        assertThrows(IllegalArgumentException.class, () -> new FrameRate(24).frames("00:00:01:24"))
            .getMessage();
    assertTrue(why.contains("00:00:01:24") && why.contains("0 .. 23"), why);
  }

  @Test
  void shotsAreNamedByAPattern() {
    List<ShotNames.Facts> shots =
        List.of(
            new ShotNames.Facts("a", "wide", "pass"), new ShotNames.Facts("b", "close", "pass"));
    assertEquals(
        List.of("pass-010-wide", "pass-030-close"),
        ShotNames.of("{scene}-{number:3}-{camera}", shots, 10, 20));
    for (String bad : List.of("", "{frame}", "{camera:3}", "{number:x}", "x".repeat(101))) {
      assertThrows(
          IllegalArgumentException.class, () -> ShotNames.of(bad, shots, 1, 1), "\"" + bad + "\"");
    }
    assertThrows(IllegalArgumentException.class, () -> ShotNames.of("{number}", shots, 1, 0));
    assertEquals("00:00:01:00", new FrameRate(23.976).timecode(24));
  }
}
