package posada.core.assembly;

import java.util.Arrays;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.light.Luminance;

/** Lays a map over a picture: the picture grey and dim, the map bright on it. */
public final class MapOver {
  /** So much of the map is as dark as can be, and up to here it is not as bright as can be. */
  private static final double BLACK = 0.02, WHITE = 0.98;

  private static final float DIM = 0.12f;

  /** Colour of the map where it is brightest, scene-linear. */
  private static final float[] BRIGHT = {0.58f, 0.76f, 0.09f};

  private MapOver() {}

  /**
   * Returns both as one picture.
   *
   * @param picture beauty
   * @param map 0 or more for each pixel; what is not a number counts as 0
   */
  public static DisplayImage of(FrameImage picture, float[] map) {
    float[] sorted = sorted(map);
    float black = at(sorted, BLACK), white = Math.max(at(sorted, WHITE), black + 1e-9f);
    float[] r = picture.find("R"), g = picture.find("G"), b = picture.find("B");
    short[] out = new short[3 * map.length];
    for (int i = 0; i < map.length; i++) {
      float grey = DIM * Math.min(1, (float) Luminance.of(r[i], g[i], b[i]));
      float m = map[i] > black ? Math.min(1, (map[i] - black) / (white - black)) : 0;
      // Squared, so that what is half as much looks about half as bright.
      m *= m;
      for (int c = 0; c < 3; c++) {
        out[3 * i + c] = ViewTransform.encode(grey * (1 - m) + BRIGHT[c] * m);
      }
    }
    return new DisplayImage(picture.width(), picture.height(), 3, out);
  }

  /**
   * Returns a map without what single pixels stand out by: the median of each pixel and those
   * around it.
   */
  public static float[] calm(float[] map, int width, int height) {
    float[] out = new float[map.length];
    float[] around = new float[9];
    for (int y = 0; y < height; y++) {
      for (int x = 0; x < width; x++) {
        int n = 0;
        for (int j = Math.max(0, y - 1); j <= Math.min(height - 1, y + 1); j++) {
          for (int i = Math.max(0, x - 1); i <= Math.min(width - 1, x + 1); i++) {
            around[n++] = map[j * width + i];
          }
        }
        Arrays.sort(around, 0, n);
        out[y * width + x] = around[n / 2];
      }
    }
    return out;
  }

  private static float[] sorted(float[] map) {
    float[] some = new float[map.length];
    int n = 0;
    for (float v : map) {
      if (v > 0) {
        some[n++] = v;
      }
    }
    float[] all = Arrays.copyOf(some, n);
    Arrays.sort(all);
    return all;
  }

  private static float at(float[] sorted, double share) {
    return sorted.length == 0 ? 0 : sorted[(int) (share * (sorted.length - 1))];
  }
}
