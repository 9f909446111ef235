package posada.core.settings;

import java.util.Locale;
import java.util.Set;

/**
 * How a scene is shown when it only has to be quick: no light is followed, each pixel sees the
 * surface behind it under a plain light, darkened where others come close.
 *
 * @param style what is drawn
 * @param rays of each pixel: 1, 4 or 9
 * @param contact how dark it gets where surfaces come close, 0 .. 1
 * @param without kinds of objects that are left out
 * @param near depth that is white in the style {@link Style#DEPTH}, metres; 0 to look for one
 * @param far depth that is darkest; 0 likewise
 */
public record Preview(
    Style style, int rays, double contact, Set<Kind> without, double near, double far) {
  public static final Preview DEFAULT = new Preview(Style.SHADED, 1, 0.6, Set.of(), 0, 0);

  /** What is drawn. */
  public enum Style {
    /** Colours of the surfaces in a plain light. */
    SHADED,
    /** One grey in place of all materials. */
    CLAY,
    /** Colours without light, with lines around what stands before something else. */
    OUTLINED,
    /** White is near, dark is far, black is nothing. */
    DEPTH;

    /** Returns the name as it is written in files. */
    public String text() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** Kinds of objects that can be left out. An object may be of several. */
  public enum Kind {
    /** Nothing ever moves it. */
    STANDING,
    /** An animation moves it or something that carries it. */
    MOVING,
    /** Its shape changes: a skin or a morph. */
    BENDING,
    /** It stands there many times. */
    COPIES,
    /** All of it lets light through. */
    GLASS,
    /** Part of it gives off light. */
    GLOWING,
    /** All of it is cut out by alpha, as leaves are. */
    CUT_OUT
  }

  public Preview {
    if (rays != 1 && rays != 4 && rays != 9) {
      throw new IllegalArgumentException(
          "rays for each pixel must be 1, 4 or 9 (got " + rays + ")");
    }
    Limits.within("contact shade", contact, 0, 1);
    Limits.within("nearest depth", near, 0, 1e9);
    Limits.within("farthest depth", far, 0, 1e9);
    if (near > 0 && far > 0 && far <= near) {
      throw new IllegalArgumentException(
          "the farthest depth must lie behind the nearest (got " + near + " and " + far + ")");
    }
    without = Set.copyOf(without);
  }

  /** Returns the same with depths for all frames of a sequence. */
  public Preview between(double near, double far) {
    return new Preview(style, rays, contact, without, near, far);
  }
}
