package posada.core.image;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;

/** What of a picture a screen shows. */
class ShownTest {
  private static FrameImage image(int width, int height, String name, float... data) {
    return new FrameImage(width, height, List.of(new Channel(name, Precision.FLOAT, data)));
  }

  /** Asks for sixteen-bit values, within a step. */
  private static void shows(DisplayImage shown, int... want) {
    assertEquals(want.length, shown.samples().length);
    for (int i = 0; i < want.length; i++) {
      assertEquals(want[i], shown.samples()[i] & 0xffff, 1, "value " + i);
    }
  }

  /** The formula of IEC 61966-2-1, in 65,535 steps. */
  private static int srgb(double v) {
    double e = v <= 0.0031308 ? 12.92 * v : 1.055 * Math.pow(v, 1 / 2.4) - 0.055;
    return (int) Math.round(65535 * Math.min(1, e));
  }

  @Test
  void straightColoursAreDividedByAlphaAndFilledOnesLieOnTheirGround() {
    FrameImage half =
        new FrameImage(
            1,
            1,
            List.of(
                new Channel("R", Precision.HALF, new float[] {0.1f}),
                new Channel("G", Precision.HALF, new float[] {0.2f}),
                new Channel("B", Precision.HALF, new float[] {0}),
                new Channel("A", Precision.HALF, new float[] {0.5f})));
    shows(ViewTransform.beauty(half, 0, true), srgb(0.2), srgb(0.4), 0, 32768);
    List<String> names = List.of("R", "G", "B", "A");
    float[] blue = {0, 0, 1};
    shows(ViewTransform.display(half, names, false, blue), srgb(0.1), srgb(0.2), srgb(0.5));
  }

  @Test
  void smallerPicturesAreMeansOfWholePixels() {
    FrameImage image = image(4, 2, "R", 1, 3, 0, 0, 5, 7, 0, 8);
    FrameImage small = Resample.shrink(image, 2);
    assertEquals(2, small.width());
    assertEquals(1, small.height());
    assertArrayEquals(new float[] {4, 2}, small.find("R"));
    assertSame(image, Resample.shrink(image, 4));
    assertEquals(1, Resample.shrink(image, 1).width());
    assertThrows(IllegalArgumentException.class, () -> Resample.shrink(image, 0));
  }
}
