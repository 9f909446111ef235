package posada.core.review;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.review.Look.Shown;
import posada.core.review.Look.View;

class LookTest {
  /** A row of pixels, each with one value in all its channels. */
  private static FrameImage row(String names, float... values) {
    List<Channel> channels = new ArrayList<>();
    for (char c : names.toCharArray()) {
      channels.add(new Channel("" + c, Precision.FLOAT, values.clone()));
    }
    return new FrameImage(values.length, 1, channels);
  }

  /** Asks for sixteen-bit values, within a step. */
  private static void shows(DisplayImage shown, double... want) {
    int k = shown.components();
    for (int i = 0; i < want.length; i++) {
      assertEquals(want[i], shown.samples()[k * i] & 0xffff, 1, "value " + i);
    }
  }

  /** The formula of IEC 61966-2-1, in 65,535 steps. */
  private static double srgb(double v) {
    double e = v <= 0.0031308 ? 12.92 * v : 1.055 * Math.pow(v, 1 / 2.4) - 0.055;
    return 65535 * Math.min(1, e);
  }

  @Test
  void oneStopIsTwiceTheLight() {
    FrameImage red = row("R", 0.1f, 0.4f, -2);
    shows(new Look(Shown.RED, View.STANDARD, 1, 1).of(red), srgb(0.2), srgb(0.8), 0);
    shows(new Look(Shown.RED, View.STANDARD, -1, 1).of(red), srgb(0.05), srgb(0.2), 0);
  }

  @Test
  void alphaIsShownAsItIs() {
    FrameImage alpha = row("A", 0.5f, 1.5f, -1);
    shows(new Look(Shown.ALPHA, View.STANDARD, 3, 2).of(alpha), 32768, 65535, 0);
  }

  @Test
  void gammaRaisesDisplayValuesAndLinearShowsNumbers() {
    FrameImage grey = row("RGB", 0.25f, 0.5f);
    double v = srgb(0.25) / 65535;
    shows(new Look(Shown.COLOUR, View.STANDARD, 0, 2).of(grey), 65535 * Math.sqrt(v));
    shows(new Look(Shown.COLOUR, View.LINEAR, 0, 1).of(grey), 65535 * 0.25, 65535 * 0.5);
  }

  @Test
  void theSoftViewIsTheStandardOneBelowItsShoulderAndTellsBrightLightsApart() {
    DisplayImage soft =
        new Look(Shown.COLOUR, View.SOFT, 0, 1).of(row("RGB", 0.3f, 0.5999f, 0.6001f, 1, 1.5f));
    shows(soft, srgb(0.3), srgb(0.5999), srgb(0.6001));
    int one = soft.samples()[9] & 0xffff, more = soft.samples()[12] & 0xffff;
    assertTrue(one < more && more < 65535, one + " " + more);
  }

  @Test
  void everyStopHasAColourOfItsOwnAndClippedLightTooWhateverItsHue() {
    double[] light = {0.001, 0.0085, 0.017, 0.034, 0.067, 0.13, 0.25, 0.5, 0.95, 1.01, 5};
    float[] values = new float[light.length];
    for (int i = 0; i < values.length; i++) {
      values[i] = (float) light[i];
    }
    DisplayImage bands = new Look(Shown.COLOUR, View.BANDS, 0, 1).of(row("RGB", values));
    List<Integer> colours = new ArrayList<>();
    for (int i = 0; i < values.length; i++) {
      int c = 0;
      for (int k = 0; k < 3; k++) {
        c = c << 8 | (bands.samples()[3 * i + k] & 0xffff) / 257;
      }
      colours.add(c);
    }
    assertEquals(values.length, colours.stream().distinct().count());
    List<Integer> all = LightBands.all().stream().map(LightBands.Band::colour).toList();
    assertEquals(all.subList(0, 1), colours.subList(0, 1));
    assertEquals(all.subList(2, all.size()), colours.subList(1, colours.size()));
    assertEquals(0, 2.474 - LightBands.all().get(10).from(), 1e-3);
  }

  @Test
  void whatCannotBeShownIsNamed() {
    Exception e =
        assertThrows(IllegalArgumentException.class, () -> Look.STANDARD.of(row("RG", 1)));
    assertTrue(e.getMessage().contains("channel B"), e.getMessage());
    assertThrows(
        IllegalArgumentException.class, () -> new Look(Shown.COLOUR, View.SOFT, Double.NaN, 1));
    assertThrows(IllegalArgumentException.class, () -> new Look(Shown.COLOUR, View.SOFT, 0, 0));
  }
}
