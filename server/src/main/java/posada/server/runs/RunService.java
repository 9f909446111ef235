package posada.server.runs;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.Finding;
import posada.core.plan.Finding.Severity;
import posada.core.plan.FrameRange;
import posada.core.trace.FrameContent;
import posada.formats.files.AtomicFile;
import posada.formats.files.FrameFiles;
import posada.formats.job.Again;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Pushed;
import posada.server.board.BatchChecks;
import posada.server.board.StrandFacts;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.board.StrandPlan.Wanted;
import posada.server.ledger.LedgerService;

/** Starting runs, pausing, cancelling and resuming them, and taking them up after a restart. */
@Service
public class RunService implements StrandFacts {
  private static final Logger LOG = LoggerFactory.getLogger(RunService.class);

  /** A task that failed, or during which the process died, this often is set aside. */
  private static final int MOST_ATTEMPTS = 3;

  /** Letters of a failure that there is room for. */
  private static final int LONGEST_FAILURE = 1900;

  private final RunRepository runs;
  private final TaskRepository tasks;
  private final Dispatcher dispatcher;
  private final RunPlanner planner;
  private final StrandPlan plan;
  private final BatchChecks checks;
  private final LedgerService ledger;
  private final EventHub events;
  private final ApplicationEventPublisher happened;
  private final Set<Long> cancelled = ConcurrentHashMap.newKeySet();

  RunService(
      RunRepository runs,
      TaskRepository tasks,
      Dispatcher dispatcher,
      RunPlanner planner,
      StrandPlan plan,
      BatchChecks checks,
      LedgerService ledger,
      EventHub events,
      ApplicationEventPublisher happened) {
    this.runs = runs;
    this.tasks = tasks;
    this.dispatcher = dispatcher;
    this.planner = planner;
    this.plan = plan;
    this.checks = checks;
    this.ledger = ledger;
    this.events = events;
    this.happened = happened;
  }

  List<RunStrand> all(long production) {
    return runs.all(production);
  }

  /** Returns a strand of a run; the error names its number. */
  public RunStrand find(long id) {
    return runs.find(id).orElseThrow(() -> new NotFoundException("There is no run " + id + "."));
  }

  /** Returns the newest strand of a batch for a layer of a shot that has pictures. */
  public Optional<RunStrand> newestWritten(long shot, long layer) {
    return runs.newestWritten(shot, layer);
  }

  private List<RunStrand> of(long run) {
    List<RunStrand> all = runs.of(run);
    if (all.isEmpty()) {
      throw new NotFoundException("There is no run " + run + ".");
    }
    return all;
  }

  StrandFrames frames(long id) {
    RunStrand s = find(id);
    List<Integer> all = FrameRange.parse(s.frames()).frames();
    return tasks.frames(id, all.subList(0, Math.min(all.size(), s.planned())));
  }

  /** Starts the render of the first layer of a shot that is on. */
  RunStrand start(long shotId) {
    return start(Run.Kind.BATCH, List.of(chosen(shotId, null, null)), false, null).get(0);
  }

  /**
   * A strand of which frames are to be rendered.
   *
   * @param frames of the shot, as a range; null for all
   */
  public record Chosen(Ready strand, FrameRange frames) {}

  private Chosen chosen(long shot, Long layer, String frames) {
    Ready s = plan.ready(shot, layer);
    if (frames == null || frames.isBlank()) {
      return new Chosen(s, null);
    }
    FrameRange all = FrameRange.parse(s.shot().frames());
    FrameRange some = FrameRange.parse(frames);
    Set<Integer> there = Set.copyOf(all.frames());
    List<Integer> beyond = some.frames().stream().filter(f -> !there.contains(f)).limit(1).toList();
    if (!beyond.isEmpty()) {
      throw new IllegalArgumentException(
          "Frame "
              + beyond.get(0)
              + " is none of shot \""
              + s.shot().name()
              + "\"; its frames are "
              + all
              + ".");
    }
    return new Chosen(s, some);
  }

