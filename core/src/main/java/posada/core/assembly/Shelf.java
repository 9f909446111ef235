package posada.core.assembly;

import java.io.IOException;
import java.util.List;

/** Where the pictures of inputs are. */
public interface Shelf {
  /**
   * What is known of footage.
   *
   * @param name in sentences
   * @param frames that it has or should have, rising, at least one
   * @param rate frames for each second; null if nothing tells
   */
  record Facts(String name, List<Integer> frames, Double rate, int width, int height) {}

  /**
   * A picture that was read.
   *
   * @param alpha false if it has none of its own
   */
  record Loaded(Picture picture, boolean alpha) {}

  /** A frame is not there. */
  final class Missing extends IOException {
    private static final long serialVersionUID = 1;

    public Missing(String what) {
      super(what);
    }
  }

  /** A number for each pixel. */
  record Plane(int width, int height, float[] values) {}

  /**
   * Returns what is known of footage.
   *
   * @throws IllegalArgumentException saying what is not there
   */
  Facts facts(String footage) throws IOException;

  /**
   * Returns a pass as a picture.
   *
   * @param shrink each pixel is the mean of so many across and down, 1 or more
   * @throws Missing if the frame is not there
   * @throws IllegalArgumentException if it has no such pass
   */
  Loaded picture(String footage, String pass, int frame, Reading reading, int shrink)
      throws IOException;

  /**
   * Returns a channel of a pass that holds numbers, of every {@code shrink}th pixel.
   *
   * @param channel from 0
   * @return null if there is no such pass
   */
  Plane values(String footage, String pass, int channel, int frame, int shrink) throws IOException;

  /**
   * Returns how far what is named covers each pixel, 0 .. 1.
   *
   * @param pass a set of ID mattes
   * @throws IllegalArgumentException if there is no such pass
   */
  Plane coverage(String footage, String pass, List<String> names, int frame, int shrink)
      throws IOException;

  /** Returns the names that an ID matte of a frame knows; empty if it does not tell. */
  List<String> names(String footage, String pass, int frame) throws IOException;

  /** Returns what is another text whenever the files of a frame are others. */
  String stamp(String footage, int frame) throws IOException;
}
