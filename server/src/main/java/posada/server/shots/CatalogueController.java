package posada.server.shots;

import java.util.Arrays;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import posada.core.settings.PassEntry;
import posada.formats.exr.ExrCompression;
import posada.formats.files.FileFormat;
import posada.formats.preview.PreviewRecipe;
import posada.formats.settings.RenderDocument;

/** What can be chosen from: passes, formats and compressions. */
@RestController
class CatalogueController {
  /**
   * A kind of file.
   *
   * @param display true if it has display values
   */
  record Format(FileFormat name, String extension, String holds, boolean display) {}

  /**
   * How frames can be written.
   *
   * @param compressions of EXR
   */
  record Formats(List<Format> formats, List<ExrCompression> compressions) {}

  /**
   * What is so where nobody says otherwise.
   *
   * @param settings of pictures
   * @param preview how previews are drawn
   */
  record Defaults(RenderDocument settings, PreviewRecipe preview) {}

  @GetMapping("/api/defaults")
  Defaults defaults() {
    return new Defaults(RenderDocument.DEFAULT, PreviewRecipe.DEFAULT);
  }

  @GetMapping("/api/passes")
  List<PassEntry> passes() {
    return PassEntry.all();
  }

  @GetMapping("/api/formats")
  Formats formats() {
    return new Formats(
        Arrays.stream(FileFormat.values())
            .map(f -> new Format(f, f.extension(), f.holds(), f.display()))
            .toList(),
        Arrays.stream(ExrCompression.values()).filter(ExrCompression::written).toList());
  }
}
