package posada.core.settings;

import java.util.ArrayList;
import java.util.List;
import posada.core.image.FrameImage.Precision;

/** What the channels of passes are called that have names of their own. */
public final class ChannelNames {
  /** Name of the light group of everything that no pattern names. */
  public static final String REST = "rest";

  /** What names of the channels of light groups begin with. */
  public static final String LIGHT = "light-";

  /**
   * Planes of the guides in the order of their channels: three values and their error, or as named.
   */
  private static final List<String> GUIDE_SETS =
      List.of(
          "diffuse.RGBE",
          "specular.RGBE",
          "seen.RGBE",
          "tint.RGB",
          "mirrored.RGB",
          "albedo.RGBE",
          "normal.XYZE",
          "near.YE",
          "motion.XYUV");

  private static final List<String> GUIDES = guideNames();

  private ChannelNames() {}

  private static List<String> guideNames() {
    List<String> out = new ArrayList<>();
    for (String set : GUIDE_SETS) {
      int dot = set.indexOf('.') + 1;
      set.substring(dot)
          .chars()
          .forEach(c -> out.add("guides-" + set.substring(0, dot) + (char) c));
    }
    return List.copyOf(out);
  }

  /** Returns what a light group's channels are called, before the dot. */
  static String ofLightGroup(String name) {
    return LIGHT + name;
  }

  /** Returns the names of all channels of the guides: those of the motion are the last four. */
  public static List<String> guides() {
    return GUIDES;
  }

  /** Returns the precision of a channel of the guides: distances and motion need more than half. */
  static Precision ofGuide(String channel) {
    return channel.startsWith("guides-near") || channel.startsWith("guides-motion")
        ? Precision.FLOAT
        : Precision.HALF;
  }
}
