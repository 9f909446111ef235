package posada.core.image;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TexelPyramidTest {
  private static float[] texel(TexelPyramid p, int level, int x, int y) {
    float[] out = new float[4];
    p.add(level, x, y, 1, out);
    return out;
  }

  /** sRGB's own formula (IEC 61966-2-1), written out. */
  private static double linear(int display) {
    double v = display / 255.0;
    return v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
  }

  /** Half black, half white is a display value of 188, not of 128. */
  @Test
  void coloursAreAveragedInLinearLight() {
    TexelImage checks = new TexelImage("made", 2, 1, new int[] {0xff000000, 0xffffffff});
    assertEquals(0.5, texel(new TexelPyramid(checks, true), 1, 0, 0)[0], 0.004);
    assertEquals(0.5, texel(new TexelPyramid(checks, false), 1, 0, 0)[1], 0.002);
    assertEquals(linear(188), texel(new TexelPyramid(checks, true), 1, 0, 0)[2], 1e-6);
  }

  /** What cannot be seen has no say in the colour: no dark fringes around leaves. */
  @Test
  void coloursCountByTheirAlpha() {
    TexelImage leaf = new TexelImage("made", 2, 1, new int[] {0xff00ff00, 0x00ff0000});
    assertArrayEquals(
        new float[] {0, 1, 0, 0.5f}, texel(new TexelPyramid(leaf, true), 1, 0, 0), 0.003f);
    TexelImage none = new TexelImage("made", 2, 1, new int[] {0x00ff0000, 0x00ff0000});
    assertArrayEquals(
        new float[] {1, 0, 0, 0}, texel(new TexelPyramid(none, true), 1, 0, 0), 1e-6f);
  }

  @ParameterizedTest
  @CsvSource({"64, 64, 7", "64, 16, 7", "5, 3, 3", "1, 1, 1", "1, 9, 4", "100, 75, 7"})
  void theLastLevelIsOneTexelThatIsTheMeanOfAll(int w, int h, int levels) {
    SplittableRandom r = new SplittableRandom(w + h);
    int[] rgba = new int[w * h];
    double sum = 0;
    for (int i = 0; i < rgba.length; i++) {
      int v = 100 + r.nextInt(40);
      rgba[i] = 0xff000000 | v << 16;
      sum += v / 255.0;
    }
    TexelPyramid p = new TexelPyramid(new TexelImage("made", w, h, rgba), false);
    assertEquals(levels, p.levels());
    assertEquals(1, p.width(levels - 1));
    assertEquals(1, p.height(levels - 1));
    // Sides that are odd leave texels with more or less say than others.
    boolean even = Integer.bitCount(w) == 1 && Integer.bitCount(h) == 1;
    assertEquals(sum / (w * h), texel(p, levels - 1, 0, 0)[0], even ? 0.01 : 0.05);
    long above = 0;
    for (int l = 1; l < levels; l++) {
      above += 4L * p.width(l) * p.height(l);
    }
    assertEquals(above + 1024, p.bytes());
  }
}
