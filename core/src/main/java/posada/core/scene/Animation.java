package posada.core.scene;

import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Keys that move nodes and change what cameras, lights and materials are like; all animations of a
 * scene play together.
 *
 * @param channels what is moved
 * @param values what is changed besides
 */
public record Animation(String name, List<Channel> channels, List<Value> values) {
  /** Name of the animation that the rig adds; it plays whatever is chosen. */
  public static final String RIG = "(rig)";

  /** An animation that only moves nodes. */
  public Animation(String name, List<Channel> channels) {
    this(name, channels, List.of());
  }

  /** What a channel moves. */
  public enum Path {
    TRANSLATION(3),
    ROTATION(4),
    SCALE(3),
    /** 0 where it and all that hangs on it are left out (KHR_node_visibility). */
    SHOWN(1),
    /** Of morph targets: as many numbers as the mesh has targets. */
    WEIGHTS(0);

    private final int width;

    Path(int width) {
      this.width = width;
    }

    /** Returns true if it says where a node is. */
    public boolean places() {
      return this != SHOWN && this != WEIGHTS;
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
   * Numbers over time.
   *
   * @param times seconds, strictly increasing, at least one
   * @param values one value of equally many numbers for each time; for {@code CUBIC} in-tangent,
   *     value and out-tangent
   */
  public record Curve(Interpolation interpolation, float[] times, float[] values) {
    public Curve {
      int tangents = interpolation == Interpolation.CUBIC ? 3 : 1;
      int per = times.length * tangents;
      if (per == 0 || values.length == 0 || values.length % per != 0) {
        throw new IllegalArgumentException(
            times.length + " keys cannot have " + values.length + " numbers");
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

    /**
     * Returns a curve of this one's values times some factors: each number by its own, or a single
     * number by all.
     */
    public Curve times(float... factors) {
      int w = width();
      int n = values.length / w;
      float[] out = new float[n * factors.length];
      for (int i = 0; i < n; i++) {
        for (int k = 0; k < factors.length; k++) {
          out[i * factors.length + k] = values[i * w + (w == 1 ? 0 : k)] * factors[k];
        }
      }
      return new Curve(interpolation, times, out);
    }

    private Curve wide(int width) {
      if (width() != width) {
        throw new IllegalArgumentException(
            "a value must have " + width + " numbers (got " + width() + ")");
      }
      return this;
    }
  }

  /** One property of one node over time. */
  public record Channel(int node, Path path, Curve curve) {
    public Channel {
      if (path.width() > 0) {
        curve.wide(path.width());
      }
    }

    public Channel(int node, Path path, Interpolation how, float[] times, float[] values) {
      this(node, path, new Curve(how, times, values));
    }
  }

  /**
   * One property of one camera, light or material over time.
   *
   * @param index number of the camera, light or material
   * @param slot the texture that is placed, for a property of textures; else null
   */
  public record Value(Property property, int index, TextureSlot slot, Curve curve) {
    public Value {
      curve.wide(property.width());
      if ((slot != null) != (property.owner() == Property.Owner.TEXTURE)) {
        throw new IllegalArgumentException(property + " cannot be changed of slot " + slot);
      }
    }
  }

  /**
   * Returns true if this is among the animations that play.
   *
   * @param clips names; null for all
   */
  public boolean plays(Set<String> clips) {
    return clips == null || clips.contains(name) || name.equals(RIG);
  }

  private Stream<float[]> times() {
    return Stream.concat(
        channels.stream().map(c -> c.curve().times()), values.stream().map(v -> v.curve().times()));
  }

  /** Returns the time of the first key, seconds. */
  public double start() {
    return times().mapToDouble(t -> t[0]).min().orElse(0);
  }

  /** Returns the time of the last key, seconds. */
  public double end() {
    return times().mapToDouble(t -> t[t.length - 1]).max().orElse(0);
  }
}
