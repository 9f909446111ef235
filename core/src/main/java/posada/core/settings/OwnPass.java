package posada.core.settings;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * A pass of the user's own: a quantity of the first surface, mapped to colours by a ramp.
 *
 * @param radius metres over which curvature is measured
 * @param constants pattern of nodes to number, for {@link Quantity#CONSTANT}; the first that fits
 *     counts, inherited from the parent; 0 without one
 * @param ramp at least one stop, ascending
 */
public record OwnPass(
    Quantity quantity, double radius, Map<String, Double> constants, List<RampStop> ramp) {
  /** What can be measured without looking at materials. */
  public enum Quantity {
    /** Cosine between surface and view, 0 at the rim .. 1. */
    FACING,
    /** Curvature times radius: positive on edges, negative in grooves, 0 on the flat; -2 .. 2. */
    CURVATURE,
    /** World height, metres. */
    HEIGHT,
    /** A number for each object. */
    CONSTANT
  }

  /**
   * A colour of the ramp; between stops it is interpolated in straight lines.
   *
   * @param at value
   * @param color red, green, blue
   */
  public record RampStop(double at, List<Float> color) {
    public RampStop {
      Limits.within("ramp value", at, -1e9, 1e9);
      if (color == null
          || color.size() != 3
          || color.stream().anyMatch(c -> !(c >= 0 && c < 1e6f))) {
        throw new IllegalArgumentException(
            "a ramp's colour must be three numbers of 0 or more (got " + color + ")");
      }
      color = List.copyOf(color);
    }
  }

  public OwnPass {
    Limits.within("curvature radius", radius, 1e-5, 1e4);
    constants = Collections.unmodifiableMap(new LinkedHashMap<>(constants));
    ramp = List.copyOf(ramp);
    if (ramp.isEmpty()) {
      throw new IllegalArgumentException("a ramp needs at least one stop");
    }
    for (int i = 1; i < ramp.size(); i++) {
      if (!(ramp.get(i).at > ramp.get(i - 1).at)) {
        throw new IllegalArgumentException(
            "a ramp's stops must ascend (got " + ramp.get(i).at + " last)");
      }
    }
  }

  /** Returns the ramp as numbers: value, red, green, blue for each stop. */
  public float[] table() {
    float[] t = new float[4 * ramp.size()];
    for (int i = 0; i < ramp.size(); i++) {
      t[4 * i] = (float) ramp.get(i).at;
      for (int k = 0; k < 3; k++) {
        t[4 * i + 1 + k] = ramp.get(i).color.get(k);
      }
    }
    return t;
  }

  /** Stores the colour of a value in a table of {@link #table}. */
  public static void color(float[] table, float value, float[] out) {
    int last = table.length - 4;
    int i = 0;
    while (i < last && value >= table[i + 4]) {
      i += 4;
    }
    if (i == last || value <= table[i]) {
      System.arraycopy(table, i + 1, out, 0, 3);
      return;
    }
    float f = (value - table[i]) / (table[i + 4] - table[i]);
    for (int k = 1; k <= 3; k++) {
      out[k - 1] = table[i + k] + (table[i + 4 + k] - table[i + k]) * f;
    }
  }
}