  /**
   * Starts the render of strands: all of them, or none if one of them cannot be rendered.
   *
   * @param wanted null for all of the production that are on and not in a run already
   * @param comb true to begin with frames from all over the ranges
   * @param warnings that whoever starts it has read; null if nobody was asked
   */
  List<RunStrand> startAll(
      long production, List<Wanted> wanted, boolean comb, List<Finding> warnings) {
    List<Chosen> all =
        wanted != null
            ? wanted.stream().map(w -> chosen(w.shotId(), w.layerId(), w.frames())).toList()
            : plan.on(production).stream().map(s -> new Chosen(s, null)).toList();
    if (all.isEmpty()) {
      throw new IllegalArgumentException("No strand is on; switch one on first.");
    }
    return start(Run.Kind.BATCH, all, comb, warnings);
  }

  /** Starts the render of a few frames by which settings are judged. */
  public List<RunStrand> startProof(List<Chosen> all) {
    return start(Run.Kind.PROOF, all, false, null);
  }

  /**
   * Starts the render of frames of a version that were sent back, before everything else, with the
   * settings that it was rendered with: they go into a new version, with the others.
   *
   * @param looked the version, of a shot and a layer that are there
   * @param frames some of its
   */
  public synchronized RunStrand startAgain(RunStrand looked, FrameRange frames, Again again) {
    runs.open(looked.shotId(), looked.layerId()).ifPresent(RunService::busy);
    StrandDocument d = looked.settings();
    String key = StrandPlan.key(d);
    int version = runs.nextVersion(key);
    while (Files.exists(plan.folder(d, version))) {
      version++;
    }
    Run run = runs.add(looked.productionId(), Run.Kind.AGAIN, false, List.of());
    String files = plan.folder(d, version).toString();
    long id =
        runs.add(
            run,
            looked.shotId(),
            looked.layerId(),
            d.withVersion(version),
            files,
            key,
            frames,
            again);
    runs.firstRun(run.id());
    plan(id);
    return changed(id);
  }

  private static void busy(RunStrand busy) {
    throw new ConflictException(
        "Shot \""
            + busy.shot()
            + "\", layer "
            + busy.layer()
            + " is being rendered in run "
            + busy.run()
            + "; wait for it, or cancel it first.");
  }

  /** One start after the other, so that none takes the numbers of another. */
  private synchronized List<RunStrand> start(
      Run.Kind kind, List<Chosen> all, boolean comb, List<Finding> accepted) {
    List<Chosen> idle = all.stream().filter(s -> open(s.strand).isEmpty()).toList();
    if (idle.isEmpty()) {
      open(all.get(0).strand).ifPresent(RunService::busy);
    }
    List<Finding> found = checks.some(idle.stream().map(Chosen::strand).toList()).findings();
    Optional<Finding> error =
        found.stream().filter(f -> f.severity() == Severity.ERROR).findFirst();
    if (error.isPresent()) {
      Finding e = error.get();
      String layer = e.layer() == null ? "" : ", layer " + e.layer();
      throw new ConflictException("Shot \"" + e.shot() + "\"" + layer + ": " + e.text());
    }
    // What has come up since it was read was not accepted.
    List<Finding> warnings =
        accepted == null ? List.of() : found.stream().filter(accepted::contains).toList();
    Run run = runs.add(idle.get(0).strand.production().id(), kind, comb, warnings);
    List<RunStrand> started = idle.stream().map(s -> add(run, s)).toList();
    started.forEach(s -> plan(s.id()));
    return started;
  }

  @Override
  public Set<String> rendered(List<Ready> all) {
    return runs.keys(all.stream().map(Ready::key).collect(Collectors.toSet()));
  }

  /** Returns whether a layer of a shot is being rendered. */
  public boolean isOpen(long shot, long layer) {
    return runs.open(shot, layer).isPresent();
  }

  private Optional<RunStrand> open(Ready s) {
    return runs.open(s.shot().id(), s.layerId());
  }

  /** Freezes what is said about a strand. */
  private RunStrand add(Run run, Chosen c) {
    Ready s = c.strand;
    StrandDocument d = plan.document(s, plan.version(s, runs.nextVersion(s.key())));
    String files = plan.folder(s, d.version()).toString();
    return changed(runs.add(run, s.shot().id(), s.layerId(), d, files, s.key(), c.frames, null));
  }

  private void plan(long id) {
    planner.plan(id, () -> isCancelled(id), this::planned);
  }

