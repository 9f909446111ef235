package posada.server.runs;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.LongConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import posada.core.parallel.Stop;
import posada.core.plan.Comb;
import posada.core.trace.FrameContent;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.server.ledger.LedgerRow;
import posada.server.ledger.LedgerService;
import posada.server.ledger.Standing;
import posada.server.ledger.Standings;

/**
 * Turns started strands into tasks, in the background: what is fresh is taken over, what is equal
 * is rendered once. Fresh frames stay where they are as long as nothing has to be written over;
 * otherwise they are linked into the folder of the new version, so that every version is whole.
 */
@Component
class RunPlanner {
  private static final Logger LOG = LoggerFactory.getLogger(RunPlanner.class);

  /** Frames that become tasks at once. */
  private static final int AT_ONCE = 500;

  private final RunRepository runs;
  private final TaskRepository tasks;
  private final LedgerService ledger;
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "planner"));
  private volatile boolean closed;

  RunPlanner(RunRepository runs, TaskRepository tasks, LedgerService ledger) {
    this.runs = runs;
    this.tasks = tasks;
    this.ledger = ledger;
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
          try {
            planNow(strand, either, planned);
          } catch (ImportException | IOException | RuntimeException | OutOfMemoryError e) {
            if (closed) {
              return;
            }
            LOG.warn("strand {} cannot be planned", strand, e);
            runs.planned(strand, "Its frames cannot be rendered: " + FileTrouble.sentence(e));
          }
          if (!closed) {
            planned.accept(strand);
          }
        });
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
    if (s.planned() == 0) {
      d = place(s, now);
    }
    boolean comb = runs.run(s.runId()).orElseThrow().comb();
    int n = now.frames().size();
    boolean anything = now.count(Standing.FRESH) + now.count(Standing.KEPT) < n;
    FrameJob job = anything ? ledger.job(d, Path.of(runs.find(id).orElseThrow().folder())) : null;
    if (anything && FrameJob.bakes(d)) {
      tasks.addBake(id);
    }
    Map<String, Integer> sources = new HashMap<>();
    List<TaskRepository.Planned> some = new ArrayList<>();
    for (int i = 0; i < n; i++) {
      int frame = now.frames().get(i);
      LedgerRow row = now.rows()[i];
      int rank = comb ? Comb.rank(i, n) : i;
      if (now.of()[i].good()) {
        some.add(
            new TaskRepository.Planned(
                frame, row.source(), true, row.seconds(), row.fingerprint(), rank));
      } else {
        FrameContent.Input input = stop.asked() ? null : job.input(frame, stop);
        if (input == null) {
          return;
        }
        Integer before = sources.putIfAbsent(input.whole(), frame);
        int source = before == null ? frame : before;
        some.add(
            new TaskRepository.Planned(frame, source, false, null, job.borne(input, source), rank));
      }
      if (some.size() == AT_ONCE || i == n - 1) {
        // What was planned before the server ended stays as it is.
        int there = s.planned() - (i + 1 - some.size());
        if (there < some.size()) {
          tasks.add(id, some.subList(Math.max(0, there), some.size()));
        }
        some.clear();
        planned.accept(id);
      }
    }
    runs.planned(id, null);
  }

  /** Decides where a strand's files go, and brings its fresh frames there. */
  private StrandDocument place(RunStrand s, Standings now) throws IOException {
    Map<Long, FrameFiles> files = ledger.files(now);
    List<Integer> good = new ArrayList<>();
    Long where = null;
    boolean together = true;
    boolean over = false;
    for (int i = 0; i < now.frames().size(); i++) {
      LedgerRow row = now.rows()[i];
      if (now.of()[i].good()) {
        good.add(i);
        together &= where == null || folder(files, where).equals(folder(files, row.strandId()));
        where = row.strandId();
      } else {
        over |= row != null && now.of()[i] != Standing.MISSING;
      }
    }
    if (where == null) {
      return s.settings();
    }
    RunStrand there = runs.find(where).orElseThrow();
    StrandDocument d = s.settings().withVersion(there.number());
    FrameFiles same = FrameJob.files(d, folder(files, where));
    int first = now.frames().get(good.get(0));
    boolean fits = together && !over && same.paths(first).equals(files.get(where).paths(first));
    if (fits || good.size() == now.frames().size()) {
      runs.place(s.id(), d, folder(files, where).toString());
      return d;
    }
    FrameFiles target = FrameJob.files(s.settings(), Path.of(s.folder()));
    List<Integer> moved = new ArrayList<>();
    for (int i : good) {
      LedgerRow row = now.rows()[i];
      List<Path> from = files.get(row.strandId()).paths(row.frame());
      List<Path> to = target.paths(row.frame());
      for (int k = 0; k < to.size(); k++) {
        link(from.get(k), to.get(k));
      }
      moved.add(row.frame());
    }
    Path light = folder(files, where).resolve(FrameJob.LIGHT);
    if (FrameJob.bakes(s.settings()) && Files.exists(light)) {
      link(light, Path.of(s.folder()).resolve(FrameJob.LIGHT));
    }
    ledger.moved(s.shotId(), s.layerId(), moved, s.id());
    return s.settings();
  }

  private static Path folder(Map<Long, FrameFiles> files, long strand) {
    return files.get(strand).folder();
  }

  /** Makes a file appear under a second name, without taking more of the disk where that can be. */
  private static void link(Path from, Path to) throws IOException {
    Files.createDirectories(to.getParent());
    if (Files.exists(to)) {
      return;
    }
    try {
      Files.createLink(to, from);
    } catch (UnsupportedOperationException | IOException e) {
      Files.copy(from, to);
    }
  }
}
