package posada.core.denoise;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Stream;
import posada.core.denoise.NonLocalMeans.Group;
import posada.core.denoise.NonLocalMeans.Picture;
import posada.core.denoise.Rows.Features;
import posada.core.light.Luminance;
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
  /** Windows and patches of the three passes, pixels to each side. */
  private static final int FIRST = 3, FIRST_PATCH = 3, SECOND = 5, THIRD = 12, PATCH = 1;

  /** Places of the third window are this far apart. */
  private static final int SPARSE = 3;

  /** Window in the pictures before and after: motion is known to about a pixel. */
  private static final int BESIDE = 2;

  /** Variances of difference that count as alike, for each pass. */
  private static final float FIRST_TOLERANCE = 1, SECOND_TOLERANCE = 0.5f, THIRD_TOLERANCE = 1;

  /** How much features count where they are taken loosely. */
  private static final float LOOSE = 0.03f;

  /** Variances by which a strict and a loose result may differ. */
  private static final float CHANCE = 2;

  /** Squared difference of colours that is still one surface. */
  private static final float ALBEDO = 2e-3f;

  /** Variance is taken over this many pixels to each side: with few samples it is noisy itself. */
  private static final int VARIANCE_AROUND = 2;

  /** Standard error over luminance, squared, that nobody sees. */
  private static final float UNSEEN = 2.5e-7f;

  /** What is added to luminance there: about the darkest visible detail. */
  private static final float DARK = 0.05f;

  private static final int LIGHTS = 3;

  /** Pixels along each side of squares that are cleaned for blotches, one after the other. */
  private static final int[] SIDES = {8, 4, 2};

  /** Window of squares to each side, and variances of difference that count as alike. */
  private static final int COARSE = 7;

  private static final float COARSE_TOLERANCE = 2;

  /** Squares alike from which on their mean is trusted. */
  private static final float MANY = 16;

  /** Variances of a pixel that the square of a blotch may have, for each pixel that it is wide. */
  private static final float BLOTCH = 0.005f;

  private Denoiser() {}

  /** A picture that was looked at by itself, ready to be cleaned and to help those beside it. */
  public static final class Prepared {
    private final NoisyPicture picture;

    /** Diffuse light over tint, with the groups behind it; glossy over its tint; seen. */
    private final List<Noisy> lights;

    private final List<Noisy> pilot;
    private final Noisy albedo, normal, nearness;
    private final Surfaces surfaces;

    private Prepared(
        NoisyPicture picture,
        List<Noisy> lights,
        List<Noisy> pilot,
        Noisy albedo,
        Noisy normal,
        Noisy nearness,
        Workers workers) {
      this.picture = picture;
      this.lights = lights;
      this.pilot = pilot;
      this.albedo = albedo;
      this.normal = normal;
      this.nearness = nearness;
      surfaces = new Surfaces(picture.width(), picture.height(), normal, nearness, workers);
    }

    private Prepared(NoisyPicture p, Workers workers) {
      picture = p;
      float[] unseen = unseen(p);
      lights =
          List.of(
              divided(p.diffuse(), p.tint(), p.groups()),
              above(unseen, p.mirrored(), divided(p.glossy(), p.mirrored(), new float[0][])),
              above(unseen, null, p.seen()));
      albedo = steady(p.albedo(), workers);
      normal = steady(p.normal(), workers);
      nearness = steady(p.nearness(), workers);
      surfaces = new Surfaces(p.width(), p.height(), normal, nearness, workers);
      NonLocalMeans m = new NonLocalMeans(p.width(), p.height(), FIRST, FIRST_PATCH, workers);
      List<Noisy> guides = guides(lights, VARIANCE_AROUND, workers);
      Picture self = picture(m, lights, guides, FIRST_TOLERANCE, FIRST, 1);
      pilot = m.clean(List.of(self), 1).stream().map(r -> r.get(0)).toList();
    }

    /** Returns what another picture shows at the place of each pixel of this one. */
    private Prepared moved(float[] right, float[] down, Workers workers) {
      int w = picture.width(), h = picture.height();
      int[] from = new int[w * h];
      for (int i = 0; i < from.length; i++) {
        int x = Math.round(i % w + right[i]), y = Math.round(i / w + down[i]);
        from[i] = x >= 0 && y >= 0 && x < w && y < h ? y * w + x : -1;
      }
      Noisy z = moved(nearness, from);
      for (int i = 0; i < from.length; i++) {
        if (from[i] < 0) {
          z.planes()[0][i] = NonLocalMeans.ELSEWHERE;
        }
      }
      return new Prepared(
          picture,
          lights.stream().map(n -> moved(n, from)).toList(),
          pilot.stream().map(n -> moved(n, from)).toList(),
          moved(albedo, from),
          moved(normal, from),
          z,
          workers);
    }

    private static Noisy moved(Noisy n, int[] from) {
      return new Noisy(
          Stream.of(n.planes()).map(p -> moved(p, from)).toArray(float[][]::new),
          moved(n.variance(), from));
    }

    private static float[] moved(float[] plane, int[] from) {
      float[] out = new float[plane.length];
      for (int i = 0; i < out.length; i++) {
        out[i] = plane[Math.max(0, from[i])];
      }
      return out;
    }

    private List<Noisy> guides(List<Noisy> lights, int around, Workers workers) {
      return lights.stream()
          .map(n -> new Noisy(n.planes(), around(n.variance(), around, workers)))
          .toList();
    }

    private float[] around(float[] v, int radius, Workers workers) {
      return Box.mean(v, picture.width(), picture.height(), radius, workers);
    }

    /** Returns light over a tint, with the groups behind it. */
    private static Noisy divided(Noisy light, float[][] tint, float[][] groups) {
      float[][] parts = light.planes();
      float[][] out = new float[parts.length + groups.length][];
      for (int c = 0; c < parts.length; c++) {
        out[c] = parts[c].clone();
        float[] t = tint[c % 3];
        for (int i = 0; i < t.length; i++) {
          out[c][i] /= t[i];
        }
      }
      System.arraycopy(groups, 0, out, parts.length, groups.length);
      return new Noisy(out, light.variance());
    }

    /** Returns the variance that nobody sees, for each pixel. */
    private static float[] unseen(NoisyPicture p) {
      float[] out = new float[p.width() * p.height()];
      Noisy[] all = {p.diffuse(), p.glossy(), p.seen()};
      for (int i = 0; i < out.length; i++) {
        float sum = DARK;
        for (Noisy l : all) {
          sum += Luminance.of(l.planes()[0][i], l.planes()[1][i], l.planes()[2][i]);
        }
        out[i] = UNSEEN * sum * sum;
      }
      return out;
    }

    /**
     * Takes noise for none that nobody sees.
     *
     * @param tint that the light was divided by; null for none
     */
    private static Noisy above(float[] unseen, float[][] tint, Noisy light) {
      float[] variance = light.variance().clone();
      for (int i = 0; i < variance.length; i++) {
        float t = tint == null ? 1 : Luminance.of(tint[0][i], tint[1][i], tint[2][i]);
        variance[i] = variance[i] * t * t < unseen[i] ? 0 : variance[i];
      }
      return new Noisy(light.planes(), variance);
    }

    /** Takes the noise out of a feature. */
    private Noisy steady(Noisy f, Workers workers) {
      NonLocalMeans m = new NonLocalMeans(picture.width(), picture.height(), 3, 1, workers);
      float[] none = new float[f.variance().length];
      float[] v = around(f.variance(), 1, workers);
      float[][] q = f.planes();
      float[][] guide =
          q.length == 1 ? m.padded(q[0], none, none, v) : m.padded(q[0], q[1], q[2], v);
      Group g = new Group(guide, 1, guide[3], m.padded(q));
      Picture self = new Picture(List.of(g), null, 3, 1);
      return m.clean(List.of(self), 1).get(0).get(0);
    }

    private Picture picture(
        NonLocalMeans m,
        List<Noisy> lights,
        List<Noisy> guides,
        float tolerance,
        int radius,
        int step) {
      List<Group> groups = new ArrayList<>();
      for (int g = 0; g < LIGHTS; g++) {
        Noisy l = lights.get(g);
        groups.add(
            new Group(
                compared(m, guides.get(g).planes(), guides.get(g).variance()),
                tolerance,
                m.padded(l.variance())[0],
                m.padded(l.planes())));
      }
      Features features =
          new Features(
              m.padded(Surfaces.feature(albedo, ALBEDO)),
              m.padded(surfaces.normal),
              distances(m, surfaces));
      return new Picture(groups, features, radius, step);
    }

    private static float[][] compared(NonLocalMeans m, float[][] p, float[] last) {
      return m.padded(p[0], p[1], p[2], last);
    }

    private static float[][] distances(NonLocalMeans m, Surfaces s) {
      float[][] padded = m.padded(s.nearness);
      m.fence(padded[0]);
      return padded;
    }

    /** Returns squares of the picture with the light that it had before any cleaning. */
    private Coarse coarse(NonLocalMeans m, Blocks b, Workers workers) {
      Noisy light = b.means(lights.get(0));
      float[] noise = Box.mean(light.variance(), b.columns, b.lines, VARIANCE_AROUND, workers);
      Group g =
          new Group(
              compared(m, light.planes(), noise),
              COARSE_TOLERANCE,
              m.padded(light.variance())[0],
              m.padded(light.planes()));
      Surfaces s = b.surfaces(normal, nearness);
      float[][] normals = m.padded(s.normal);
      Features features = new Features(normals, normals, distances(m, s));
      return new Coarse(new Picture(List.of(g), features, COARSE, 1), noise);
    }
  }

  /**
   * A picture in squares of pixels.
   *
   * @param noise variance of each square's light
   */
  private record Coarse(Picture picture, float[] noise) {}

  /**
   * Another picture of the same sequence.
   *
   * @param right pixels from each pixel's centre to the same point in the other picture, likewise
   *     down
   */
  public record Beside(Prepared other, float[] right, float[] down) {}

  /** Looks at a picture by itself. */
  public static Prepared prepare(NoisyPicture p, Workers workers) {
    return new Prepared(p, workers);
  }

  /**
   * Returns the clean picture.
   *
   * @param beside pictures of the same size and the same planes, before and after; may be empty
   * @param amount of the noise that is taken away, 0 .. 1
   */
  public static CleanPicture clean(
      Prepared p, List<Beside> beside, double amount, Workers workers) {
    int w = p.picture.width(), h = p.picture.height();
    NonLocalMeans second = new NonLocalMeans(w, h, SECOND, PATCH, workers);
    List<Picture> pictures = new ArrayList<>();
    pictures.add(
        p.picture(second, p.lights, p.guides(p.pilot, 1, workers), SECOND_TOLERANCE, SECOND, 1));
    List<Prepared> all = new ArrayList<>(List.of(p));
    for (Beside b : beside) {
      Prepared q = b.other.moved(b.right, b.down, workers);
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
    for (int side : SIDES) {
      settle(all, side, best.get(0), workers);
    }
    return whole(p.picture, best, (float) amount);
  }

  /**
   * Takes blotches out of evenly scattered light: noise that is larger than the windows of pixels.
   * Squares of pixels are cleaned like pixels are, and what they then differ by is added.
   *
   * @param all the picture and those beside it
   * @param clean light of the picture, is changed
   */
  private static void settle(List<Prepared> all, int side, Noisy clean, Workers workers) {
    List<Blocks> blocks = all.stream().map(p -> new Blocks(p.surfaces, side, workers)).toList();
    Blocks own = blocks.get(0);
    NonLocalMeans m = new NonLocalMeans(own.columns, own.lines, COARSE, PATCH, workers);
    List<Coarse> small = new ArrayList<>();
    for (int k = 0; k < all.size(); k++) {
      small.add(all.get(k).coarse(m, blocks.get(k), workers));
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
      float kept = sure * sure * Math.max(0, Math.min(1, 2 - squares[i] / (most + Rows.ROUNDING)));
      for (float[] plane : missing) {
        plane[i] *= kept;
      }
    }
    own.spread(missing, clean.planes());
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
