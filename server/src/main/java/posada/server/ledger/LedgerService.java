package posada.server.ledger;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Service;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.trace.FrameContent;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.Comparison;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.formats.ledger.Standing;
import posada.formats.ledger.Standings;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.scenes.SceneLibrary;

/** Which frames of which strands are fresh, and why the others are not. */
@Service
public class LedgerService {
  private static final Logger LOG = LoggerFactory.getLogger(LedgerService.class);

  /** Milliseconds between two words about strands that are being rendered. */
  private static final long TELL_EVERY = 1500;

  private static final long NANOS_PER_FRAME = 1_000_000;

  private final LedgerRepository rows;
  private final StrandPlan plan;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;
  private final Map<Key, Standings> known = new ConcurrentHashMap<>();

  /** Strands of which frames were written, and when that may be told. */
  private final Map<Key, Long> told = new ConcurrentHashMap<>();

  private final Map<Key, Long> next = new ConcurrentHashMap<>();

  /** How often a frame of a strand was written. */
  private final Map<Key, Long> writes = new ConcurrentHashMap<>();

  /** Strands of which frames are being written down, and how many. */
  private final Map<Key, Integer> writing = new ConcurrentHashMap<>();

  private final Set<Key> comparing = ConcurrentHashMap.newKeySet();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "ledger"));
  private volatile boolean closed;

  private record Key(long shot, long layer) {}

  LedgerService(
      LedgerRepository rows,
      StrandPlan plan,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events) {
    this.rows = rows;
    this.plan = plan;
    this.library = library;
    this.pool = pool;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /** Returns what renders the frames of a strand, and says what they are made from. */
  public FrameJob job(StrandDocument d, Path folder) throws ImportException {
    RenderScene scene = library.get(d.sceneSha256(), d.sceneFile(), d.settings());
    return new FrameJob(
        d,
        scene,
        null,
        folder,
        new FrameJob.Machine(
            pool.workers(), pool::batchTime, LedgerService::freeBytes, library.cache()));
  }

  private static long freeBytes() {
    Runtime r = Runtime.getRuntime();
    return r.maxMemory() - r.totalMemory() + r.freeMemory();
  }

  /** Returns how the strands of a production that are on stand, as far as it is known. */
  List<StrandLedger> all(long production) {
    return plan.on(production).stream().map(this::told).toList();
  }

  private StrandLedger told(Ready s) {
    return StrandLedger.of(s.production().id(), s.shot().id(), s.layerId(), standings(s));
  }

  /** What is known of a strand; if it is not all, it is found out and then told to every page. */
  public Standings standings(Ready s) {
    Key key = new Key(s.shot().id(), s.layerId());
    StrandDocument d = plan.document(s, 1);
    long before = written(key);
    Standings now = known(key);
    if (now == null || !now.holds(d.basis(), d.frames())) {
      now = Comparison.atOnce(rows.of(key.shot, key.layer), d);
      if (now.count(Standing.UNKNOWN) == 0) {
        keep(key, before, now);
      } else if (comparing.add(key)) {
        thread.execute(() -> compare(key));
      }
    }
    return now;
  }

  private void compare(Key key) {
    comparing.remove(key);
    try {
      Ready s = plan.ready(key.shot, key.layer);
      Standings found = find(key.shot, key.layer, plan.document(s, 1), () -> closed);
      if (found != null) {
        events.publish(StrandLedger.of(s.production().id(), key.shot, key.layer, found));
      }
    } catch (ImportException | IOException | RuntimeException e) {
      if (!closed) {
        LOG.warn("what shot {} is made from cannot be found out", key.shot, e);
      }
    }
  }

  /**
   * Finds out how the frames of a strand stand.
   *
   * @return null if it was stopped
   */
  public Standings find(long shot, long layer, StrandDocument d, Stop stop)
      throws ImportException, IOException {
    Key key = new Key(shot, layer);
    Standings before = known(key);
    if (before != null && before.holds(d.basis(), d.frames())) {
      return before;
    }
    long writes = written(key);
    Standings s = Comparison.find(rows.of(shot, layer), d, () -> job(d, Path.of("")), stop);
    if (s != null) {
      keep(key, writes, s);
    }
    return s;
  }

  /** What is known of a strand, unless the rows may tell more by now. */
  private Standings known(Key key) {
    return writing.containsKey(key) ? null : known.get(key);
  }

  private long written(Key key) {
    return writes.getOrDefault(key, 0L);
  }

  /** Keeps what was found out, unless a frame was written since. */
  private void keep(Key key, long before, Standings found) {
    known.compute(key, (k, s) -> written(k) == before ? found : s);
  }

  /** Returns the rows of a strand. */
  public LedgerRows rows(long shot, long layer) {
    return rows.of(shot, layer);
  }

  /**
   * Writes down that a frame was rendered or copied. What is known of the strand follows when that
   * is committed: who reads the rows before does not see it yet.
   *
   * @param input what it was made from
   * @param row all but that and its list of things
   */
  public void record(long shot, long layer, FrameContent.Input input, LedgerRow row) {
    rows.put(shot, layer, row.of(input, rows.keep(input.things())));
    Key key = new Key(shot, layer);
    if (!TransactionSynchronizationManager.isSynchronizationActive()) {
      recorded(key, row);
      return;
    }
    // Between the commit and what follows nobody is told what was known before.
    writing.merge(key, 1, Integer::sum);
    TransactionSynchronizationManager.registerSynchronization(
        new TransactionSynchronization() {
          @Override
          public void afterCompletion(int status) {
            if (status != STATUS_ROLLED_BACK) {
              recorded(key, row);
            }
            writing.computeIfPresent(key, (k, n) -> n == 1 ? null : n - 1);
          }
        });
  }

  private void recorded(Key key, LedgerRow row) {
    known.compute(
        key,
        (k, s) -> {
          writes.merge(k, 1L, Long::sum);
          return s != null && s.written(row) ? s : null;
        });
    told.put(key, next.getOrDefault(key, System.nanoTime()));
  }

  /** Tells every page how the strands stand of which frames were written lately. */
  @Scheduled(fixedDelay = TELL_EVERY)
  void tellWritten() {
    long now = System.nanoTime();
    for (Key key : Set.copyOf(told.keySet())) {
      if (told.get(key) - now > 0) {
        continue;
      }
      told.remove(key);
      try {
        StrandLedger l = told(plan.ready(key.shot, key.layer));
        events.publish(l);
        // The longer a strand the more it takes to tell.
        next.put(key, now + l.seconds().length * NANOS_PER_FRAME);
      } catch (NotFoundException removed) {
        continue;
      }
    }
  }

  /**
   * Marks frames, or takes their mark away.
   *
   * @param frames as a range
   * @param mark null for none
   */
  StrandLedger mark(long shot, long layer, String frames, LedgerRow.Mark mark, String note) {
    if (mark == LedgerRow.Mark.AGAIN) {
      throw new IllegalArgumentException("Frames are marked as rendered again by rendering them.");
    }
    List<Integer> all = new ArrayList<>(FrameRange.parse(frames).frames());
    if (rows.mark(shot, layer, all, mark, note) == 0) {
      throw new IllegalArgumentException("No frame of " + frames + " has been rendered.");
    }
    forget(shot, layer);
    StrandLedger now = told(plan.ready(shot, layer));
    events.publish(now);
    return now;
  }

  /** Has all that is known of a strand found out anew, with a look at its files. */
  public void forget(long shot, long layer) {
    known.compute(
        new Key(shot, layer),
        (k, s) -> {
          writes.merge(k, 1L, Long::sum);
          return null;
        });
  }

  /** Tells every page how a strand stands by now. */
  public void tell(long shot, long layer) {
    events.publish(told(plan.ready(shot, layer)));
  }
}
