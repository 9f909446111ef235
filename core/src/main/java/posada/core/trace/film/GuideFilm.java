package posada.core.trace.film;

import posada.core.denoise.Noisy;
import posada.core.denoise.NoisyPicture;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.SurfacePoint;

/** Sums of samples that guide the cleaning of a picture; see {@link NoisyPicture}. */
public final class GuideFilm {
  /** Tint below which light is not divided by it. */
  private static final float LEAST_TINT = 0.01f;

  /** Bytes of a pixel: the planes below. */
  private static final long BYTES = 40 * Float.BYTES;

  /**
   * Bytes of a pixel that cleaning needs for a while: in the smallest heap it went through with.
   */
  private static final long CLEANING = 256 * Float.BYTES;

  /** Times that planes of further parts of the light are held then, likewise. */
  private static final long COPIES = 14;

  private final float[][] diffuse, seen, albedo, normal;
  private final float[] nearness;

  /** Sums of squares over the colours. */
  private final float[] seenSquare, albedoSquare, nearnessSquare;

  private final Tinted even, mirrored;

  /** Sums about light that is divided by the colour of the surface. */
  private static final class Tinted {
    final float[][] tint, square, both, tintSquare;

    Tinted(int n) {
      tint = new float[3][n];
      square = new float[3][n];
      both = new float[3][n];
      tintSquare = new float[3][n];
    }

    /** Adds one colour of a sample's light. */
    void add(int at, int color, float light, float t) {
      tint[color][at] += t;
      square[color][at] += light * light;
      both[color][at] += light * t;
      tintSquare[color][at] += t * t;
    }

    float tint(int at, int color, int count) {
      return Math.max(LEAST_TINT, tint[color][at] / count);
    }

    /**
     * Returns the variance of a sample's light over the tint: that of what light has more than the
     * ratio of means lets expect.
     */
    double spread(int at, int color, int count, float light) {
      double t = tint(at, color, count);
      double ratio = light / t;
      double sum =
          square[color][at] - 2 * ratio * both[color][at] + ratio * ratio * tintSquare[color][at];
      return sum / count / (t * t);
    }
  }

  /** To the next frame and from the one before, right and down; empty if nobody asks. */
  final float[][] motion;

  /** Returns the bytes that a pixel takes. */
  static long bytes(RenderSettings s) {
    long bytes = 0;
    if (s.guided()) {
      bytes += BYTES + (s.passes().wants(Pass.GUIDES) ? 4 * Float.BYTES : 0);
    }
    if (!s.denoising().picture()) {
      return bytes;
    }
    for (Pass p : s.passes().wanted()) {
      boolean cleaned = Pass.LIGHT_PARTS.contains(p) || p == Pass.LIGHT_GROUPS;
      bytes += cleaned ? COPIES * s.passes().bytes(p) : 0;
    }
    return bytes + CLEANING;
  }

  /**
   * @param moving true if motion is kept
   */
  GuideFilm(int n, boolean moving) {
    motion = new float[moving ? 4 : 0][n];
    diffuse = new float[3][n];
    seen = new float[3][n];
    albedo = new float[3][n];
    normal = new float[3][n];
    even = new Tinted(n);
    mirrored = new Tinted(n);
    nearness = new float[n];
    seenSquare = new float[n];
    albedoSquare = new float[n];
    nearnessSquare = new float[n];
  }

  /** Adds what a sample's first surface is. */
  public void surface(int at, SurfacePoint p, float[] color, float depth) {
    float near = depth > 0 ? 1 / depth : 0;
    nearness[at] += near;
    nearnessSquare[at] += near * near;
    for (int k = 0; k < 3; k++) {
      albedo[k][at] += color[k];
      albedoSquare[at] += color[k] * color[k];
    }
    normal[0][at] += p.nx;
    normal[1][at] += p.ny;
    normal[2][at] += p.nz;
  }

  /** Adds a sample's light. */
  void light(int at, LightParts apart) {
    for (int k = 0; k < 3; k++) {
      float d = LightKind.DIFFUSE.of(apart, k);
      float g = LightKind.GLOSSY.of(apart, k);
      float e = LightKind.SEEN.of(apart, k);
      diffuse[k][at] += d;
      even.add(at, k, d, apart.tint[k]);
      mirrored.add(at, k, g, apart.mirrorTint[k]);
      seen[k][at] += e;
      seenSquare[at] += e * e;
    }
  }

  /** Returns the means, with the light of the film that this belongs to. */
  NoisyPicture picture(Film f) {
    int width = f.width, height = f.height;
    float[][] all = {f.r, f.g, f.b};
    int n = width * height;
    float[][] d = new float[3][n], g = new float[3][n], e = new float[3][n];
    float[][] t = new float[3][n], m = new float[3][n];
    float[][] a = new float[3][n], v = new float[3][n];
    float[] z = new float[n];
    float[] dd = new float[n], gg = new float[n], ee = new float[n];
    float[] aa = new float[n], vv = new float[n], zz = new float[n];
    for (int i = 0; i < n; i++) {
      int count = f.counted(i);
      if (count < 1) {
        continue;
      }
      float k = 1f / count;
      double sd = 0, sg = 0, se = 0, sa = 0, sv = 0;
      for (int c = 0; c < 3; c++) {
        d[c][i] = diffuse[c][i] * k;
        e[c][i] = seen[c][i] * k;
        g[c][i] = Math.max(0, all[c][i] * k - d[c][i] - e[c][i]);
        t[c][i] = even.tint(i, c, count);
        m[c][i] = mirrored.tint(i, c, count);
        a[c][i] = albedo[c][i] * k;
        v[c][i] = normal[c][i] * k;
        sd += even.spread(i, c, count, d[c][i]);
        sg += mirrored.spread(i, c, count, g[c][i]);
        se -= e[c][i] * e[c][i];
        sa -= a[c][i] * a[c][i];
        sv -= v[c][i] * v[c][i];
      }
      z[i] = nearness[i] * k;
      dd[i] = error(sd, count);
      gg[i] = error(sg, count);
      ee[i] = error(seenSquare[i] * k + se, count);
      aa[i] = error(albedoSquare[i] * k + sa, count);
      vv[i] = error(f.a[i] * k + sv, count);
      zz[i] = error(nearnessSquare[i] * k - z[i] * z[i], count);
    }
    return new NoisyPicture(
        width,
        height,
        new Noisy(LightKind.DIFFUSE.planes(d, f::wants, f::means), dd),
        new Noisy(LightKind.GLOSSY.planes(g, f::wants, f::means), gg),
        new Noisy(LightKind.SEEN.planes(e, f::wants, f::means), ee),
        f.wants(Pass.LIGHT_GROUPS) ? f.means(Pass.LIGHT_GROUPS) : new float[0][],
        t,
        m,
        new Noisy(a, aa),
        new Noisy(v, vv),
        new Noisy(new float[][] {z}, zz));
  }

  /** Returns the variance of the mean from that of one sample, as it was measured. */
  private static float error(double spread, int count) {
    return (float) (Math.max(0, spread) / Math.max(1, count - 1));
  }
}
