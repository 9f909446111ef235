package posada.server.review;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import posada.core.settings.Pass;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.review.Footage;
import posada.formats.review.SequenceFolder;
import posada.server.app.NotFoundException;

/** The files of sequences from elsewhere, looked for again now and then: there may be more. */
final class OutsideFiles {
  private static final Cache<List<String>, SequenceFolder.Sequence> FOUND =
      Caffeine.newBuilder().maximumSize(20).expireAfterWrite(Duration.ofSeconds(3)).build();

  private OutsideFiles() {}

  /** Returns the files of a sequence. */
  static SequenceFolder.Sequence files(OutsideSequence s) {
    return FOUND.get(List.of(s.folder(), s.pattern()), k -> find(s));
  }

  private static SequenceFolder.Sequence find(OutsideSequence s) {
    try {
      return SequenceFolder.find(Path.of(s.folder())).stream()
          .filter(f -> f.name().equals(s.pattern()))
          .findFirst()
          .orElseThrow(() -> gone(s));
    } catch (IOException | IllegalArgumentException e) {
      throw gone(s);
    }
  }

  private static NotFoundException gone(OutsideSequence s) {
    return new NotFoundException(
        "The files of " + s.name() + " are not in " + s.folder() + " any more.");
  }

  static Footage footage(OutsideSequence s) {
    SequenceFolder.Sequence files = files(s);
    FileFormat format = format(s.pattern());
    return new Footage(
        s.name(),
        List.copyOf(files.files().keySet()),
        f -> {
          Path p = files.files().get(f);
          return p == null
              ? List.of()
              : List.of(new FrameFiles.Part(format, Set.of(Pass.BEAUTY), p));
        });
  }

  private static FileFormat format(String pattern) {
    String end = pattern.substring(pattern.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
    return switch (end) {
      case "exr" -> FileFormat.EXR;
      case "png" -> FileFormat.PNG8;
      case "tif", "tiff" -> FileFormat.TIFF8;
      default -> FileFormat.JPEG;
    };
  }
}
