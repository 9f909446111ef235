package posada.formats.files;

import java.util.List;
import posada.formats.exr.ExrCompression;

/**
 * How files are written, whatever is in them.
 *
 * @param compression of EXR
 * @param perPass true for a file for each pass, false for all passes in one EXR
 * @param quality of JPEG, 1 .. 100
 * @param fill scene-linear colour behind a transparent background in display formats: red, green,
 *     blue; null to keep alpha
 */
public record FileOptions(
    ExrCompression compression, boolean perPass, int quality, List<Float> fill) {
  public static final FileOptions DEFAULT = new FileOptions(ExrCompression.ZIP, false, 92, null);

  public FileOptions {
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
}
