package posada.server.runs;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.LongConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.formats.files.Extra;
import posada.formats.files.FileTrouble;
import posada.formats.gltf.ImportException;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.FramePlan;
import posada.formats.ledger.Standings;
import posada.server.ledger.LedgerService;
import posada.server.storage.StorageHealth;

/** Turns started strands into tasks, in the background. */
@Component
class RunPlanner {
  private static final Logger LOG = LoggerFactory.getLogger(RunPlanner.class);

  /** Frames that become tasks at once. */
  private static final int AT_ONCE = 500;

  private final RunRepository runs;
  private final TaskRepository tasks;
  private final LedgerService ledger;
  private final StorageHealth storage;
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "planner"));
  private volatile boolean closed;

  RunPlanner(
      RunRepository runs, TaskRepository tasks, LedgerService ledger, StorageHealth storage) {
    this.runs = runs;
    this.tasks = tasks;
    this.ledger = ledger;
    this.storage = storage;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * Plans a strand when those before it are planned.
   *
   * @param stop ends it; it can be begun again
   * @param planned hears of the strand whenever there are more tasks, and at the end
   */
  void plan(long strand, Stop stop, LongConsumer planned) {
    Stop either = () -> closed || stop.asked();
    thread.execute(
        () -> {
          while (!closed && !plannedOrFailed(strand, either, planned)) {
            continue;
          }
          if (!closed) {
            storage.keep(() -> planned.accept(strand), () -> closed);
          }
        });
  }

  /** Returns false if the database failed meanwhile, after it is back. */
  private boolean plannedOrFailed(long strand, Stop stop, LongConsumer planned) {
    try {
      planNow(strand, stop, planned);
    } catch (ImportException | IOException | RuntimeException | OutOfMemoryError e) {
      if (closed) {
        return true;
      }
      if (StorageHealth.isDown(e)) {
        storage.failed(e);
        return !storage.await(0, stop::asked);
      }
      LOG.warn("strand {} cannot be planned", strand, e);
      String why = "Its frames cannot be rendered: " + FileTrouble.sentence(e);
      storage.keep(() -> runs.planned(strand, why), () -> closed);
    }
    return true;
  }

  /** What is to be made of the frames: nothing of a few, and not again what is there already. */
  private static Set<Extra> extras(RunStrand s, FramePlan.Place at, boolean anything) {
    StrandDocument d = at.document();
    boolean all = s.kind() == Run.Kind.AGAIN || s.frames().equals(d.frames());
    if (s.kind() == Run.Kind.PROOF || !all) {
      return Set.of();
    }
    Set<Extra> wanted = new TreeSet<>(d.settings().delivery().extras());
    wanted.removeIf(e -> !anything && Files.exists(Finishing.file(d, at.folder(), e)));
    return wanted;
  }

  private void planNow(long id, Stop stop, LongConsumer planned)
      throws ImportException, IOException {
    RunStrand s = runs.find(id).orElse(null);
    if (s == null || !s.state().open() || runs.isPlanned(id)) {
      return;
    }
    StrandDocument d = s.settings();
    ledger.forget(s.shotId(), s.layerId());
    Standings now = ledger.find(s.shotId(), s.layerId(), d, stop);
    if (now == null) {
      return;
    }
    Set<Integer> chosen = Set.copyOf(FrameRange.parse(s.frames()).frames());
    if (s.again() != null) {
      now = now.without(chosen);
    }
    FramePlan.Place at = new FramePlan.Place(d, Path.of(s.folder()));
    if (s.planned() == 0) {
      at = FramePlan.place(ledger.rows(s.shotId(), s.layerId()), now, at, id, x -> {});
      ledger.forget(s.shotId(), s.layerId());
      runs.place(id, at.document(), at.folder().toString());
    }
    boolean anything = false;
    for (int i = 0; i < now.of().length; i++) {
      anything |= !now.of()[i].good() && chosen.contains(now.frames().get(i));
    }
    StrandDocument rendered = s.again() == null ? at.document() : s.again().of(at.document());
    FrameJob job = anything ? ledger.job(rendered, at.folder()) : null;
    if (anything && FrameJob.bakes(rendered)) {
      tasks.addBake(id);
    }
    boolean comb = runs.run(s.runId()).orElseThrow().comb();
    // What was planned before the server ended stays as it is.
    AtomicInteger there = new AtomicInteger(s.planned());
    boolean all =
        FramePlan.frames(
            now,
            job,
            s.again(),
            chosen::contains,
            comb,
            AT_ONCE,
            stop,
            some -> {
              int old = Math.min(some.size(), there.get());
              there.addAndGet(-old);
              if (old < some.size()) {
                tasks.add(id, some.subList(old, some.size()));
                planned.accept(id);
              }
            });
    if (all) {
      boolean whole = true;
      for (int i = 0; i < now.of().length; i++) {
        whole &= now.of()[i].good() || chosen.contains(now.frames().get(i));
      }
      tasks.addExtras(id, whole ? extras(s, at, anything) : Set.of());
      runs.planned(id, null);
    }
  }
}