  private void planned(long id) {
    dispatcher.changed();
    if (runs.isPlanned(id)) {
      settle(id);
    } else {
      changed(id);
    }
  }

  /** Lets what is in work come to its end and begins nothing more, until it goes on. */
  RunStrand pause(long id) {
    RunStrand s = find(id);
    if (!runs.move(id, RunState.RUNNING, RunState.PAUSED)) {
      throw new ConflictException(s.title() + " is not running.");
    }
    dispatcher.changed();
    return changed(id);
  }

  /** Stops a strand; what is finished stays. */
  RunStrand cancel(long id) {
    RunStrand s = find(id);
    if (!s.state().open() || !runs.move(id, s.state(), RunState.CANCELLED)) {
      throw new ConflictException(s.title() + " is not running.");
    }
    cancelled.add(id);
    tasks.moveAll(id, FrameState.WAITING, FrameState.SKIPPED, null);
    dispatcher.changed();
    tellLedger(s);
    return changed(id);
  }

  /** Goes on with what a paused, cancelled or failed strand has not finished. */
  RunStrand resume(long id) {
    RunStrand s = find(id);
    if (s.state() == RunState.PAUSED) {
      runs.move(id, RunState.PAUSED, RunState.RUNNING);
      dispatcher.changed();
      return changed(id);
    }
    String why = whyNotResumed(s);
    if (why != null) {
      throw new ConflictException(why);
    }
    cancelled.remove(id);
    if (s.failure() != null) {
      runs.unplan(id);
    }
    runs.move(id, s.state(), RunState.RUNNING);
    tasks.moveAll(id, FrameState.SKIPPED, FrameState.WAITING, null);
    tasks.moveAll(id, FrameState.FAILED, FrameState.WAITING, null);
    dispatcher.changed();
    plan(id);
    return changed(id);
  }

  /** Returns why a strand that is not paused cannot go on; null if it can. */
  private String whyNotResumed(RunStrand s) {
    if (s.state() != RunState.CANCELLED && s.state() != RunState.FAILED) {
      return s.title() + " has nothing to go on with.";
    }
    if (!tasks.inWork(s.id()).isEmpty()) {
      return "The last task is still being stopped; try again in a moment.";
    }
    if (s.shotId() == null || s.layerId() == null) {
      return "The shot or the layer of " + s.title() + " is not there any more.";
    }
    return runs.newest(s.shotId(), s.layerId()).orElse(s.id()) == s.id()
        ? null
        : s.title() + " was started again since; what is missing is rendered by a new run.";
  }

  /** Lets a strand go before the others of its run. */
  RunStrand first(long id) {
    find(id);
    runs.first(id);
    dispatcher.changed();
    return changed(id);
  }

  /** What can be said to all strands of a run at once. */
  enum Command {
    PAUSE,
    RESUME,
    CANCEL
  }

  /** Says something to all strands of a run to which it can be said. */
  List<RunStrand> all(long run, Command c) {
    for (RunStrand s : of(run)) {
      switch (c) {
        case PAUSE -> {
          if (s.state() == RunState.RUNNING) {
            pause(s.id());
          }
        }
        case RESUME -> {
          if (s.state() == RunState.PAUSED || whyNotResumed(s) == null) {
            resume(s.id());
          }
        }
        case CANCEL -> {
          if (s.state().open()) {
            cancel(s.id());
          }
        }
      }
    }
    return of(run);
  }

  /** Lets a run go before all others. */
  List<RunStrand> firstOfAll(long run) {
    of(run);
    runs.firstRun(run);
    dispatcher.changed();
    return of(run);
  }

  /** Notes that there is other work, or less of it. */
  public void otherChanged() {
    dispatcher.changed();
  }

  /** Notes that the message of a task of other work has arrived. */
  public void otherArrived(long task) {
    dispatcher.arrived(-task);
  }

  /** Notes that other work has had time of a worker. */
  public void otherWorked(long of, double seconds) {
    dispatcher.worked(-of, seconds);
  }

  /** What a worker has taken: a task, and the strand that it belongs to. */
  public record Taken(Task task, RunStrand strand) {}

