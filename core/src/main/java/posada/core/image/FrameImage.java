package posada.core.image;

import java.util.List;

/**
 * A finished picture: named channels of one size, top row first, scene-linear, alpha premultiplied.
 *
 * @param channels in the order in which they were asked for
 */
public record FrameImage(int width, int height, List<Channel> channels) {
  /** How exactly a channel is kept in files that can choose. */
  public enum Precision {
    HALF,
    FLOAT
  }

  /**
   * One plane of numbers.
   *
   * @param name {@code R}, {@code G}, {@code B}, {@code A} of the beauty, else {@code pass.part}
   * @param data width times height values, row by row
   */
  public record Channel(String name, Precision precision, float[] data) {}

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
