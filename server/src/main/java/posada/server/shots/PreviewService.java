package posada.server.shots;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.files.FileTrouble;
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
  private static final Logger LOG = LoggerFactory.getLogger(PreviewService.class);

  /** Seconds from one word about progress to the next. */
  private static final double TOLD = 0.2;

  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;
  private final Path folder;
  private final AtomicLong numbers = new AtomicLong();

  /** The newest of each shot. */
  private final Map<Long, PreviewJob> jobs = new ConcurrentHashMap<>();

  private final ExecutorService threads =
      Executors.newCachedThreadPool(
          r -> {
            Thread t = new Thread(r, "preview");
            t.setDaemon(true);
            return t;
          });

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
    this.events = events;
    folder = data.previews();
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
            numbers.incrementAndGet(),
            shotId,
            PreviewJob.State.DRAWING,
            0,
            film.drawn().size(),
            0,
            wh[0],
            wh[1],
            null);
    synchronized (this) {
      PreviewJob before = jobs.put(shotId, job);
      if (before != null) {
        forget(before);
      }
      threads.execute(() -> draw(job, film));
    }
    return job;
  }

  /** A range with a step is drawn whole, since it is a film that is to be judged. */
  static List<Integer> whole(String frames) {
    return FrameRange.parse(frames.contains(",") ? frames : frames.replaceFirst("\\s*[x×].*", ""))
        .frames();
  }

  private void forget(PreviewJob job) {
    try {
      Files.deleteIfExists(path(job.id()));
    } catch (IOException e) {
      LOG.warn("preview {} is left behind", job.id(), e);
    }
  }

  private void draw(PreviewJob job, PreviewFilm film) {
    long start = System.nanoTime();
    double[] told = {0};
    PreviewJob[] at = {job};
    try (RenderThreads.Watched first = pool.watch()) {
      boolean finished =
          film.film(
              path(job.id()),
              true,
              pool.workers(),
              () -> !drawing(job),
              n -> {
                double seconds = (System.nanoTime() - start) / 1e9;
                at[0] = at[0].at(PreviewJob.State.DRAWING, n, seconds);
                if (seconds - told[0] >= TOLD) {
                  told[0] = seconds;
                  put(at[0]);
                }
              });
      if (finished) {
        put(at[0].at(PreviewJob.State.READY, job.total(), (System.nanoTime() - start) / 1e9));
      }
      if (!known(job)) {
        forget(job);
      }
    } catch (IOException | IllegalArgumentException e) {
      put(at[0].failed(FileTrouble.sentence(e)));
    } catch (RuntimeException | OutOfMemoryError e) {
      LOG.warn("preview of shot {} failed", job.shotId(), e);
      put(at[0].failed("The preview could not be drawn: " + e));
    }
  }

  /** Keeps the state of a job that is still wanted. */
  private void put(PreviewJob now) {
    PreviewJob kept =
        jobs.computeIfPresent(
            now.shotId(),
            (shot, j) -> j.id() == now.id() && j.state() == PreviewJob.State.DRAWING ? now : j);
    if (kept == now) {
      events.publish(now);
    }
  }

  private boolean known(PreviewJob job) {
    PreviewJob now = jobs.get(job.shotId());
    return now != null && now.id() == job.id();
  }

  private boolean drawing(PreviewJob job) {
    return known(job) && jobs.get(job.shotId()).state() == PreviewJob.State.DRAWING;
  }

  /** Returns the newest preview of a shot, if there is one. */
  Optional<PreviewJob> newest(long shotId) {
    shots.find(shotId);
    return Optional.ofNullable(jobs.get(shotId));
  }

  private PreviewJob one(long shotId) {
    return newest(shotId)
        .orElseThrow(() -> new NotFoundException("Shot " + shotId + " has no preview yet."));
  }

  /** Stops drawing the preview of a shot; one that is finished stays. */
  PreviewJob stop(long shotId) {
    PreviewJob job = one(shotId);
    put(job.at(PreviewJob.State.STOPPED, job.done(), job.seconds()));
    return jobs.get(shotId);
  }

  /** Stops and removes the preview of a shot that was removed. */
  synchronized void remove(long shotId) {
    PreviewJob job = jobs.remove(shotId);
    if (job != null) {
      forget(job);
    }
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
