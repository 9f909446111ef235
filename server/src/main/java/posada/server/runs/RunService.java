package posada.server.runs;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.trace.RenderScene;
import posada.formats.files.FrameFiles;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RenderDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Pushed;
import posada.server.productions.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.Strand;
import posada.server.shots.StrandService;
import posada.server.storage.DataFolder;

/** Starting runs, cancelling and resuming them, and taking them up after a restart. */
@Service
public class RunService {
  private static final Logger LOG = LoggerFactory.getLogger(RunService.class);

  /** A frame during which the process died this often is not tried again. */
  private static final int MOST_ATTEMPTS = 3;

  private static final int MOST_STARTS = 100;

  private final RunRepository runs;
  private final FrameQueue queue;
  private final ShotService shots;
  private final StrandService strands;
  private final SceneService scenes;
  private final DataFolder folder;
  private final EventHub events;
  private final Clock clock = Clock.systemDefaultZone();
  private final Set<Long> cancelled = ConcurrentHashMap.newKeySet();

  RunService(
      RunRepository runs,
      FrameQueue queue,
      ShotService shots,
      StrandService strands,
      SceneService scenes,
      DataFolder folder,
      EventHub events) {
    this.runs = runs;
    this.queue = queue;
    this.shots = shots;
    this.strands = strands;
    this.scenes = scenes;
    this.folder = folder;
    this.events = events;
  }

  List<Run> all(long production) {
    return runs.all(production);
  }

  /** Returns a run; the error names its number. */
  public Run find(long id) {
    return runs.find(id).orElseThrow(() -> new NotFoundException("There is no run " + id + "."));
  }

  List<LedgerLine> ledger(long id) {
    return runs.ledger(find(id).id());
  }

  /**
   * Starts the render of one layer of a shot.
   *
   * @param layer null for the first that is on
   */
  public Run start(long shotId, Long layer) {
    return start(List.of(ready(shots.find(shotId), layer))).get(0);
  }

  /** A strand by its shot and layer. */
  public record Wanted(long shotId, long layerId) {}

  /**
   * Starts the render of strands: all of them, or none if one of them cannot be rendered.
   *
   * @param wanted null for all of the production that are on
   */
  List<Run> startAll(long production, List<Wanted> wanted) {
    List<Wanted> all =
        wanted != null
            ? wanted
            : strands.all(production).stream()
                .filter(Strand::on)
                .map(s -> new Wanted(s.shotId(), s.layerId()))
                .toList();
    if (all.isEmpty()) {
      throw new IllegalArgumentException("No strand is on; switch one on first.");
    }
    return start(all.stream().map(w -> ready(shots.find(w.shotId()), w.layerId())).toList());
  }

  /** A strand that can be rendered, with all that is said about it. */
  private record Ready(Shot shot, Revision revision, RenderDocument document) {}

  private Ready ready(Shot shot, Long layer) {
    Revision r = scenes.revision(shot.revisionId());
    RenderDocument d = shots.document(shot, layer);
    checkMemory(shot, d, r);
    new NamePattern(d.delivery().pattern()).check(FrameRange.parse(shot.frames()).size());
    return new Ready(shot, r, d);
  }

  private List<Run> start(List<Ready> all) {
    Production p = scenes.productionOf(all.get(0).revision());
    int batch = runs.nextBatch(p.id());
    return all.stream().map(s -> start(p, batch, s)).toList();
  }

  /** Freezes what is said about a strand and sends its frames to the queue. */
  private Run start(Production p, int batch, Ready s) {
    for (int attempt = 1; ; attempt++) {
      try {
        long id = add(p, batch, s);
        List<Integer> frames = FrameRange.parse(s.shot().frames()).frames();
        queue.send(id, find(id).lightIs(FrameState.WAITING), frames);
        return changed(id);
      } catch (DuplicateKeyException taken) {
        // Another run of the strand was started at the same moment.
        if (attempt == MOST_STARTS) {
          throw new ConflictException(
              "Too many runs of \"" + s.shot().name() + "\" are being started at once; try again.");
        }
      }
    }
  }

