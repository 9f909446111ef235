package posada.core.assembly;

import java.util.List;

/**
 * How far pictures that are put together are from the picture that was rendered at once.
 *
 * @param apart mean relative difference of luminance, see {@link LayerMerge#apart}
 * @param most largest difference of a colour at any pixel
 * @param x where that is, pixels from the left; y from the top
 * @param whole the numbers there: red, green, blue of the picture rendered at once
 * @param rebuilt of the pictures together
 * @param difference as a picture, 16 times as bright
 */
public record Rebuild(
    double apart, float most, int x, int y, float[] whole, float[] rebuilt, Picture difference) {
  private static final float GAIN = 16;

  /** Returns how far light parts are from the beauty when they are added. */
  public static Rebuild ofParts(Picture beauty, List<Picture> parts) {
    Picture sum = new Picture(beauty.width(), beauty.height());
    for (Picture p : parts) {
      for (int j = 0; j < 3; j++) {
        for (int i = 0; i < sum.pixels(); i++) {
          sum.c()[j][i] += p.c()[j][i];
        }
      }
    }
    return of(beauty, sum);
  }

  /** Returns how far a picture is from another. */
  public static Rebuild of(Picture whole, Picture rebuilt) {
    int w = whole.width(), worst = 0;
    float most = -1;
    for (int i = 0; i < whole.pixels(); i++) {
      for (int j = 0; j < 3; j++) {
        float d = Math.abs(whole.c()[j][i] - rebuilt.c()[j][i]);
        if (d > most) {
          most = d;
          worst = i;
        }
      }
    }
    Picture difference = Picture.of(LayerMerge.difference(whole.image(), rebuilt.image(), GAIN));
    return new Rebuild(
        LayerMerge.apart(rebuilt.image(), whole.image()),
        most,
        worst % w,
        worst / w,
        at(whole, worst),
        at(rebuilt, worst),
        difference);
  }

  private static float[] at(Picture p, int i) {
    return new float[] {p.c()[0][i], p.c()[1][i], p.c()[2][i]};
  }
}
