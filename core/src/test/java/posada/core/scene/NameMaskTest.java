package posada.core.scene;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.SplittableRandom;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NameMaskTest {
  @ParameterizedTest
  @CsvSource({
    "lamp-*, lamp-07, true",
    "lamp-*, lamp-, true",
    "lamp-*, clamp-07, false",
    "*-07, lamp-07, true",
    "l?mp, lamp, true",
    "l?mp, lmp, false",
    "*, '', true",
    "?, '', false",
    "'', '', true",
    "a.c, abc, false",
    "*ab*ab, abab, true",
    "*ab*abc, ababab, false"
  })
  void starsAndQuestionMarks(String pattern, String name, boolean fits) {
    assertEquals(fits, NameMask.fits(pattern, name));
  }

  /** Regular expressions of the Java library say the same of all short words. */
  @Test
  void regularExpressionsAgree() {
    SplittableRandom r = new SplittableRandom(5);
    for (int i = 0; i < 20_000; i++) {
      String pattern = word(r, "ab*?"), name = word(r, "ab");
      String regex = pattern.replace("*", ".*").replace('?', '.');
      assertEquals(
          Pattern.matches(regex, name), NameMask.fits(pattern, name), pattern + " on " + name);
    }
  }

  private static String word(SplittableRandom r, String letters) {
    StringBuilder s = new StringBuilder();
    for (int k = r.nextInt(7); k > 0; k--) {
      s.append(letters.charAt(r.nextInt(letters.length())));
    }
    return s.toString();
  }

  @Test
  void childrenAreWhatTheirParentsAreUnlessTheyAreNamed() {
    List<Node> nodes =
        List.of(
            node("train", -1),
            node("wheel-1", 0),
            node("lamp", 0),
            node("glow", 2),
            node("rail", -1));
    int[] of = NameMask.inherited(nodes, List.of(List.of("lamp", "x"), List.of("tr*", "lamp")));
    assertArrayEquals(new int[] {1, 1, 0, 0, -1}, of);
  }

  private static Node node(String name, int parent) {
    return new Node(name, parent, Trs.IDENTITY, null, -1, -1, -1);
  }
}
