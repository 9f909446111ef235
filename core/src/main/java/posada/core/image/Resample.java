package posada.core.image;

import java.util.ArrayList;
import java.util.List;
import posada.core.image.FrameImage.Channel;

/** Making pictures smaller. */
public final class Resample {
  private Resample() {}

  /**
   * Returns the picture at most {@code most} pixels wide and high: each new pixel is the mean of a
   * whole number of old ones. A picture that fits is returned as it is.
   *
   * @param most 1 or more
   */
  public static FrameImage shrink(FrameImage image, int most) {
    if (most < 1) {
      throw new IllegalArgumentException("a picture needs at least 1 pixel (got " + most + ")");
    }
    int k = (Math.max(image.width(), image.height()) + most - 1) / most;
    if (k <= 1) {
      return image;
    }
    int w = Math.max(1, image.width() / k);
    int h = Math.max(1, image.height() / k);
    List<Channel> channels = new ArrayList<>();
    for (Channel c : image.channels()) {
      float[] out = means(c.data(), image.width(), image.height(), k);
      channels.add(new Channel(c.name(), c.precision(), out));
    }
    return new FrameImage(w, h, channels);
  }

  /**
   * Returns a plane of which each value is the mean of {@code k} times {@code k}; what is left over
   * at the right and below is left out, unless it is all there is.
   */
  public static float[] means(float[] d, int width, int height, int k) {
    int w = Math.max(1, width / k), h = Math.max(1, height / k);
    float[] out = new float[w * h];
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        out[y * w + x] = mean(d, width, height, x * k, y * k, k);
      }
    }
    return out;
  }

  private static float mean(float[] d, int width, int height, int x0, int y0, int k) {
    int x1 = Math.min(width, x0 + k);
    int y1 = Math.min(height, y0 + k);
    float sum = 0;
    for (int y = y0; y < y1; y++) {
      for (int x = x0; x < x1; x++) {
        sum += d[y * width + x];
      }
    }
    return sum / ((x1 - x0) * (y1 - y0));
  }
}
