package posada.core.trace;

import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;
import posada.core.image.FrameImage.Precision;

/** What a picture can be taken apart into; the catalogue behind names, channels and the docs. */
public enum Pass {
  BEAUTY("beauty", List.of("R", "G", "B", "A"), Precision.HALF, "light, premultiplied alpha"),
  DEPTH("depth", List.of("depth.Z"), Precision.FLOAT, "metres along the view axis, unfiltered"),
  NORMAL(
      "normal",
      List.of("normal.X", "normal.Y", "normal.Z"),
      Precision.HALF,
      "unit normal in world space, filtered"),
  ALBEDO(
      "albedo",
      List.of("albedo.R", "albedo.G", "albedo.B"),
      Precision.HALF,
      "base colour, filtered");

  private final String label;
  private final List<String> channels;
  private final Precision precision;
  private final String holds;

  Pass(String label, List<String> channels, Precision precision, String holds) {
    this.label = label;
    this.channels = channels;
    this.precision = precision;
    this.holds = holds;
  }

  public String label() {
    return label;
  }

  public List<String> channels() {
    return channels;
  }

  public Precision precision() {
    return precision;
  }

  public String holds() {
    return holds;
  }

  /** Returns the names of all passes, comma-separated. */
  public static String names() {
    return Arrays.stream(values()).map(Pass::label).collect(Collectors.joining(", "));
  }

  /** Returns the pass of this name; the error lists those that exist. */
  public static Pass named(String name) {
    for (Pass p : values()) {
      if (p.label.equals(name)) {
        return p;
      }
    }
    throw new IllegalArgumentException("there is no pass \"" + name + "\"; there are " + names());
  }
}
