package posada.core.assembly;

import java.util.HashSet;
import java.util.List;
import java.util.Set;
import posada.core.plan.FrameRange;
import posada.core.settings.Limits;

/**
 * Inputs that are put together.
 *
 * @param width pixels, 1 .. 16384; height likewise
 * @param rate frames for each second, 1 .. 240
 * @param frames as a range
 * @param inputs the topmost first
 */
public record Stack(int width, int height, double rate, String frames, List<Input> inputs) {
  private static final int MOST_SIDE = 16384, MOST_INPUTS = 64;

  public Stack {
    Limits.whole("width", width, 1, MOST_SIDE);
    Limits.whole("height", height, 1, MOST_SIDE);
    Limits.within("frame rate", rate, 1, 240);
    FrameRange.parse(frames);
    inputs = List.copyOf(inputs);
    Limits.whole("inputs of a stack", inputs.size(), 0, MOST_INPUTS);
    Set<String> ids = new HashSet<>();
    for (Input i : inputs) {
      if (!ids.add(i.id())) {
        throw new IllegalArgumentException("two inputs have the id \"" + i.id() + "\"");
      }
    }
  }

  /** Returns the inputs that take part, the lowest first. */
  public List<Input> taking() {
    boolean solo = inputs.stream().anyMatch(Input::solo);
    List<Input> some =
        new java.util.ArrayList<>(
            inputs.stream().filter(i -> !i.muted() && (!solo || i.solo())).toList());
    java.util.Collections.reverse(some);
    return some;
  }

  public Stack with(List<Input> others) {
    return new Stack(width, height, rate, frames, others);
  }
}
