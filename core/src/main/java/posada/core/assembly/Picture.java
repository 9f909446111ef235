package posada.core.assembly;

import java.util.List;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;

/**
 * A picture that is put together with others: scene-linear, colour premultiplied by alpha, top row
 * first.
 *
 * @param c red, green, blue and alpha, each width times height values
 */
public record Picture(int width, int height, float[][] c) {
  private static final List<String> NAMES = List.of("R", "G", "B", "A");

  public Picture {
    if (width < 1 || height < 1 || c.length != 4) {
      throw new IllegalArgumentException("a picture has 4 planes and at least 1 pixel");
    }
    for (float[] plane : c) {
      if (plane.length != width * height) {
        throw new IllegalArgumentException(
            "a plane needs %d values (got %d)".formatted(width * height, plane.length));
      }
    }
  }

  /** A picture in which nothing is. */
  public Picture(int width, int height) {
    this(width, height, new float[4][width * height]);
  }

  public int pixels() {
    return width * height;
  }

  public long bytes() {
    return 16L * pixels();
  }

  /** Returns the same, to be changed. */
  public Picture copy() {
    return new Picture(
        width, height, new float[][] {c[0].clone(), c[1].clone(), c[2].clone(), c[3].clone()});
  }

  /** Returns a picture with the channels {@code R G B A}; one without {@code A} is opaque. */
  public static Picture of(FrameImage image) {
    float[][] c = new float[4][];
    for (int k = 0; k < 4; k++) {
      c[k] = image.find(NAMES.get(k));
      if (c[k] == null && k < 3) {
        throw new IllegalArgumentException("this picture has no channel " + NAMES.get(k));
      }
    }
    if (c[3] == null) {
      c[3] = ones(image.width() * image.height());
    }
    return new Picture(image.width(), image.height(), c);
  }

  static float[] ones(int n) {
    float[] a = new float[n];
    java.util.Arrays.fill(a, 1);
    return a;
  }

  /** Returns it with named channels; they are the same numbers, not copies. */
  public FrameImage image() {
    return new FrameImage(
        width,
        height,
        List.of(
            new Channel("R", Precision.HALF, c[0]),
            new Channel("G", Precision.HALF, c[1]),
            new Channel("B", Precision.HALF, c[2]),
            new Channel("A", Precision.HALF, c[3])));
  }
}
