package posada.core.image;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;

/**
 * A finished picture: named channels of one size, top row first, scene-linear, alpha premultiplied.
 *
 * @param window where in the full frame it lies
 * @param channels in the order in which they were asked for
 * @param texts what its channels need to be understood, such as the names behind ID mattes
 */
public record FrameImage(
    int width, int height, Window window, List<Channel> channels, Map<String, String> texts) {
  /** How exactly a channel is kept in files that can choose. */
  public enum Precision {
    HALF,
    FLOAT
  }

  /**
   * The place of a picture in its full frame, in pixels from the top left corner.
   *
   * @param fullWidth size of the full frame; the picture may be larger or smaller
   */
  public record Window(int x, int y, int fullWidth, int fullHeight) {}

  /**
   * One plane of numbers.
   *
   * @param name {@code R}, {@code G}, {@code B}, {@code A} of the beauty, else {@code pass.part}
   * @param data width times height values, row by row
   * @param outside what stands in the full frame where the picture does not reach
   */
  public record Channel(String name, Precision precision, float[] data, float outside) {
    /** A channel that is 0 outside. */
    public Channel(String name, Precision precision, float[] data) {
      this(name, precision, data, 0);
    }
  }

  public FrameImage {
    for (Channel c : channels) {
      if (c.data().length != width * height) {
        throw new IllegalArgumentException(
            "channel "
                + c.name()
                + " needs "
                + width * height
                + " values (got "
                + c.data().length
                + ")");
      }
    }
  }

  /** A picture that is the full frame. */
  public FrameImage(int width, int height, List<Channel> channels) {
    this(width, height, new Window(0, 0, width, height), channels, Map.of());
  }

  /** Returns true if it covers its full frame and nothing else. */
  public boolean whole() {
    return window.x == 0
        && window.y == 0
        && window.fullWidth == width
        && window.fullHeight == height;
  }

  /** Returns the full frame; what lies outside of it is left out. */
  public FrameImage full() {
    if (whole()) {
      return this;
    }
    int w = window.fullWidth;
    int h = window.fullHeight;
    int from = Math.max(0, window.x);
    int n = Math.min(w, window.x + width) - from;
    List<Channel> out = new ArrayList<>();
    for (Channel c : channels) {
      float[] full = new float[w * h];
      Arrays.fill(full, c.outside);
      for (int y = Math.max(0, window.y); n > 0 && y < Math.min(h, window.y + height); y++) {
        int at = (y - window.y) * width + from - window.x;
        System.arraycopy(c.data, at, full, y * w + from, n);
      }
      out.add(new Channel(c.name, c.precision, full, c.outside));
    }
    return new FrameImage(w, h, new Window(0, 0, w, h), out, texts);
  }

  /** Returns the channel's values, or null if there is no channel of this name. */
  public float[] find(String name) {
    for (Channel c : channels) {
      if (c.name().equals(name)) {
        return c.data();
      }
    }
    return null;
  }
}