  /**
   * Takes a task for a worker, and tells that it is in work.
   *
   * @param again true to take one that is in work, too: its worker could not say what became of it
   * @return nothing if the message is late: cancelled, paused, finished or taken since it was sent
   */
  public Optional<Taken> take(long id, boolean again) {
    boolean taken = tasks.take(id, again);
    dispatcher.arrived(id);
    if (!taken) {
      return Optional.empty();
    }
    Task task = tasks.find(id).orElseThrow();
    RunStrand s = find(task.strandId());
    if (task.kind() == Task.Kind.FRAME) {
      tell(task);
    } else {
      changed(s.id());
    }
    return Optional.of(new Taken(task, s));
  }

  /** Prolongs the lease on a task that takes long. */
  public void prolong(Task t) {
    tasks.prolong(t.id());
  }

  /** Returns the other frames that get the picture of a task's frame. */
  public List<Task> copies(Task t) {
    return tasks.copies(t.strandId(), t.source()).stream().filter(c -> c.id() != t.id()).toList();
  }

  /** Keeps that a frame is written, or was there already: at once in the run and in the ledger. */
  @Transactional
  public void finished(RunStrand s, Task t, FrameContent.Input input, LedgerRow row, double cut) {
    boolean moved =
        row.seconds() == null
            ? tasks.move(t, FrameState.FRESH, null)
            : tasks.finish(t, row.seconds(), cut);
    if (moved) {
      dispatcher.worked(s.runId(), row.seconds() == null ? 0 : row.seconds());
      record(s, input, row);
      tell(t);
      happened.publishEvent(new FrameWritten(s.id(), t.frame()));
    }
  }

  /** Keeps that a frame got the picture of another, likewise. */
  @Transactional
  public void copied(RunStrand s, Task t, FrameContent.Input input, LedgerRow row) {
    if (tasks.copied(t)) {
      record(s, input, row);
      tell(t);
      happened.publishEvent(new FrameWritten(s.id(), t.frame()));
    }
  }

  /** The files of a frame are there. */
  public record FrameWritten(long strandId, int frame) {}

  /** All frames of a strand have come to an end. */
  public record StrandEnded(long strandId) {}

  private void record(RunStrand s, FrameContent.Input input, LedgerRow row) {
    // A shot that was removed meanwhile has no strands any more.
    if (s.shotId() != null && s.layerId() != null) {
      ledger.record(s.shotId(), s.layerId(), input, row);
    }
  }

  /** Keeps that something was made of the frames. */
  public void made(Task t, double seconds) {
    tasks.made(t, seconds);
    dispatcher.changed();
  }

  /**
   * Keeps that a strand's light is baked.
   *
   * @param seconds it took; null if it was there
   */
  public void baked(Task t, Double seconds, int points) {
    tasks.baked(t, seconds, points);
    dispatcher.changed();
  }

  /**
   * Keeps why a task failed: it is tried again behind the others, or set aside.
   *
   * @param forGood true if trying again cannot help
   */
  public void fail(Task t, String why, boolean forGood) {
    String text = why.length() > LONGEST_FAILURE ? why.substring(0, LONGEST_FAILURE) : why;
    if (!forGood && t.attempts() < MOST_ATTEMPTS) {
      tasks.again(t.id(), text);
    } else {
      tasks.move(t, FrameState.FAILED, text);
      if (t.kind() == Task.Kind.FRAME) {
        tasks.failCopies(t, "It gets the picture of frame " + t.frame() + ", which failed.");
      }
    }
    dispatcher.changed();
    tell(t);
  }

  /**
   * Keeps that a task was stopped.
   *
   * @param orderly true if the worker stops, not the run: the task waits as if nobody had begun it
   */
  public void stopped(Task t, boolean orderly) {
    if (orderly) {
      tasks.giveBack(t.id());
    } else {
      tasks.move(t, FrameState.SKIPPED, null);
      tell(t);
    }
  }

  private void tell(Task t) {
    if (t.kind() == Task.Kind.FRAME) {
      tasks
          .line(t.strandId(), t.frame())
          .ifPresent(l -> events.publish(new FrameChange(t.strandId(), l)));
    }
  }

  /** A frame of a strand of a run that changed. */
  @Pushed("frame")
  public record FrameChange(long strandId, FrameLine line) {}

