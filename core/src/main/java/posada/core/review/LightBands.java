package posada.core.review;

import java.util.ArrayList;
import java.util.List;

/**
 * Luminance as colours: one for each stop from middle grey, so that how bright a place is can be
 * told on any screen, and what is clipped stands out.
 */
public final class LightBands {
  /** Luminance of middle grey, the stop 0. */
  public static final double GREY = 0.18;

  /** Stops of the display's white: light from here on is clipped. */
  private static final double WHITE = Math.log(1 / GREY) / Math.log(2);

  /** Where the bands begin, in stops; the first has no beginning. */
  private static final double[] FROM = {
    Double.NEGATIVE_INFINITY, -6, -5, -4, -3, -2, -1, 0, 1, 2, WHITE, 4.5
  };

  private static final int[] COLOURS = {
    0x141024, 0x231a52, 0x22377f, 0x17568f, 0x0f7690, 0x1b927f, 0x56a651, 0x98ab3c, 0xcc9f3e,
    0xe58a5a, 0xffb1c2, 0xfff0f5
  };

  private LightBands() {}

  /**
   * A band.
   *
   * @param from stops from middle grey at which it begins; -infinity for the darkest
   * @param colour red, green and blue, 8 bits each
   */
  public record Band(double from, int colour) {}

  /** Returns the bands, the darkest first. */
  public static List<Band> all() {
    List<Band> all = new ArrayList<>();
    for (int i = 0; i < FROM.length; i++) {
      all.add(new Band(FROM[i], COLOURS[i]));
    }
    return all;
  }

  /** Puts the colour of a luminance into samples of 16 bits. */
  static void put(float luminance, short[] out, int at) {
    double stops = Math.log(luminance / GREY) / Math.log(2);
    int band = 0;
    while (band + 1 < FROM.length && stops >= FROM[band + 1]) {
      band++;
    }
    for (int k = 0; k < 3; k++) {
      out[at + k] = (short) (257 * (COLOURS[band] >> 8 * (2 - k) & 255));
    }
  }
}
