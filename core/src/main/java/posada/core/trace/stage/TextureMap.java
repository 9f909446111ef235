package posada.core.trace.stage;

import java.util.Arrays;
import posada.core.geometry.FastMath;
import posada.core.image.TexelPyramid;
import posada.core.scene.Texture;

/** A texture ready to be read at a place for a footprint. Immutable. */
final class TextureMap {
  private final TexelPyramid pyramid;
  private final Texture.Wrap wrapU;
  private final Texture.Wrap wrapV;
  private final boolean nearest;
  private final boolean nearestFar;
  private final boolean nearestLevel;

  TextureMap(Texture t, TexelPyramid pyramid) {
    this.pyramid = pyramid;
    wrapU = t.wrapU();
    wrapV = t.wrapV();
    nearest = t.nearest();
    nearestFar = t.nearestFar();
    nearestLevel = t.nearestLevel();
  }

  /** Returns half the binary logarithm of the number of texels: levels for a footprint of 1. */
  float detail() {
    return (float)
        (0.5 * FastMath.log2((double) pyramid.width(0) * Math.max(1, pyramid.height(0))));
  }

  /**
   * Stores linear red, green, blue and alpha.
   *
   * @param u texture coordinates, any finite number; likewise v
   * @param level of the pyramid whose texels are as large as the footprint; below 0 if texels are
   *     larger
   * @param out four places
   */
  void read(float u, float v, float level, float[] out) {
    Arrays.fill(out, 0, 4, 0);
    if (!(level > 0)) {
      at(0, u, v, 1, nearest, out);
      return;
    }
    int top = pyramid.levels() - 1;
    if (nearestLevel || level >= top) {
      at(Math.min(top, Math.round(level)), u, v, 1, nearestFar, out);
      return;
    }
    int l = (int) level;
    float f = level - l;
    at(l, u, v, 1 - f, nearestFar, out);
    at(l + 1, u, v, f, nearestFar, out);
  }

  private void at(int level, float u, float v, float weight, boolean plain, float[] out) {
    int w = pyramid.width(level), h = pyramid.height(level);
    float s = u * w, t = v * h;
    if (plain) {
      pyramid.add(level, wrap(floor(s), w, wrapU), wrap(floor(t), h, wrapV), weight, out);
      return;
    }
    s -= 0.5f;
    t -= 0.5f;
    int i = floor(s), j = floor(t);
    float fs = s - i, ft = t - j;
    int i0 = wrap(i, w, wrapU), i1 = wrap(i + 1, w, wrapU);
    int j0 = wrap(j, h, wrapV), j1 = wrap(j + 1, h, wrapV);
    pyramid.add(level, i0, j0, weight * (1 - fs) * (1 - ft), out);
    pyramid.add(level, i1, j0, weight * fs * (1 - ft), out);
    pyramid.add(level, i0, j1, weight * (1 - fs) * ft, out);
    pyramid.add(level, i1, j1, weight * fs * ft, out);
  }

  private static int floor(float f) {
    int i = (int) f;
    return f < i ? i - 1 : i;
  }

  private static int wrap(int i, int n, Texture.Wrap wrap) {
    if (i >= 0 && i < n) {
      return i;
    }
    return switch (wrap) {
      case REPEAT -> Math.floorMod(i, n);
      case CLAMP -> i < 0 ? 0 : n - 1;
      case MIRROR -> {
        int m = Math.floorMod(i, 2 * n);
        yield m < n ? m : 2 * n - 1 - m;
      }
    };
  }
}
