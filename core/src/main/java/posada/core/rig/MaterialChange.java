package posada.core.rig;

import java.util.List;

/**
 * A material made different by factors.
 *
 * @param material its name
 * @param brightness factor on its base colour, 0 .. 10
 * @param tint factors on red, green and blue of its base colour, 0 .. 1
 * @param roughness factor on its roughness, 0 .. 100; the result is at most 1
 * @param on false to leave the material as the file has it
 */
public record MaterialChange(
    String material, double brightness, List<Double> tint, double roughness, boolean on) {
  public MaterialChange {
    String me = " of material \"" + material + "\"";
    Bounded.within("brightness" + me, brightness, 0, 10, "");
    tint = Bounded.numbers("tint" + me, tint, 3, 1, "");
    if (tint.stream().anyMatch(c -> c < 0)) {
      throw new IllegalArgumentException("tint" + me + " must be 0 .. 1 (got " + tint + ")");
    }
    Bounded.within("roughness" + me, roughness, 0, 100, "");
  }

  float factor(int channel) {
    return (float) (brightness * tint.get(channel));
  }
}
