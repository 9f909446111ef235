package posada.formats.files;

import java.util.List;
import posada.core.plan.NamePattern;
import posada.formats.exr.ExrCompression;

/**
 * How frames are written, whatever is in them.
 *
 * @param formats at least one, each once
 * @param pattern of the files' names, see {@link NamePattern}
 * @param compression of EXR
 * @param perPass true for a file for each pass, false for all passes in one EXR
 * @param quality of JPEG, 1 .. 100
 * @param fill scene-linear colour behind a transparent background in display formats: red, green,
 *     blue; null to keep alpha
 */
public record Delivery(
    List<FileFormat> formats,
    String pattern,
    ExrCompression compression,
    boolean perPass,
    int quality,
    List<Float> fill) {
  /** Default layout below a version's folder: a folder for each pass. */
  public static final String PATTERN = "{pass}/{shot}_{layer}_{pass}.{frame:4}";

  public static final Delivery DEFAULT =
      new Delivery(List.of(FileFormat.EXR), PATTERN, ExrCompression.ZIP, false, 92, null);

  public Delivery {
    formats = formats.stream().distinct().toList();
    if (formats.isEmpty()) {
      throw new IllegalArgumentException("at least one format is needed");
    }
    new NamePattern(pattern);
    if (!compression.written()) {
      throw new IllegalArgumentException(
          "compression " + compression.label() + " is read but not written; choose another");
    }
    if (quality < 1 || quality > 100) {
      throw new IllegalArgumentException("JPEG quality must be 1 .. 100 (got " + quality + ")");
    }
    if (fill != null) {
      fill = List.copyOf(fill);
      if (fill.size() != 3 || fill.stream().anyMatch(v -> !(v >= 0 && v < 1e6f))) {
        throw new IllegalArgumentException(
            "the fill must be three numbers of 0 or more (got " + fill + ")");
      }
    }
  }

  /** Returns the same with a file for each pass, or one for all. */
  public Delivery perPass(boolean each) {
    return new Delivery(formats, pattern, compression, each, quality, fill);
  }

  /** Returns the same in other formats. */
  public Delivery as(List<FileFormat> others) {
    return new Delivery(others, pattern, compression, perPass, quality, fill);
  }
}
