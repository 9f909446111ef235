package posada.server.shots;

import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.preview.PreviewFilm;
import posada.formats.preview.PreviewRecipe;
import posada.formats.settings.RenderDocument;
import posada.formats.video.FilmWriter;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.productions.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.storage.DataFolder;

/**
 * Draws previews of shots. Each shot has one film, the newest; asking for another stops the one
 * that is being drawn. Films are not kept when the server starts anew: they are made again in
 * seconds.
 */
@Service
public class PreviewService {
  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final Path folder;
  private final NewestJobs<PreviewJob> jobs;

  PreviewService(
      ShotService shots,
      SceneService scenes,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events,
      DataFolder data)
      throws IOException {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
    folder = data.previews();
    jobs = new NewestJobs<>("preview", events, pool, j -> path(j.id()));
  }

  /**
   * Begins to draw a shot.
   *
   * @param frames only these of it; null for all
   * @param r how it is drawn
   */
  PreviewJob start(long shotId, Long layer, String frames, PreviewRecipe r) throws ImportException {
    Shot s = shots.find(shotId);
    RenderDocument d = shots.document(s, layer);
    RenderSettings settings = d.settings();
    Revision revision = scenes.revision(s.revisionId());
    RenderScene scene = library.get(revision, d);
    Production production = scenes.productionOf(revision);
    FrameRate rate = new FrameRate(production.frameRate());
    List<Integer> wanted = new ArrayList<>(whole(s.frames()));
    if (frames != null) {
      wanted.retainAll(FrameRange.parse(frames).frames());
      if (wanted.isEmpty()) {
        throw new IllegalArgumentException(
            "shot \"" + s.name() + "\" has none of the frames " + frames + "; choose others");
      }
    }
    List<Moment> moments = wanted.stream().map(rate::moment).toList();
    Map<String, String> fields =
        Map.of(
            "shot", s.name(),
            "camera", s.camera(),
            "layer", settings.layer().name(),
            "date", LocalDate.now().toString());
    PreviewFilm film =
        new PreviewFilm(
            scene, s.camera(), moments, s.width(), s.height(), rate, settings, r, fields);
    int[] wh = r.size(s.width(), s.height(), true);
    FilmWriter.check(wh[0], wh[1]);
    PreviewJob job =
        new PreviewJob(
            jobs.number(),
            shotId,
            PreviewJob.State.DRAWING,
            0,
            film.drawn().size(),
            0,
            wh[0],
            wh[1],
            null);
    return jobs.begin(
        job, (stop, done) -> film.film(path(job.id()), true, pool.workers(), stop, done));
  }

  /** A range with a step is drawn whole, since it is a film that is to be judged. */
  static List<Integer> whole(String frames) {
    return FrameRange.parse(frames.contains(",") ? frames : frames.replaceFirst("\\s*[x×].*", ""))
        .frames();
  }

  /** Returns the newest preview of a shot, if there is one. */
  Optional<PreviewJob> newest(long shotId) {
    shots.find(shotId);
    return jobs.newest(shotId);
  }

  private PreviewJob one(long shotId) {
    return newest(shotId)
        .orElseThrow(() -> new NotFoundException("Shot " + shotId + " has no preview yet."));
  }

  /** Stops drawing the preview of a shot; one that is finished stays. */
  PreviewJob stop(long shotId) {
    PreviewJob job = one(shotId);
    return jobs.stop(job, job.done(), job.seconds());
  }

  /** Stops and removes the preview of a shot that was removed. */
  void remove(long shotId) {
    jobs.remove(shotId);
  }

  /** Returns the file of a finished preview. */
  public Path film(long shotId, long id) {
    PreviewJob job = one(shotId);
    if (job.id() != id || job.state() != PreviewJob.State.READY) {
      throw new NotFoundException("Preview " + id + " is not there any more; make it again.");
    }
    return path(id);
  }

  private Path path(long id) {
    return folder.resolve("preview-" + id + PreviewFilm.FILM);
  }
}