  private long add(Production p, int batch, Ready ready) {
    Shot shot = ready.shot();
    Revision r = ready.revision();
    RenderDocument d = ready.document();
    String key = DataFolder.versionsKey(p.name(), shot.name(), d.layer().name());
    int number = runs.nextNumber(key);
    while (Files.exists(folder.version(p.name(), shot.name(), d.layer().name(), number))) {
      number++; // Files of a run that is not known here: they are not ours to write over.
    }
    StrandDocument s =
        new StrandDocument(
            StrandDocument.SCHEMA,
            p.name(),
            r.scene(),
            r.number(),
            r.sha256(),
            r.fileName(),
            shot.name(),
            shot.camera(),
            shot.frames(),
            p.frameRate(),
            shot.scaledWidth(),
            shot.scaledHeight(),
            d,
            number,
            LocalDate.now(clock).toString());
    Path files = folder.version(p.name(), shot.name(), d.layer().name(), number);
    FrameJob.files(s, files); // Refuses what cannot be written.
    return runs.add(p.id(), batch, shot.id(), s, files.toString(), key);
  }

  private static void checkMemory(Shot shot, RenderDocument d, Revision r) {
    long frame = RenderScene.filmBytes(shot.scaledWidth(), shot.scaledHeight(), d.settings());
    long need = r.report().memoryBytes() + frame;
    long most = Runtime.getRuntime().maxMemory();
    if (need > most) {
      throw new ConflictException(
          String.format(
              java.util.Locale.ROOT,
              "Shot \"%s\" needs about %.1f GB and the server has %.1f GB; choose a smaller scale or fewer passes.",
              shot.name(),
              need / 1e9,
              most / 1e9));
    }
  }

  /** Stops a run; what is finished stays. */
  Run cancel(long id) {
    Run run = find(id);
    if (!runs.move(id, RunState.RUNNING, RunState.CANCELLED)) {
      throw new ConflictException("Run " + run.shot() + " v" + run.number() + " is not running.");
    }
    cancelled.add(id);
    runs.moveAll(id, FrameState.WAITING, FrameState.SKIPPED);
    return changed(id);
  }

  /** Goes on with what a cancelled or failed run has not finished. */
  Run resume(long id) {
    Run run = find(id);
    if (run.state() != RunState.CANCELLED && run.state() != RunState.FAILED) {
      throw new ConflictException(
          "Run " + run.shot() + " v" + run.number() + " has nothing to go on with.");
    }
    boolean rendering =
        runs.ledger(id).stream().anyMatch(l -> l.state() == FrameState.RENDERING)
            || run.lightIs(FrameState.RENDERING);
    if (rendering) {
      throw new ConflictException("The last task is still being stopped; try again in a moment.");
    }
    cancelled.remove(id);
    runs.move(id, run.state(), RunState.RUNNING);
    runs.moveAll(id, FrameState.SKIPPED, FrameState.WAITING);
    runs.moveAll(id, FrameState.FAILED, FrameState.WAITING);
    send(id);
    return changed(id);
  }

  private void send(long id) {
    queue.send(
        id,
        find(id).lightIs(FrameState.WAITING),
        runs.ledger(id).stream()
            .filter(l -> l.state() == FrameState.WAITING)
            .map(LedgerLine::frame)
            .toList());
  }

  /**
   * Takes a task for a worker, and tells that it is in work.
   *
   * @param again true to take one that is in work, too: its worker could not say what became of it
   * @return the run; nothing if the message is late: cancelled, finished or taken since it was sent
   */
  public Optional<Run> take(FrameQueue.Task task, boolean again) {
    boolean taken =
        task.frame() == null
            ? runs.takeBake(task.runId(), again)
            : runs.take(task.runId(), task.frame(), again);
    if (!taken) {
      return Optional.empty();
    }
    Run run = find(task.runId());
    if (task.frame() == null) {
      changed(run.id());
    } else {
      tell(run.id(), task.frame());
    }
    return Optional.of(run);
  }

  /** Keeps what a frame in work is made from. */
  public void begun(long runId, int frame, String fingerprint) {
    runs.begun(runId, frame, fingerprint);
  }

  /** Keeps that a frame was there already. */
  public void there(long runId, int frame) {
    runs.move(runId, frame, FrameState.FRESH, null);
    tell(runId, frame);
  }

  /** Keeps that a frame is written. */
  public void finished(long runId, int frame, FrameJob.Done done) {
    runs.finish(runId, frame, done.seconds(), done.report().shareCut());
    tell(runId, frame);
  }

  /**
   * Keeps that a run's light is baked.
   *
   * @param seconds it took; null if it was there
   */
  public void baked(long runId, Double seconds, int points) {
    runs.moveBake(runId, FrameState.FRESH, seconds, points, null);
  }

