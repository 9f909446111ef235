package posada.core.denoise;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import posada.core.denoise.NonLocalMeans.Picture;
import posada.core.parallel.Workers;

/**
 * Cleans pictures. Light that is scattered evenly or mirrored is divided by the surface's colour
 * for it first and multiplied after, so that texture is not touched; it, what is mirrored, and what
 * is seen directly are cleaned apart. Three passes of {@link NonLocalMeans} follow each other: one
 * that compares the noisy light, one that compares what the first one made, and one with a sparse,
 * wide window over the result of the second. The latter two have two results: one by features
 * alone, one that is looser with them. Where both differ by no more than noise the looser one is
 * taken: it cleans outlines, which nothing else in the picture is quite like. Last, what is left of
 * noise in evenly scattered light at sizes beyond all windows is taken out in squares of pixels.
 */
public final class Denoiser {
  /** Windows and patches of the second and the third pass, pixels to each side. */
  private static final int SECOND = 5, THIRD = 12, PATCH = 1;

  /** Places of the third window are this far apart. */
  private static final int SPARSE = 3;

  /** Window in the pictures before and after: motion is known to about a pixel. */
  private static final int BESIDE = 2;

  /** Variances of difference that count as alike, for each pass. */
  private static final float SECOND_TOLERANCE = 0.5f, THIRD_TOLERANCE = 1;

  /** How much features count where they are taken loosely. */
  private static final float LOOSE = 0.03f;

  /** Variances by which a strict and a loose result may differ. */
  private static final float CHANCE = 2;

  private Denoiser() {}

  /**
   * Another picture of the same sequence.
   *
   * @param right pixels from each pixel's centre to the same point in the other picture, likewise
   *     down
   */
  public record Beside(PreparedPicture other, float[] right, float[] down) {}

  /** Looks at a picture by itself. */
  public static PreparedPicture prepare(NoisyPicture p, Workers workers) {
    return new PreparedPicture(p, workers);
  }

  /**
   * Returns the clean picture.
   *
   * @param beside pictures of the same size and the same planes, before and after; may be empty
   * @param amount of the noise that is taken away, 0 .. 1
   */
  public static CleanPicture clean(
      PreparedPicture p, List<Beside> beside, double amount, Workers workers) {
    int w = p.picture.width(), h = p.picture.height();
    NonLocalMeans second = new NonLocalMeans(w, h, SECOND, PATCH, workers);
    List<Picture> pictures = new ArrayList<>();
    pictures.add(
        p.picture(second, p.lights, p.guides(p.pilot, 1, workers), SECOND_TOLERANCE, SECOND, 1));
    List<PreparedPicture> all = new ArrayList<>(List.of(p));
    for (Beside b : beside) {
      PreparedPicture q = b.other.moved(b.right, b.down, workers);
      all.add(q);
      pictures.add(
          q.picture(second, q.lights, q.guides(q.pilot, 1, workers), SECOND_TOLERANCE, BESIDE, 1));
    }
    List<Noisy> better =
        second.clean(pictures, 1, LOOSE).stream()
            .map(r -> choose(r.get(0), r.get(1), w, h, workers))
            .toList();
    NonLocalMeans third = new NonLocalMeans(w, h, THIRD, PATCH, workers);
    Picture wide =
        p.picture(third, better, p.guides(better, 1, workers), THIRD_TOLERANCE, THIRD, SPARSE);
    List<Noisy> best =
        third.clean(List.of(wide), 1, LOOSE).stream()
            .map(r -> choose(r.get(0), r.get(1), w, h, workers))
            .toList();
    Blotches.takeOut(all, best.get(0), workers);
    return whole(p.picture, best, (float) amount);
  }

  /** Takes the looser result where it differs from the strict one by no more than noise. */
  private static Noisy choose(Noisy strict, Noisy loose, int w, int h, Workers workers) {
    float[] squares = new float[w * h];
    workers.ranges(
        squares.length,
        (from, to) -> {
          for (int c = 0; c < 3; c++) {
            float[] a = strict.planes()[c], b = loose.planes()[c];
            for (int i = from; i < to; i++) {
              squares[i] += (a[i] - b[i]) * (a[i] - b[i]);
            }
          }
        });
    float[] apart = Box.mean(squares, w, h, 1, workers);
    float[] chance = Box.mean(strict.variance(), w, h, 1, workers);
    Noisy out = new Noisy(new float[strict.planes().length][w * h], new float[w * h]);
    workers.ranges(
        squares.length,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            float k = Math.max(0, Math.min(1, 2 - apart[i] / (CHANCE * chance[i] + Rows.ROUNDING)));
            for (int c = 0; c < out.planes().length; c++) {
              out.planes()[c][i] = mix(strict.planes()[c][i], loose.planes()[c][i], k);
            }
            double a = Math.sqrt(strict.variance()[i]), b = Math.sqrt(loose.variance()[i]);
            double error = a + k * (b - a);
            out.variance()[i] = (float) (error * error);
          }
        });
    return out;
  }

  private static float mix(float a, float b, float k) {
    return a + k * (b - a);
  }

  /** Puts clean light together again. */
  private static CleanPicture whole(NoisyPicture p, List<Noisy> lights, float amount) {
    int n = p.width() * p.height();
    float[][] diffuse = lights.get(0).planes();
    float[][] glossy = lights.get(1).planes();
    int parts = p.diffuse().planes().length;
    for (int i = 0; i < n; i++) {
      for (int c = 0; c < parts; c++) {
        diffuse[c][i] *= p.tint()[c % 3][i];
      }
      for (int c = 0; c < glossy.length; c++) {
        glossy[c][i] *= p.mirrored()[c % 3][i];
      }
    }
    float[][] groups = Arrays.copyOfRange(diffuse, parts, diffuse.length);
    CleanPicture clean =
        new CleanPicture(
            mixed(p.diffuse().planes(), Arrays.copyOf(diffuse, parts), amount),
            mixed(p.glossy().planes(), glossy, amount),
            mixed(p.seen().planes(), lights.get(2).planes(), amount),
            mixed(p.groups(), groups, amount));
    // Groups were cleaned like the diffuse light alone: what they add up to is set right.
    float[][] beauty = groups.length == 0 ? null : clean.beauty();
    for (int c = 0; c < 3 && beauty != null; c++) {
      for (int i = 0; i < n; i++) {
        double sum = 0;
        for (int g = c; g < groups.length; g += 3) {
          sum += clean.groups()[g][i];
        }
        for (int g = c; g < groups.length && sum > 0; g += 3) {
          clean.groups()[g][i] *= (float) (beauty[c][i] / sum);
        }
      }
    }
    return clean;
  }

  private static float[][] mixed(float[][] noisy, float[][] clean, float amount) {
    for (int c = 0; c < noisy.length; c++) {
      for (int i = 0; i < noisy[c].length; i++) {
        clean[c][i] = mix(noisy[c][i], clean[c][i], amount);
      }
    }
    return clean;
  }
}
