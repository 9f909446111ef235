package posada.formats.files;

/** Kinds of files a frame can be written to. */
public enum FileFormat {
  EXR("exr", "exr", "EXR, scene-linear, all passes"),
  PNG8("png", "png", "PNG, 8 bits, sRGB, beauty"),
  PNG16("png16", "png", "PNG, 16 bits, sRGB, beauty");

  private final String label;
  private final String extension;
  private final String holds;

  FileFormat(String label, String extension, String holds) {
    this.label = label;
    this.extension = extension;
    this.holds = holds;
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

  /** Returns the format of this name; the error lists those that exist. */
  public static FileFormat named(String name) {
    for (FileFormat f : values()) {
      if (f.label.equals(name)) {
        return f;
      }
    }
    throw new IllegalArgumentException(
        "there is no format \"" + name + "\"; there are exr, png, png16");
  }
}
