package posada.core.trace;

import posada.core.image.FrameImage;
import posada.core.light.Luminance;

/**
 * How much of a picture is too bright or too dark to be seen, of what is not transparent.
 *
 * @param white share of the pixels whose luminance is 1 or more, 0 .. 1
 * @param black share of the pixels whose luminance is below 0.001, 0 .. 1
 */
public record Brightness(double white, double black) {
  /** Share from which a picture is hardly what was meant. */
  private static final double MOSTLY = 0.6;

  private static final float BLACK = 0.001f;

  /** Looks at the beauty of a scene-linear picture; without one nothing is too bright or dark. */
  public static Brightness of(FrameImage image) {
    float[] r = image.find("R"), g = image.find("G"), b = image.find("B"), a = image.find("A");
    int n = 0, white = 0, black = 0;
    for (int i = 0; r != null && i < r.length; i++) {
      if (a != null && a[i] < 0.5f) {
        continue;
      }
      float y = Luminance.of(r[i], g[i], b[i]);
      n++;
      white += y >= 1 ? 1 : 0;
      black += y < BLACK ? 1 : 0;
    }
    return n == 0 ? new Brightness(0, 0) : new Brightness(white / (double) n, black / (double) n);
  }

  /** Returns true if most of the picture shows nothing. */
  public boolean isLost() {
    return white > MOSTLY || black > MOSTLY;
  }
}
