package posada.core.denoise;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import posada.core.denoise.NonLocalMeans.Group;
import posada.core.denoise.NonLocalMeans.Picture;
import posada.core.denoise.Rows.Features;
import posada.core.light.Luminance;
import posada.core.parallel.Workers;

/** A picture that was looked at by itself, ready to be cleaned and to help those beside it. */
public final class PreparedPicture {
  /** Window and patch of the first pass, pixels to each side. */
  private static final int WINDOW = 3, PATCH = 3;

  /** Variances of difference that count as alike there. */
  private static final float TOLERANCE = 1;

  /** Squared difference of colours that is still one surface. */
  private static final float ALBEDO = 2e-3f;

  /** Variance is taken over this many pixels to each side: with few samples it is noisy itself. */
  static final int VARIANCE_AROUND = 2;

  /** Standard error over luminance, squared, that nobody sees. */
  private static final float UNSEEN = 2.5e-7f;

  /** What is added to luminance there: about the darkest visible detail. */
  private static final float DARK = 0.05f;

  private static final int LIGHTS = 3;

  final NoisyPicture picture;

  /** Diffuse light over tint, with the groups behind it; glossy over its tint; seen. */
  final List<Noisy> lights;

  final List<Noisy> pilot;
  private final Noisy albedo;
  final Noisy normal, nearness;
  final Surfaces surfaces;

  private PreparedPicture(
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

  PreparedPicture(NoisyPicture p, Workers workers) {
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
    NonLocalMeans m = new NonLocalMeans(p.width(), p.height(), WINDOW, PATCH, workers);
    List<Noisy> guides = guides(lights, VARIANCE_AROUND, workers);
    Picture self = picture(m, lights, guides, TOLERANCE, WINDOW, 1);
    pilot = m.clean(List.of(self), 1).stream().map(r -> r.get(0)).toList();
  }

  /** Returns what another picture shows at the place of each pixel of this one. */
  PreparedPicture moved(float[] right, float[] down, Workers workers) {
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
    return new PreparedPicture(
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

  List<Noisy> guides(List<Noisy> lights, int around, Workers workers) {
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
    float[][] guide = q.length == 1 ? m.padded(q[0], none, none, v) : m.padded(q[0], q[1], q[2], v);
    Group g = new Group(guide, 1, new Noisy(m.padded(q), guide[3]));
    Picture self = new Picture(List.of(g), null, 3, 1);
    return m.clean(List.of(self), 1).get(0).get(0);
  }

  Picture picture(
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
              m.padded(l)));
    }
    Features features =
        new Features(
            m.padded(Surfaces.feature(albedo, ALBEDO)),
            m.padded(surfaces.normal),
            distances(m, surfaces));
    return new Picture(groups, features, radius, step);
  }

  static float[][] compared(NonLocalMeans m, float[][] p, float[] last) {
    return m.padded(p[0], p[1], p[2], last);
  }

  static float[][] distances(NonLocalMeans m, Surfaces s) {
    float[][] padded = m.padded(s.nearness);
    m.fence(padded[0]);
    return padded;
  }
}
