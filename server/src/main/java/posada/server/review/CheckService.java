package posada.server.review;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.FrameRange;
import posada.core.review.Fault;
import posada.core.scene.Digest;
import posada.formats.files.FrameFiles;
import posada.formats.job.FrameJob;
import posada.formats.ledger.LedgerRow;
import posada.formats.review.Footage;
import posada.formats.review.SequenceCheck;
import posada.formats.review.SequenceFolder;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Pushed;
import posada.server.app.RenderThreads;
import posada.server.app.Stale;
import posada.server.ledger.LedgerService;
import posada.server.review.FootageCheck.FaultVerdict;
import posada.server.review.FootageService.Looked;
import posada.server.runs.RunService;
import posada.server.runs.RunState;
import posada.server.runs.RunStrand;

/** Checks sequences: strands by itself when they are finished, the others when somebody asks. */
@Service
class CheckService {
  /** Between two words about how far a check is, nanoseconds. */
  private static final long TELL_EVERY = 250_000_000;

  private static final Logger LOG = LoggerFactory.getLogger(CheckService.class);
  private static final int LONGEST = 1000, LONGEST_NAME = 100, LOCKS = 64;

  private final FootageService footage;
  private final CheckRepository checks;
  private final LedgerService ledger;
  private final RenderThreads pool;
  private final EventHub events;

  /** One check of each sequence at a time: who asks meanwhile waits for it. Some share a lock. */
  private final Object[] locks = Stream.generate(Object::new).limit(LOCKS).toArray();

  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "checks"));
  private volatile boolean closed;

  CheckService(
      FootageService footage,
      CheckRepository checks,
      LedgerService ledger,
      RenderThreads pool,
      EventHub events) {
    this.footage = footage;
    this.checks = checks;
    this.ledger = ledger;
    this.pool = pool;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * How far a check is.
   *
   * @param done files that have been read
   * @param open findings that nobody has called fine; -1 while files are being read
   */
  @Pushed("checking")
  record Checking(String key, int done, int total, int open) {}

  /** Checks a strand that has come to its end. */
  @EventListener
  void ended(RunService.StrandEnded e) {
    thread.execute(
        () -> {
          try {
            check(FootageKey.strand(e.strandId()));
          } catch (IOException | RuntimeException | OutOfMemoryError failed) {
            if (!closed) {
              LOG.warn("strand {} cannot be checked", e.strandId(), failed);
            }
          }
        });
  }

  /** Returns what is found in a sequence as it is now; what was found before is kept. */
  FootageCheck check(FootageKey key) throws IOException {
    synchronized (locks[Math.floorMod(key.hashCode(), LOCKS)]) {
      Looked l = footage.find(key);
      TreeMap<Integer, Path> files = files(l);
      if (files.isEmpty()) {
        throw new NotFoundException(l.footage().name() + " has no pictures yet.");
      }
      String stamp = stamp(files);
      FootageCheck found = checks.find(key, stamp).orElse(null);
      if (found == null) {
        found = find(l, files);
        checks.put(key, l.production(), stamp, found);
        events.publish(new Stale(Stale.Kind.SEQUENCECHECKS));
      }
      FootageCheck said = found.with(checks.said(key));
      int n = files.size();
      events.publish(new Checking(key.toString(), n, n, said.open()));
      return said;
    }
  }

  /** The first file of each frame that is there. */
  private static TreeMap<Integer, Path> files(Looked l) {
    TreeMap<Integer, Path> files = new TreeMap<>();
    Footage f = l.footage();
    for (int frame : f.frames()) {
      List<FrameFiles.Part> there = f.there(frame);
      if (!there.isEmpty()) {
        files.put(frame, there.get(0).path());
      }
    }
    return files;
  }

  private static String stamp(Map<Integer, Path> files) throws IOException {
    List<Object> all = new ArrayList<>();
    for (Path p : files.values()) {
      all.add(p.getFileName().toString());
      all.add(Files.size(p));
      all.add(Files.getLastModifiedTime(p).toMillis());
    }
    return Digest.of(all);
  }

  private FootageCheck find(Looked l, TreeMap<Integer, Path> files) throws IOException {
    RunStrand run = l.run();
    SequenceFolder.Sequence s =
        run == null
            ? OutsideFiles.files(l.outside())
            : new SequenceFolder.Sequence(
                files.firstEntry().getValue().getFileName().toString(), files);
    boolean ended = run != null && run.state() != RunState.CANCELLED && !run.state().open();
    long[] told = {System.nanoTime() - TELL_EVERY};
    SequenceCheck c =
        SequenceCheck.of(
            s,
            ended ? wanted(run, files) : null,
            pool.workers(),
            () -> {
              pool.letWatchedFirst();
              return closed;
            },
            n -> tell(l, n, files.size(), told));
    if (c == null) {
      throw new IOException("it was stopped");
    }
    return FootageCheck.of(c, run == null ? List.of() : ledger(run));
  }

  /** The frames that should be there: those that are, and those that the run was to render. */
  private static List<Integer> wanted(RunStrand run, TreeMap<Integer, Path> files) {
    TreeSet<Integer> all = new TreeSet<>(files.keySet());
    all.addAll(FrameRange.parse(run.frames()).frames());
    return List.copyOf(all);
  }

  private void tell(Looked l, int done, int total, long[] told) {
    long now = System.nanoTime();
    synchronized (told) {
      if (now - told[0] < TELL_EVERY) {
        return;
      }
      told[0] = now;
    }
    events.publish(new Checking(l.key().toString(), done, total, -1));
  }

  /** Files that are not the ones that the ledger knows. */
  private List<Fault> ledger(RunStrand run) {
    if (run.shotId() == null || run.layerId() == null) {
      return List.of();
    }
    FrameFiles files = FrameJob.files(run.settings(), Path.of(run.folder()));
    List<Fault> all = new ArrayList<>();
    for (LedgerRow r : ledger.rows(run.shotId(), run.layerId()).slim().values()) {
      boolean there = files.paths(r.frame()).stream().allMatch(Files::exists);
      if (r.writer() == run.id() && there && !files.complete(r.frame(), r.fingerprint())) {
        String text = "Its files are not the ones that were rendered; something wrote over them.";
        all.add(new Fault(Fault.Kind.LEDGER, List.of(r.frame()), text, null, 0));
      }
    }
    return all;
  }

  /**
   * Says of a finding that it is fine, or wrong.
   *
   * @param verdict null to take back what was said
   */
  @Transactional
  public FootageCheck say(FootageKey key, Fault.Kind kind, int frame, FaultVerdict verdict)
      throws IOException {
    Looked l = footage.find(key);
    if (verdict == null) {
      checks.unsay(key, kind, frame);
    } else {
      if (verdict.word() == FootageCheck.Word.FINE && verdict.reason().isBlank()) {
        throw new IllegalArgumentException("Say why it is fine: the reason is kept.");
      }
      if (verdict.reason().length() > LONGEST || verdict.who().length() > LONGEST_NAME) {
        throw new IllegalArgumentException(
            "a reason has at most 1000 letters, and a name at most 100");
      }
      checks.say(key, l.production(), new CheckRepository.Said(kind, frame, verdict));
    }
    events.publish(new Stale(Stale.Kind.SEQUENCECHECKS));
    return check(key);
  }

  /** Returns how many findings of each checked sequence nobody has called fine. */
  Map<String, Integer> open(long production) {
    Map<String, Integer> all = new TreeMap<>();
    checks
        .all(production)
        .forEach((key, c) -> all.put(key, c.with(checks.said(FootageKey.of(key))).open()));
    return all;
  }
}
