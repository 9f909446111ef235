package posada.core.denoise;

import java.util.ArrayList;
import java.util.List;
import posada.core.denoise.NonLocalMeans.Group;
import posada.core.denoise.NonLocalMeans.Picture;
import posada.core.denoise.Rows.Features;
import posada.core.parallel.Workers;

/**
 * Takes out noise that is larger than the windows of pixels: squares of pixels are cleaned like
 * pixels are, and what they then differ by is added.
 */
final class Blotches {
  /** Pixels along each side of squares that are cleaned for blotches, one after the other. */
  private static final int[] SIDES = {8, 4, 2};

  /** Window of squares to each side, and variances of difference that count as alike. */
  private static final int WINDOW = 7;

  private static final float TOLERANCE = 2;

  /** Squares alike from which on their mean is trusted. */
  private static final float MANY = 16;

  /** Variances of a pixel that the square of a blotch may have, for each pixel that it is wide. */
  private static final float BLOTCH = 0.005f;

  /** Variance of a pixel over its squared light at which half of what squares find is taken. */
  private static final float NOISY = 2;

  private static final int PATCH = 1;

  private Blotches() {}

  /**
   * Takes blotches out of the evenly scattered light of a picture.
   *
   * @param all the picture and those beside it
   * @param clean light of the picture, is changed
   */
  static void takeOut(List<PreparedPicture> all, Noisy clean, Workers workers) {
    for (int side : SIDES) {
      settle(all, side, clean, workers);
    }
  }

  private static void settle(List<PreparedPicture> all, int side, Noisy clean, Workers workers) {
    List<Blocks> blocks = all.stream().map(p -> new Blocks(p.surfaces, side, workers)).toList();
    Blocks own = blocks.get(0);
    NonLocalMeans m = new NonLocalMeans(own.columns, own.lines, WINDOW, PATCH, workers);
    List<Coarse> small = new ArrayList<>();
    for (int k = 0; k < all.size(); k++) {
      small.add(coarse(all.get(k), m, blocks.get(k), workers));
    }
    List<Picture> pictures = small.stream().map(Coarse::picture).toList();
    Noisy coarse = m.clean(pictures, 1).get(0).get(0);
    float[][] missing = coarse.planes();
    float[][] there = own.means(clean.planes());
    float[] noise = small.get(0).noise;
    float[] squares = new float[noise.length];
    for (int c = 0; c < there.length; c++) {
      for (int i = 0; i < squares.length; i++) {
        missing[c][i] -= there[c][i];
        squares[i] += c < 3 ? missing[c][i] * missing[c][i] : 0;
      }
    }
    squares = Box.mean(squares, own.columns, own.lines, 1, workers);
    for (int i = 0; i < squares.length; i++) {
      // Where few squares are alike they know no better; what is too much for noise is a shadow.
      float sure = Math.min(1, noise[i] / (MANY * coarse.variance()[i] + Rows.ROUNDING));
      float most = BLOTCH * side * side * side * noise[i];
      // Pixels that are not too noisy to be told apart need no squares.
      float light = (there[0][i] + there[1][i] + there[2][i]) / 3;
      float clear = NOISY * (light * light + Rows.ROUNDING) / (noise[i] * side * side);
      float needed = 1 / (1 + clear * clear);
      float kept =
          needed * sure * sure * Math.max(0, Math.min(1, 2 - squares[i] / (most + Rows.ROUNDING)));
      for (float[] plane : missing) {
        plane[i] *= kept;
      }
    }
    own.spread(missing, clean.planes());
  }

  /** Returns squares of the picture with the light that it had before any cleaning. */
  private static Coarse coarse(PreparedPicture p, NonLocalMeans m, Blocks b, Workers workers) {
    Noisy light = b.means(p.lights.get(0));
    float[] noise =
        Box.mean(light.variance(), b.columns, b.lines, PreparedPicture.VARIANCE_AROUND, workers);
    Group g =
        new Group(PreparedPicture.compared(m, light.planes(), noise), TOLERANCE, m.padded(light));
    Surfaces s = b.surfaces(p.normal, p.nearness);
    float[][] normals = m.padded(s.normal);
    Features features = new Features(normals, normals, PreparedPicture.distances(m, s));
    return new Coarse(new Picture(List.of(g), features, WINDOW, 1), noise);
  }

  /**
   * A picture in squares of pixels.
   *
   * @param noise variance of each square's light
   */
  private record Coarse(Picture picture, float[] noise) {}
}
