package posada.core.assembly;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.scene.Scene;
import posada.core.settings.Layer;

/**
 * Pictures of layers as one, from the lowest to the highest. One that lies on those that hold it
 * out is added: each pixel is shared out between them. Any other lies over what is below it: <i>c +
 * (1 - a) c'</i> with premultiplied alpha (T. Porter and T. Duff, 1984).
 */
public final class LayerMerge {
  /** Luminance that is added, as for noise, so that dark pixels do not count without end. */
  private static final double DARK = 0.05;

  private static final List<String> BEAUTY = List.of("R", "G", "B", "A");

  /** How a layer is put onto those below it. */
  public enum How {
    OVER,
    ADD
  }

  private LayerMerge() {}

  /**
   * Returns how each layer is put onto those below it; the lowest is put over nothing.
   *
   * @param layers the lowest first
   */
  public static List<How> ways(Scene scene, List<Layer> layers) {
    List<BitSet> seen = new ArrayList<>(), held = new ArrayList<>();
    for (Layer l : layers) {
      List<Layer.Role> roles = l.roles(scene);
      BitSet s = new BitSet(), h = new BitSet();
      for (int i = 0; i < scene.nodes().size(); i++) {
        if (scene.nodes().get(i).mesh() >= 0) {
          s.set(i, roles.get(i) == Layer.Role.SEEN);
          h.set(i, roles.get(i) == Layer.Role.HOLDOUT && !l.under());
        }
      }
      seen.add(s);
      held.add(h);
    }
    List<How> ways = new ArrayList<>();
    for (int k = 0; k < layers.size(); k++) {
      boolean add = k > 0 && !seen.get(k).isEmpty();
      for (int below = 0; below < k && add; below++) {
        BitSet open = (BitSet) seen.get(k).clone();
        open.andNot(held.get(below));
        add = open.isEmpty();
      }
      ways.add(add ? How.ADD : How.OVER);
    }
    return ways;
  }

  /**
   * Returns pictures as one.
   *
   * @param pictures of one size with the channels {@code R G B A}, the lowest first
   * @param ways as many
   */
  public static FrameImage merge(List<FrameImage> pictures, List<How> ways) {
    FrameImage first = pictures.get(0);
    int n = first.width() * first.height();
    float[][] sum = new float[4][n];
    for (int k = 0; k < pictures.size(); k++) {
      FrameImage p = pictures.get(k);
      float[][] top = BEAUTY.stream().map(p::find).toArray(float[][]::new);
      boolean add = ways.get(k) == How.ADD;
      for (int i = 0; i < n; i++) {
        float below = add ? 1 : 1 - top[3][i];
        for (int c = 0; c < 4; c++) {
          sum[c][i] = top[c][i] + below * sum[c][i];
        }
      }
    }
    List<FrameImage.Channel> channels = new ArrayList<>();
    for (int c = 0; c < 4; c++) {
      channels.add(new FrameImage.Channel(BEAUTY.get(c), FrameImage.Precision.HALF, sum[c], 0));
    }
    return new FrameImage(first.width(), first.height(), channels);
  }

  /**
   * Returns how far two pictures are apart: the mean over pixels of the difference of their
   * luminance over that of the second plus 0.05. Two pictures that differ by noise of <i>s</i> each
   * ({@code FrameReport.noise}) are about 1.13 <i>s</i> apart.
   */
  public static double apart(FrameImage a, FrameImage b) {
    double sum = 0;
    float[] x = luminance(a), y = luminance(b);
    for (int i = 0; i < x.length; i++) {
      sum += Math.abs(x[i] - y[i]) / (y[i] + DARK);
    }
    return sum / x.length;
  }

  /** Returns the mean luminance of a picture. */
  public static double light(FrameImage p) {
    double sum = 0;
    float[] y = luminance(p);
    for (float v : y) {
      sum += v;
    }
    return sum / y.length;
  }

  /**
   * Returns a picture of how far two pictures are apart.
   *
   * @param gain by how much larger it is shown
   */
  public static FrameImage difference(FrameImage a, FrameImage b, float gain) {
    List<FrameImage.Channel> channels = new ArrayList<>();
    for (String name : BEAUTY.subList(0, 3)) {
      float[] x = a.find(name), y = b.find(name), d = new float[x.length];
      for (int i = 0; i < d.length; i++) {
        d[i] = gain * Math.abs(x[i] - y[i]);
      }
      channels.add(new FrameImage.Channel(name, FrameImage.Precision.HALF, d, 0));
    }
    return new FrameImage(a.width(), a.height(), channels);
  }

  private static float[] luminance(FrameImage p) {
    float[] r = p.find("R"), g = p.find("G"), b = p.find("B"), y = new float[r.length];
    for (int i = 0; i < y.length; i++) {
      y[i] = (float) Luminance.of(r[i], g[i], b[i]);
    }
    return y;
  }
}
