package posada.server.board;

import io.swagger.v3.oas.annotations.media.Schema;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import posada.formats.files.VersionFolders;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RenderDocument;
import posada.server.productions.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.StrandSettings;
import posada.server.storage.DataFolder;

/** Strands as they would be started now: checked, and frozen into documents. */
@Component
public class StrandPlan {
  private final ShotService shots;
  private final SceneService scenes;
  private final DataFolder folder;
  private final Clock clock = Clock.systemDefaultZone();

  StrandPlan(ShotService shots, SceneService scenes, DataFolder folder) {
    this.shots = shots;
    this.scenes = scenes;
    this.folder = folder;
  }

  /**
   * A strand by its shot and layer.
   *
   * @param frames of it that are wanted, as a range; null for all
   */
  public record Wanted(
      long shotId, long layerId, @Schema(types = {"string", "null"}) String frames) {}

  /** A strand with all that is said about it. */
  public record Ready(
      Production production, Shot shot, long layerId, Revision revision, RenderDocument document) {
    /** Returns what is the same for all strands whose files would lie in one folder. */
    public String key() {
      return VersionFolders.key(production.name(), shot.name(), document.layer().name());
    }
  }

  /**
   * Returns a strand of a shot.
   *
   * @param layer null for the first that is on
   */
  public Ready ready(long shotId, Long layer) {
    Shot shot = shots.find(shotId);
    Revision r = scenes.revision(shot.revisionId());
    long id = shots.layer(shot, layer).id();
    return new Ready(scenes.productionOf(r), shot, id, r, shots.document(shot, id));
  }

  /** Returns the strands of a production that are on. */
  public List<Ready> on(long production) {
    List<StrandSettings.On> on = shots.on(production);
    if (on.isEmpty()) {
      return List.of();
    }
    Map<Long, Revision> revisions =
        scenes.revisions(production).stream()
            .collect(Collectors.toMap(Revision::id, Function.identity()));
    Production p = shots.productionOf(on.get(0).shot());
    List<Ready> all = new ArrayList<>();
    for (StrandSettings.On s : on) {
      Revision r = revisions.get(s.shot().revisionId());
      Revision of = r == null ? scenes.revision(s.shot().revisionId()) : r;
      all.add(new Ready(p, s.shot(), s.layerId(), of, s.document()));
    }
    return all;
  }

  /** Returns the next version, from one on, whose folder is not taken by files of others. */
  public int version(Ready s, int from) {
    int number = from;
    while (Files.exists(folder(s, number))) {
      number++; // Files of a run that is not known here: they are not ours to write over.
    }
    return number;
  }

  public Path folder(Ready s, int version) {
    return folder.version(
        s.production().name(), s.shot().name(), s.document().layer().name(), version);
  }

  /** Returns what is the same for all strands whose files lie where a strand's do. */
  public static String key(StrandDocument d) {
    return VersionFolders.key(d.production(), d.shot(), d.settings().layer().name());
  }

  /** Returns the folder of a version of a strand that was frozen. */
  public Path folder(StrandDocument d, int version) {
    return folder.version(d.production(), d.shot(), d.settings().layer().name(), version);
  }

  /** Freezes all that is said about a strand. */
  public StrandDocument document(Ready s, int version) {
    Shot shot = s.shot();
    Revision r = s.revision();
    return new StrandDocument(
        StrandDocument.SCHEMA,
        s.production().name(),
        r.scene(),
        r.number(),
        r.sha256(),
        r.fileName(),
        shot.name(),
        shot.camera(),
        shot.frames(),
        s.production().frameRate(),
        shot.scaledWidth(),
        shot.scaledHeight(),
        s.document(),
        version,
        LocalDate.now(clock).toString());
  }
}
