package posada.core.assembly;

import java.util.Arrays;
import java.util.List;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.settings.Pass;

/** Passes as pictures for a screen: light as it is, numbers as colours that tell them apart. */
public final class PassView {
  /** Brightness of quantities that have no natural end: this part of them is white. */
  private static final double WHITE = 0.98;

  private PassView() {}

  /**
   * Returns a pass as a picture: distances as near / distance; directions as 0.5 + n / 2; positions
   * within each metre; motion from grey; a colour for each name of a matte.
   *
   * @param names of its channels in the picture
   */
  public static DisplayImage of(Pass p, FrameImage image, List<String> names) {
    float[][] c = names.stream().map(image::find).toArray(float[][]::new);
    float[][] rgb =
        switch (p) {
          case DEPTH, DEPTH_FILTERED -> grey(c[0], PassView::near);
          case SAMPLES, TIME -> {
            float most = white(c[0]);
            yield grey(c[0], (x, least) -> x / most);
          }
          case AMBIENT_OCCLUSION, SHADOW, FACING -> grey(c[0], (x, least) -> x);
          case NORMAL, NORMAL_CAMERA -> each(c, x -> 0.5f + 0.5f * x);
          // Walls stand at whole metres: seen from a little beside them.
          case POSITION -> each(c, x -> x + 0.4f - (float) Math.floor(x + 0.4f));
          case TEXTURE_COORDINATES ->
              each(new float[][] {c[0], c[1], new float[c[0].length]}, x -> x - floor(x));
          case MOTION_NEXT, MOTION_PREVIOUS -> {
            float most = Math.max(white(c[0]), white(c[1]));
            yield each(
                new float[][] {c[0], c[1], new float[c[0].length]}, x -> 0.5f + 0.5f * x / most);
          }
          case MATTE_OBJECTS, MATTE_MATERIALS, MATTE_LAYERS -> matte(c);
          default -> Arrays.copyOf(c, 3);
        };
    List<FrameImage.Channel> shown =
        List.of(channel("R", rgb[0]), channel("G", rgb[1]), channel("B", rgb[2]));
    return ViewTransform.display(
        new FrameImage(image.width(), image.height(), shown), List.of("R", "G", "B"), false, null);
  }

  private static FrameImage.Channel channel(String name, float[] data) {
    return new FrameImage.Channel(name, FrameImage.Precision.FLOAT, data);
  }

  private static float floor(float x) {
    // The far edge of a texture stays the far edge.
    return x > 0 && x == (float) Math.floor(x) ? x - 1 : (float) Math.floor(x);
  }

  private interface Shade {
    float of(float value, float least);
  }

  private interface Turn {
    float of(float value);
  }

  private static float near(float depth, float least) {
    return depth < ViewTransform.NO_SURFACE ? least / depth : 0;
  }

  private static float[][] grey(float[] v, Shade s) {
    float least = Float.POSITIVE_INFINITY;
    for (float x : v) {
      least = x > 0 ? Math.min(least, x) : least;
    }
    float[] out = new float[v.length];
    for (int i = 0; i < v.length; i++) {
      out[i] = s.of(v[i], least);
    }
    return new float[][] {out, out, out};
  }

  private static float[][] each(float[][] c, Turn t) {
    float[][] out = new float[3][c[0].length];
    for (int k = 0; k < 3; k++) {
      for (int i = 0; i < out[k].length; i++) {
        out[k][i] = t.of(c[k][i]);
      }
    }
    return out;
  }

  /** A size that most of the values are below. */
  private static float white(float[] v) {
    float[] sorted = v.clone();
    for (int i = 0; i < sorted.length; i++) {
      sorted[i] = Math.abs(sorted[i]);
    }
    Arrays.sort(sorted);
    return Math.max(1e-6f, sorted[(int) (WHITE * (sorted.length - 1))]);
  }

  /** A colour for each name, by coverage. */
  private static float[][] matte(float[][] c) {
    float[][] out = new float[3][c[0].length];
    for (int i = 0; i < out[0].length; i++) {
      for (int rank = 0; rank + 1 < c.length; rank += 2) {
        int bits = Float.floatToRawIntBits(c[rank][i]) * 0x9e3779b9;
        for (int k = 0; k < 3; k++) {
          out[k][i] += c[rank + 1][i] * (0.05f + 0.9f * (bits >>> 8 * k + 4 & 255) / 255f);
        }
      }
    }
    return out;
  }
}
