package posada.server.review;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import posada.formats.gltf.ImportException;
import posada.server.runs.RunStrand;

@RestController
class AgainController {
  private final AgainService again;

  AgainController(AgainService again) {
    this.again = again;
  }

  /**
   * Frames that are sent back.
   *
   * @param strandId the version that was looked at
   * @param frames as a range
   * @param recipeId in place of the strand's; null for that
   * @param more samples on top of what is there; 0 for none
   * @param x share of the picture's width from its left of the box that is rendered alone; y, width
   *     and height likewise; a width of 0 for all of the picture
   */
  record NewAgain(
      long strandId,
      String frames,
      @Schema(types = {"integer", "null"}) Long recipeId,
      int more,
      double x,
      double y,
      double width,
      double height) {}

  /** Renders frames again, before everything else; they go into a new version with the others. */
  @PostMapping("/api/again")
  RunStrand start(@RequestBody NewAgain n) throws IOException, ImportException {
    return again.start(n);
  }
}
