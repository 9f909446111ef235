package posada.server.runs;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.plan.Finding;
import posada.core.plan.Finding.Severity;
import posada.core.plan.FrameRange;
import posada.formats.files.FrameFiles;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Pushed;
import posada.server.runs.StrandPlan.Ready;
import posada.server.runs.StrandPlan.Wanted;

/** Starting runs, cancelling and resuming them, and taking them up after a restart. */
@Service
public class RunService {
  private static final Logger LOG = LoggerFactory.getLogger(RunService.class);

  /** A frame during which the process died this often is not tried again. */
  private static final int MOST_ATTEMPTS = 3;

  private final RunRepository runs;
  private final FrameQueue queue;
  private final StrandPlan plan;
  private final EventHub events;
  private final Set<Long> cancelled = ConcurrentHashMap.newKeySet();

  RunService(RunRepository runs, FrameQueue queue, StrandPlan plan, EventHub events) {
    this.runs = runs;
    this.queue = queue;
    this.plan = plan;
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

  /** Starts the render of the first layer of a shot that is on. */
  Run start(long shotId) {
    return start(List.of(plan.ready(shotId, null))).get(0);
  }

  /**
   * Starts the render of strands: all of them, or none if one of them cannot be rendered.
   *
   * @param wanted null for all of the production that are on
   */
  List<Run> startAll(long production, List<Wanted> wanted) {
    List<Ready> all =
        wanted == null
            ? plan.on(production)
            : wanted.stream().map(w -> plan.ready(w.shotId(), w.layerId())).toList();
    if (all.isEmpty()) {
      throw new IllegalArgumentException("No strand is on; switch one on first.");
    }
    return start(all);
  }

  /** Returns what is wrong with all strands of a production that are on. */
  List<Finding> check(long production) {
    return plan.check(plan.on(production));
  }

  /** One start after the other, so that none takes the numbers of another. */
  private synchronized List<Run> start(List<Ready> all) {
    Optional<Finding> error =
        plan.check(all).stream().filter(f -> f.severity() == Severity.ERROR).findFirst();
    if (error.isPresent()) {
      Finding e = error.get();
      throw new ConflictException(
          "Shot \"" + e.shot() + "\", layer " + e.layer() + ": " + e.text());
    }
    long production = all.get(0).production().id();
    int batch = runs.nextBatch(production);
    return all.stream().map(s -> start(production, batch, s)).toList();
  }

  /** Freezes what is said about a strand and sends its frames to the queue. */
  private Run start(long production, int batch, Ready s) {
    StrandDocument d = plan.document(s, plan.version(s, runs.nextNumber(s.key())));
    String files = plan.folder(s, d.version()).toString();
    long id = runs.add(production, batch, s.shot().id(), d, files, s.key());
    List<Integer> frames = FrameRange.parse(d.frames()).frames();
    queue.send(id, find(id).lightIs(FrameState.WAITING), frames);
    return changed(id);
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
