package posada.formats.preview;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.DisplayImage;
import posada.formats.preview.Overlay.Corners;

/** Texts over pictures stand where they belong and can be read. */
class OverlayTest {
  private static final int W = 320, H = 180, GREY = 30_000;
  private static final Corners NONE = new Corners("", "", "", "");

  private static short[] written(int width, int height, String watermark, Corners c) {
    short[] s = new short[width * height * 3];
    Arrays.fill(s, (short) GREY);
    new Overlay(width, height, watermark).write(new DisplayImage(width, height, 3, s), c);
    return s;
  }

  /** Returns the least and most column and row that are not as they were: x, x, y, y. */
  private static int[] changed(short[] s, int width) {
    int[] box = {Integer.MAX_VALUE, -1, Integer.MAX_VALUE, -1};
    for (int i = 0; i < s.length; i++) {
      if ((s[i] & 0xffff) != GREY) {
        int x = i / 3 % width, y = i / 3 / width;
        box[0] = Math.min(box[0], x);
        box[1] = Math.max(box[1], x);
        box[2] = Math.min(box[2], y);
        box[3] = Math.max(box[3], y);
      }
    }
    return box;
  }

  @ParameterizedTest
  @CsvSource({"0,true,true", "1,true,false", "2,false,true", "3,false,false"})
  void aTextStandsInItsCorner(int corner, boolean top, boolean left) {
    String[] t = {"", "", "", ""};
    t[corner] = "frame 24";
    int[] box = changed(written(W, H, "", new Corners(t[0], t[1], t[2], t[3])), W);
    int gap = 3;
    assertEquals(left ? gap : W - 1 - gap, box[left ? 0 : 1]);
    assertEquals(top ? gap : H - 1 - gap, box[top ? 2 : 3]);
    assertTrue(box[1] - box[0] < W / 3, Arrays.toString(box));
    assertTrue(box[3] - box[2] < H / 8, Arrays.toString(box));
  }

  /** Whatever the picture: light letters on a dark plate. */
  @Test
  void lettersStandOutFromTheirPlate() {
    short[] s = written(W, H, "", new Corners("SHOT", "", "", ""));
    int dark = 65535, light = 0;
    for (short v : s) {
      dark = Math.min(dark, v & 0xffff);
      light = Math.max(light, v & 0xffff);
    }
    assertTrue(dark < 0.4 * GREY, "plate " + dark);
    assertTrue(light > 0.7 * 65535, "letters " + light);
  }

  @Test
  void twoTextsInOneLineDoNotMeet() {
    String longName = "shot larkspur-line-arrival-of-the-evening-train";
    short[] one = written(W, H, "", new Corners(longName, "", "", ""));
    short[] both = written(W, H, "", new Corners(longName, "layer station   2026-11-02", "", ""));
    int first = changed(one, W)[1];
    int gaps = 0;
    for (int x = 0; x < W; x++) {
      boolean free = true;
      for (int y = 0; y < H / 6; y++) {
        free &= (both[(y * W + x) * 3] & 0xffff) == GREY;
      }
      gaps += free && x > 3 && x < W - 4 ? 1 : 0;
    }
    assertTrue(gaps > 0, "no room between the texts");
    assertTrue(first < W, "the text goes over the side");
    assertEquals(W - 4, changed(both, W)[1]);
  }

  @Test
  void aWatermarkIsFaintAndInTheMiddle() {
    short[] s = written(W, H, "Larkspur Line", NONE);
    int[] box = changed(s, W);
    assertEquals(W / 2.0, (box[0] + box[1]) / 2.0, W / 50.0);
    assertEquals(H / 2.0, (box[2] + box[3]) / 2.0, H / 25.0);
    assertTrue(box[1] - box[0] > W / 2, Arrays.toString(box));
    for (short v : s) {
      int up = (v & 0xffff) - GREY;
      assertTrue(up >= 0 && up < 0.15 * 65535, "change " + up);
    }
    short[] plain = new short[s.length];
    Arrays.fill(plain, (short) GREY);
    assertArrayEquals(plain, written(W, H, "  ", NONE));
  }

  @ParameterizedTest
  @CsvSource({"2,2", "16,9", "40,300"})
  void picturesTooSmallForTextsStayWhole(int width, int height) {
    Corners all = new Corners("shot hall   camera glide", "layer main", "00:00:01:00", "frame 24");
    assertEquals(width * height * 3, written(width, height, "Larkspur Line", all).length);
  }
}
