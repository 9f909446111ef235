package posada.server.board;

import io.swagger.v3.oas.annotations.media.Schema;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.formats.files.Delivery;
import posada.formats.files.FrameFiles;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.server.board.StrandPlan.Ready;

@RestController
class PathController {
  private final StrandPlan plan;

  PathController(StrandPlan plan) {
    this.plan = plan;
  }

  /** A delivery that a strand may get. */
  record Asked(long shotId, long layerId, Delivery delivery) {}

  /**
   * Where files would lie.
   *
   * @param folder of the next version, absolute
   * @param first paths below it of the first frame
   * @param last likewise of the last
   * @param refusal why they cannot be written; null if they can
   */
  record Paths(
      String folder,
      List<String> first,
      List<String> last,
      @Schema(types = {"string", "null"}) String refusal) {}

  /** Where the files of a strand would lie; nothing is kept. */
  @PostMapping("/api/strands/paths")
  Paths paths(@RequestBody Asked a) {
    Ready s = plan.ready(a.shotId, a.layerId);
    StrandDocument d = plan.document(s, plan.version(s, 1)).with(a.delivery);
    Path folder = plan.folder(s, d.version());
    FrameRange frames = FrameRange.parse(d.frames());
    try {
      new NamePattern(a.delivery.pattern()).check(frames.size());
      FrameFiles files = FrameJob.files(d, folder);
      List<Path> last = new ArrayList<>(files.paths(frames.last()));
      a.delivery.extras().forEach(e -> last.add(Finishing.file(d, folder, e)));
      return new Paths(
          folder.toString(), below(folder, files.paths(frames.first())), below(folder, last), null);
    } catch (IllegalArgumentException e) {
      return new Paths(folder.toString(), List.of(), List.of(), e.getMessage());
    }
  }

  private static List<String> below(Path folder, List<Path> all) {
    return all.stream().map(p -> folder.relativize(p).toString().replace('\\', '/')).toList();
  }
}
