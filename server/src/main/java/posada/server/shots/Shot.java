package posada.server.shots;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.plan.FrameRange;
import posada.core.settings.Limits;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.formats.files.FileFormat;

/**
 * A camera with a frame range, size and settings.
 *
 * @param version counts changes, for noticing two at once
 * @param frames as written, such as {@code 1-96x4}
 * @param scale percent of the size: 25, 50 or 100
 * @param passes names of passes
 * @param formats names of file formats
 * @param settings what else it says about rendering, after docs/settings.md; empty for the defaults
 */
public record Shot(
    long id,
    int version,
    long revisionId,
    String name,
    String camera,
    String frames,
    int width,
    int height,
    int scale,
    int samples,
    List<String> passes,
    List<String> formats,
    Map<String, Object> settings) {
  public Shot {
    settings = settings == null ? Map.of() : settings;
    if (name == null || name.isBlank() || name.length() > 100) {
      throw new IllegalArgumentException("a shot's name needs 1 .. 100 letters");
    }
    FrameRange.parse(frames);
    if (!List.of(25, 50, 100).contains(scale)) {
      throw new IllegalArgumentException("scale must be 25, 50 or 100 % (got " + scale + ")");
    }
    side("width", width);
    side("height", height);
    RenderSettings.of(samples, 0);
    if (passes.isEmpty() || formats.isEmpty()) {
      throw new IllegalArgumentException("a shot needs at least one pass and one file format");
    }
    passes.forEach(Pass::named);
    formats.forEach(FileFormat::named);
  }

  private static void side(String what, int pixels) {
    if (pixels < 16 || pixels > Limits.MAX_SIDE) {
      throw new IllegalArgumentException(
          what + " must be 16 .. " + Limits.MAX_SIDE + " pixels (got " + pixels + ")");
    }
  }

  public int scaledWidth() {
    return Math.max(1, Math.round(width * scale / 100f));
  }

  public int scaledHeight() {
    return Math.max(1, Math.round(height * scale / 100f));
  }

  /** Returns the passes in catalogue order. */
  public Set<Pass> passSet() {
    Set<Pass> set = new LinkedHashSet<>();
    passes.forEach(p -> set.add(Pass.named(p)));
    return set;
  }

  Shot at(long newRevision) {
    return new Shot(
        id,
        version,
        newRevision,
        name,
        camera,
        frames,
        width,
        height,
        scale,
        samples,
        passes,
        formats,
        settings);
  }
}
