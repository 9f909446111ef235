package posada.formats.files;

import java.util.Arrays;
import java.util.stream.Collectors;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;

/** Kinds of files a frame can be written to, and what each of them can hold. */
public enum FileFormat {
  EXR("exr", "exr", "scene-linear, half and float, all passes, premultiplied alpha", true, true),
  PNG8("png", "png", "8 bits, sRGB, straight alpha", false, true),
  PNG16("png16", "png", "16 bits, sRGB, straight alpha", false, true),
  TIFF8("tiff", "tif", "8 bits, sRGB, straight alpha", false, true),
  TIFF16("tiff16", "tif", "16 bits, sRGB, straight alpha", false, true),
  TIFF_FLOAT("tiff-float", "tif", "linear floats, premultiplied alpha", true, true),
  TGA("tga", "tga", "8 bits, sRGB, straight alpha", false, true),
  JPEG("jpeg", "jpg", "8 bits, sRGB, no alpha, with losses", false, false);

  private final String label;
  private final String extension;
  private final String holds;
  private final boolean floats;
  private final boolean alpha;

  FileFormat(String label, String extension, String holds, boolean floats, boolean alpha) {
    this.label = label;
    this.extension = extension;
    this.holds = holds;
    this.floats = floats;
    this.alpha = alpha;
  }

  public String label() {
    return label;
  }

  public String extension() {
    return extension;
  }

  public String holds() {
    return holds;
  }

  /** Returns true if it has display values, without light above white. */
  public boolean display() {
    return !floats;
  }

  /** Returns the format of this name; the error lists those that exist. */
  public static FileFormat named(String name) {
    for (FileFormat f : values()) {
      if (f.label.equals(name)) {
        return f;
      }
    }
    throw new IllegalArgumentException("there is no format \"" + name + "\"; there are " + names());
  }

  /** Returns the names of all formats, comma-separated. */
  public static String names() {
    return Arrays.stream(values()).map(FileFormat::label).collect(Collectors.joining(", "));
  }

  /** Returns why it cannot hold a pass in a file of its own; null if it can. */
  String refusal(Pass p, PassSettings s, boolean transparent) {
    if (this == EXR) {
      return null;
    }
    if (p.matte()) {
      return "the names behind an ID matte";
    }
    if (p.channels(s).size() > 4) {
      return "several pictures in one file";
    }
    if (!floats && p != Pass.BEAUTY && p.use() != Pass.Use.ADDS) {
      return "numbers that are not to be looked at, since it has neither negative ones nor such above"
          + " 1";
    }
    return p == Pass.BEAUTY && transparent && !alpha ? "alpha" : null;
  }

  /**
   * Refuses a pass that this format cannot hold.
   *
   * @param transparent true if the beauty's alpha says where objects are
   * @throws IllegalArgumentException with the reason and the formats that can
   */
  void check(Pass p, PassSettings s, boolean transparent) {
    String why = refusal(p, s, transparent);
    if (why == null) {
      return;
    }
    String can =
        Arrays.stream(values())
            .filter(f -> f.refusal(p, s, transparent) == null)
            .map(FileFormat::label)
            .collect(Collectors.joining(", "));
    throw new IllegalArgumentException(
        label
            + " cannot hold the pass "
            + p.label()
            + ": it has no room for "
            + why
            + ". These can: "
            + can
            + (why.equals("alpha") ? "; or let the background be filled" : ""));
  }
}
