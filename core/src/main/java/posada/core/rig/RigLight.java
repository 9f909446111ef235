package posada.core.rig;

import java.util.List;
import java.util.Map;

/**
 * A light of the rig; it shines along -Z of its place.
 *
 * @param name unlike that of any other
 * @param strength lux for a sun, candela for points and spots, cd/m2 for panels and discs
 * @param color scene-linear red, green, blue, 0 .. 1
 * @param temperature of a black body of that colour, kelvin, times the colour; null for none
 * @param size a sun's diameter in degrees; radius of a point, spot or disc, or width of a panel,
 *     metres
 * @param depth height of a panel, metres
 * @param cone full angle of a spot, degrees
 * @param soft share of the cone's half angle over which it fades, 0 .. 1
 * @param seen true if the camera sees its shape
 * @param group name of the light group that it is rendered in; empty for none
 * @param fixedTo name of the object it hangs on; empty for none
 * @param keys where it is, in order of time, at least one; their values are strengths
 * @param on false to leave it out
 */
public record RigLight(
    String name,
    Kind kind,
    double strength,
    List<Double> color,
    Double temperature,
    double size,
    double depth,
    double cone,
    double soft,
    boolean seen,
    String group,
    String fixedTo,
    List<RigKey> keys,
    boolean on) {
  /** Shapes of light. */
  public enum Kind {
    SUN("lux"),
    POINT("cd"),
    SPOT("cd"),
    PANEL("cd/m²"),
    DISC("cd/m²");

    private final String unit;

    Kind(String unit) {
      this.unit = unit;
    }

    /** Returns the unit of its strength. */
    public String unit() {
      return unit;
    }

    /** Returns true if it is a surface that glows. */
    public boolean surface() {
      return this == PANEL || this == DISC;
    }
  }

  private static final double STRONGEST = 1e9;

  public RigLight {
    Bounded.name("a light", name);
    String me = " of light \"" + name + "\"";
    Bounded.within("strength" + me, strength, 0, STRONGEST, kind.unit);
    color = Bounded.numbers("colour" + me, color, 3, 1, "");
    if (color.stream().anyMatch(c -> c < 0)) {
      throw new IllegalArgumentException("colour" + me + " must be 0 .. 1 (got " + color + ")");
    }
    if (temperature != null) {
      Bounded.within("temperature" + me, temperature, 1000, 25000, "K");
    }
    double least = kind.surface() ? 1e-3 : 0;
    double most = kind == Kind.SUN ? 90 : 1e4;
    Bounded.within("size" + me, size, least, most, kind == Kind.SUN ? "degrees" : "m");
    Bounded.within("height" + me, depth, 1e-3, 1e4, "m");
    Bounded.within("cone" + me, cone, 1, 180, "degrees");
    Bounded.within("softness" + me, soft, 0, 1, "");
    if (!group.matches("([a-z0-9][a-z0-9-]{0,39})?")) {
      throw new IllegalArgumentException(
          "light group" + me + " must be small letters, digits and dashes (got \"" + group + "\")");
    }
    keys = Bounded.keys("light \"" + name + "\"", keys, 1);
    for (RigKey k : keys) {
      if (k.value() != null) {
        Bounded.within("strength" + me, k.value(), 0, STRONGEST, kind.unit);
      }
    }
  }

  /** Returns its colour: scene-linear red, green, blue. */
  float[] rgb() {
    double[] warm = temperature == null ? new double[] {1, 1, 1} : BlackBody.rgb(temperature);
    float[] out = new float[3];
    for (int i = 0; i < 3; i++) {
      out[i] = (float) (color.get(i) * warm[i]);
    }
    return out;
  }

  /** Returns the same where objects are called otherwise. */
  RigLight renamed(Map<String, String> names) {
    return new RigLight(
        name,
        kind,
        strength,
        color,
        temperature,
        size,
        depth,
        cone,
        soft,
        seen,
        group,
        names.getOrDefault(fixedTo, fixedTo),
        keys,
        on);
  }
}
