package posada.core.scene;

import java.util.List;

/**
 * Keys that move nodes; all animations of a scene play together.
 *
 * @param channels what is moved
 */
public record Animation(String name, List<Channel> channels) {
  /** What a channel moves. */
  public enum Path {
    TRANSLATION(3),
    ROTATION(4),
    SCALE(3),
    /** Of morph targets: as many numbers as the mesh has targets. */
    WEIGHTS(0);

    private final int width;

    Path(int width) {
      this.width = width;
    }

    /** Returns how many numbers one value has; 0 if that depends on the mesh. */
    public int width() {
      return width;
    }
  }

  /** How values between keys are found (glTF 2.0, appendix C). */
  public enum Interpolation {
    STEP,
    LINEAR,
    CUBIC
  }

  /**
   * One property of one node over time.
   *
   * @param times seconds, strictly increasing, at least one
   * @param values one value for each time; for {@code CUBIC} in-tangent, value and out-tangent
   */
  public record Channel(
      int node, Path path, Interpolation interpolation, float[] times, float[] values) {
    public Channel {
      int tangents = interpolation == Interpolation.CUBIC ? 3 : 1;
      int each =
          path.width() > 0 || times.length == 0
              ? path.width()
              : values.length / (times.length * tangents);
      int per = each * tangents;
      if (times.length == 0 || values.length != times.length * per) {
        throw new IllegalArgumentException(
            times.length
                + " keys need "
                + times.length * per
                + " numbers (got "
                + values.length
                + ")");
      }
      for (int i = 1; i < times.length; i++) {
        if (!(times[i] > times[i - 1])) {
          throw new IllegalArgumentException(
              "key times must increase (got " + times[i - 1] + " then " + times[i] + " s)");
        }
      }
    }

    /** Returns how many numbers one value has. */
    public int width() {
      return values.length / times.length / (interpolation == Interpolation.CUBIC ? 3 : 1);
    }
  }

  /** Returns the time of the first key, seconds. */
  public double start() {
    return channels.stream().mapToDouble(c -> c.times()[0]).min().orElse(0);
  }

  /** Returns the time of the last key, seconds. */
  public double end() {
    return channels.stream().mapToDouble(c -> c.times()[c.times().length - 1]).max().orElse(0);
  }
}