  /** Keeps why a task failed. */
  public void fail(FrameQueue.Task task, String why) {
    if (task.frame() == null) {
      runs.moveBake(task.runId(), FrameState.FAILED, null, null, why);
    } else {
      runs.move(task.runId(), task.frame(), FrameState.FAILED, why);
      tell(task.runId(), task.frame());
    }
  }

  /**
   * Keeps that a task was stopped.
   *
   * @param orderly true if the worker stops, not the run: the task waits as if nobody had begun it
   */
  public void stopped(FrameQueue.Task task, boolean orderly) {
    long run = task.runId();
    if (task.frame() == null && orderly) {
      runs.giveBackBake(run);
    } else if (task.frame() == null) {
      runs.moveBake(run, FrameState.SKIPPED, null, null, null);
    } else if (orderly) {
      runs.giveBack(run, task.frame());
    } else {
      runs.move(run, task.frame(), FrameState.SKIPPED, null);
      tell(run, task.frame());
    }
  }

  private void tell(long runId, int frame) {
    runs.line(runId, frame).ifPresent(l -> events.publish(new FrameChange(runId, l)));
  }

  /** A line of the ledger that changed. */
  @Pushed("frame")
  public record FrameChange(long runId, LedgerLine line) {}

  /** Returns true if a run was cancelled: its frames in work must stop. */
  public boolean isCancelled(long id) {
    return cancelled.contains(id);
  }

  /**
   * Ends a run whose last frame has come to an end, or whose light has failed: the frames that wait
   * for it are left out then.
   */
  public void settle(long id) {
    if (find(id).lightIs(FrameState.FAILED)) {
      runs.moveAll(id, FrameState.WAITING, FrameState.SKIPPED);
    }
    Run run = find(id);
    if (run.state() == RunState.RUNNING && run.left() == 0) {
      runs.move(id, RunState.RUNNING, run.hasFailure() ? RunState.FAILED : RunState.DONE);
    }
    changed(id);
  }

  private Run changed(long id) {
    Run run = find(id);
    events.publish(run);
    return run;
  }

  /**
   * Takes up runs after a restart: frames that were in work are finished if their files are whole,
   * or wait again; the queue is filled anew from the ledger. What a cancelled run had in work has
   * stopped.
   */
  public void recover() {
    queue.clear();
    for (Run run : runs.unfinished()) {
      try {
        takeUp(run);
      } catch (IllegalArgumentException | IOException e) {
        // Whatever is wrong with one run must not keep the others, and the server, from going on.
        LOG.error("run {} v{} cannot be taken up", run.shot(), run.number(), e);
        String why = "This run cannot be taken up: " + e.getMessage();
        runs.failAll(run.id(), why.length() > 1900 ? why.substring(0, 1900) : why);
        settle(run.id());
      }
    }
  }

  private void takeUp(Run run) throws IOException {
    if (run.state() != RunState.RUNNING) {
      runs.moveAll(run.id(), FrameState.RENDERING, FrameState.SKIPPED);
      return;
    }
    takeUpLight(run);
    FrameFiles files = FrameJob.files(run.settings(), Path.of(run.folder()));
    for (LedgerLine l : runs.ledger(run.id())) {
      if (l.state() == FrameState.RENDERING) {
        files.removeParts(l.frame());
        takeUp(run, l, files.complete(l.frame(), l.fingerprint()));
      }
    }
    settle(run.id());
    send(run.id());
    LOG.info("run {} v{} goes on: {} frames to do", run.shot(), run.number(), run.left());
  }

  private void takeUpLight(Run run) {
    if (!run.lightIs(FrameState.RENDERING)) {
      return;
    }
    int attempts = run.bakes().get(0).attempts();
    if (attempts >= MOST_ATTEMPTS) {
      String why = "The server ended " + attempts + " times while baking this light.";
      runs.moveBake(run.id(), FrameState.FAILED, null, null, why);
    } else {
      runs.moveBake(run.id(), FrameState.WAITING, null, null, null);
    }
  }

  private void takeUp(Run run, LedgerLine l, boolean complete) {
    if (complete) {
      runs.move(run.id(), l.frame(), FrameState.FRESH, null);
    } else if (l.attempts() >= MOST_ATTEMPTS) {
      runs.move(
          run.id(),
          l.frame(),
          FrameState.FAILED,
          "The server ended " + l.attempts() + " times while rendering this frame.");
    } else {
      runs.move(run.id(), l.frame(), FrameState.WAITING, null);
    }
  }
}
