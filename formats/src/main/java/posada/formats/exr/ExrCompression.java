package posada.formats.exr;

import java.util.Arrays;
import java.util.stream.Collectors;

/** How the pixels of an EXR are packed; all of them keep every bit. */
public enum ExrCompression {
  NONE("none", 0, 1),
  RLE("rle", 1, 1),
  ZIPS("zips", 2, 1),
  ZIP("zip", 3, 16),
  /** Read only: files from elsewhere. */
  PIZ("piz", 4, 32);

  private final String label;

  /** The number in the header. */
  final int number;

  /** Scan lines that are packed together. */
  final int lines;

  ExrCompression(String label, int number, int lines) {
    this.label = label;
    this.number = number;
    this.lines = lines;
  }

  public String label() {
    return label;
  }

  /** Returns true if files are written with it. */
  public boolean written() {
    return this != PIZ;
  }

  /** Returns the compression of this name; the error lists those that are written. */
  public static ExrCompression named(String name) {
    for (ExrCompression c : values()) {
      if (c.label.equals(name) && c.written()) {
        return c;
      }
    }
    throw new IllegalArgumentException(
        "EXR is not written with the compression \"" + name + "\"; there are " + names());
  }

  private static String names() {
    return Arrays.stream(values())
        .filter(ExrCompression::written)
        .map(ExrCompression::label)
        .collect(Collectors.joining(", "));
  }

  /** Returns the compression of a number in a header, or null if it is not known. */
  static ExrCompression numbered(int n) {
    return n >= 0 && n < values().length ? values()[n] : null;
  }
}