  /** Returns true if a strand was cancelled: its frames in work must stop. */
  public boolean isCancelled(long id) {
    return cancelled.contains(id);
  }

  /**
   * Ends a strand whose last frame has come to an end, or whose light has failed: the frames that
   * wait for it are left out then.
   */
  public void settle(long id) {
    if (find(id).lightIs(FrameState.FAILED)) {
      tasks.moveAll(id, FrameState.WAITING, FrameState.SKIPPED, null);
    }
    RunStrand s = find(id);
    if (s.left() == 0 && s.toFinish() > 0 && s.fresh() < s.total()) {
      tasks.skipFinishing(id);
      s = find(id);
    }
    boolean over = s.left() == 0 && s.toFinish() == 0 || s.failure() != null;
    if (s.state().open() && runs.isPlanned(id) && over) {
      runs.move(id, s.state(), s.hasFailure() ? RunState.FAILED : RunState.DONE);
      tellLedger(s);
      happened.publishEvent(new StrandEnded(id));
    } else if (s.state().open() && s.left() == 0) {
      dispatcher.changed(); // Now what waited for the frames can be made.
    }
    changed(id);
  }

  private void tellLedger(RunStrand s) {
    if (s.shotId() != null && s.layerId() != null) {
      ledger.tell(s.shotId(), s.layerId());
    }
  }

  private RunStrand changed(long id) {
    RunStrand s = find(id);
    events.publish(s);
    return s;
  }

  /**
   * Takes up runs after a restart: frames that were in work wait again, and are found whole if
   * their files are; what was not planned is planned. What a cancelled run had in work has stopped.
   */
  public void recover() {
    dispatcher.clear();
    for (RunStrand s : runs.unfinished()) {
      try {
        takeUp(s);
      } catch (IllegalArgumentException | IOException e) {
        // Whatever is wrong with one run must not keep the others, and the server, from going on.
        LOG.error("run {} cannot be taken up", s.title(), e);
        String why = "This run cannot be taken up: " + e.getMessage();
        String text = why.length() > LONGEST_FAILURE ? why.substring(0, LONGEST_FAILURE) : why;
        tasks.moveAll(s.id(), FrameState.RENDERING, FrameState.FAILED, text);
        tasks.moveAll(s.id(), FrameState.WAITING, FrameState.FAILED, text);
        runs.planned(s.id(), text);
        settle(s.id());
      }
    }
    dispatcher.changed();
  }

  private void takeUp(RunStrand s) throws IOException {
    List<Task> inWork = tasks.inWork(s.id());
    if (!inWork.isEmpty()) {
      AtomicFile.sweep(Path.of(s.folder()));
    }
    if (!s.state().open()) {
      tasks.moveAll(s.id(), FrameState.RENDERING, FrameState.SKIPPED, null);
      return;
    }
    FrameFiles files = FrameJob.files(s.settings(), Path.of(s.folder()));
    for (Task t : inWork) {
      boolean complete = false;
      if (t.kind() == Task.Kind.FRAME) {
        String print = tasks.line(s.id(), t.frame()).orElseThrow().fingerprint();
        complete = print != null && files.complete(t.frame(), print);
      }
      if (complete) {
        tasks.move(t, FrameState.WAITING, null);
      } else if (t.attempts() < MOST_ATTEMPTS) {
        // Behind the others, which go on even if it is what ends the server.
        tasks.again(t.id(), "The server ended while this was in work.");
      } else {
        tasks.move(
            t,
            FrameState.FAILED,
            "The server ended " + t.attempts() + " times while " + doing(t) + ".");
      }
    }
    if (!runs.isPlanned(s.id())) {
      plan(s.id());
    }
    settle(s.id());
    LOG.info("run {} goes on: {} frames to do", s.title(), s.left());
  }

  private static String doing(Task t) {
    return switch (t.kind()) {
      case BAKE -> "baking this light";
      case FRAME -> "rendering this frame";
      case FINISH -> "making " + t.extra().title();
    };
  }

  /**
   * Gives tasks whose worker has not been heard of to others, and chooses anew if that could not be
   * done while the database was down.
   */
  public void goOn() {
    tasks.takeBackFromLost();
    dispatcher.changed();
  }
}
