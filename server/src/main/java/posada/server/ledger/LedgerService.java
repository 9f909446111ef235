package posada.server.ledger;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Service;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.Freshness;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameContent.Thing;
import posada.core.trace.RenderScene;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.ledger.LedgerRepository.Written;
import posada.server.scenes.SceneLibrary;

/** Which frames of which strands are fresh, and why the others are not. */
@Service
public class LedgerService {
  private static final Logger LOG = LoggerFactory.getLogger(LedgerService.class);

  /** Rows that are looked at together. */
  private static final int AT_ONCE = 1000;

  /** Milliseconds between two words about strands that are being rendered. */
  private static final long TELL_EVERY = 1500;

  private final LedgerRepository rows;
  private final StrandPlan plan;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;
  private final Map<Key, Standings> known = new ConcurrentHashMap<>();
  private final Set<Key> told = ConcurrentHashMap.newKeySet();
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

  /** What is known of a strand; if it is not all, it is found out and then told to every page. */
  private StrandLedger told(Ready s) {
    Key key = new Key(s.shot().id(), s.layerId());
    StrandDocument d = plan.document(s, 1);
    Standings now = known.get(key);
    if (now == null || !now.holds(d.basis(), d.frames())) {
      now = atOnce(key, d);
      if (now.count(Standing.UNKNOWN) == 0) {
        known.put(key, now);
      } else if (comparing.add(key)) {
        thread.execute(() -> compare(key));
      }
    }
    return now.told(s.production().id(), key.shot, key.layer);
  }

  private void compare(Key key) {
    comparing.remove(key);
    try {
      Ready s = plan.ready(key.shot, key.layer);
      Standings found = find(key.shot, key.layer, plan.document(s, 1), () -> closed);
      if (found != null) {
        events.publish(found.told(s.production().id(), key.shot, key.layer));
      }
    } catch (ImportException | IOException | RuntimeException e) {
      if (!closed) {
        LOG.warn("what shot {} is made from cannot be found out", key.shot, e);
      }
    }
  }

  /** What needs no look at the scene. */
  private Standings atOnce(Key key, StrandDocument d) {
    String basis = d.basis();
    Standings s = Standings.empty(basis, d.frames());
    Map<Integer, LedgerRow> there = rows.rows(key.shot, key.layer);
    Map<Long, Written> written =
        rows.written(there.values().stream().map(LedgerRow::strandId).collect(Collectors.toSet()));
    Map<Long, FrameFiles> files = new HashMap<>();
    for (int i = 0; i < s.of().length; i++) {
      LedgerRow r = there.get(s.frames().get(i));
      if (r == null) {
        continue;
      }
      s.rows()[i] = r;
      FrameFiles f =
          files.computeIfAbsent(
              r.strandId(),
              id -> FrameJob.files(written.get(id).document(), written.get(id).folder()));
      if (!f.paths(r.frame()).stream().allMatch(Files::exists)) {
        s.reasons()[i] = "files are gone";
      } else if (r.mark() == LedgerRow.Mark.SUSPECT) {
        s.of()[i] = Standing.SUSPECT;
        s.reasons()[i] = r.note() == null ? "suspect" : "suspect: " + r.note();
      } else {
        s.of()[i] = r.basis().equals(basis) ? Standing.FRESH : Standing.UNKNOWN;
      }
    }
    return s;
  }

  /**
   * Finds out how the frames of a strand stand.
   *
   * @return null if it was stopped
   */
  public Standings find(long shot, long layer, StrandDocument d, Stop stop)
      throws ImportException, IOException {
    Key key = new Key(shot, layer);
    Standings before = known.get(key);
    if (before != null && before.holds(d.basis(), d.frames())) {
      return before;
    }
    Standings s = atOnce(key, d);
    if (s.count(Standing.UNKNOWN) > 0 && !compare(key, s, job(d, Path.of("")), stop)) {
      return null;
    }
    known.put(key, s);
    return s;
  }

  private boolean compare(Key key, Standings s, FrameJob job, Stop stop)
      throws ImportException, IOException {
    Map<String, List<Thing>> lists = new HashMap<>();
    Map<Integer, LedgerRow> whole = new HashMap<>();
    Set<Integer> fresh = new HashSet<>();
    for (int i = 0; i < s.of().length; i++) {
      if (s.of()[i] != Standing.UNKNOWN) {
        continue;
      }
      int frame = s.frames().get(i);
      FrameContent.Input now = stop.asked() ? null : job.input(frame, stop);
      if (now == null) {
        return false;
      }
      if (!whole.containsKey(frame)) {
        int end = Math.min(s.frames().size(), i + AT_ONCE);
        whole = rows.whole(key.shot, key.layer, s.frames().subList(i, end));
      }
      LedgerRow r = whole.get(frame);
      List<String> changes = Freshness.changes(made(r, lists), now);
      if (changes.isEmpty()) {
        s.of()[i] = Standing.FRESH;
        fresh.add(frame);
      } else {
        s.of()[i] = r.mark() == LedgerRow.Mark.KEPT ? Standing.KEPT : Standing.STALE;
        s.reasons()[i] = String.join(", ", changes);
      }
    }
    rows.rebase(key.shot, key.layer, fresh, s.basis());
    return true;
  }

  private Freshness.Made made(LedgerRow r, Map<String, List<Thing>> lists) {
    if (r.parts().isEmpty()) {
      return new Freshness.Made(r.parts(), List.of(), null);
    }
    List<Thing> things = lists.computeIfAbsent(r.things(), rows::things);
    List<Thing> placed = FrameContent.placed(things, r.places());
    return new Freshness.Made(r.parts(), placed, r.met());
  }

  /** Returns where the files of frames lie. */
  public Map<Long, FrameFiles> files(Standings s) {
    Set<Long> strands = new HashSet<>();
    for (LedgerRow r : s.rows()) {
      if (r != null) {
        strands.add(r.strandId());
      }
    }
    Map<Long, FrameFiles> files = new HashMap<>();
    rows.written(strands)
        .forEach((id, w) -> files.put(id, FrameJob.files(w.document(), w.folder())));
    return files;
  }

  /**
   * Writes down that a frame was rendered or copied.
   *
   * @param input what it was made from
   * @param row all but that
   */
  public void record(FrameContent.Input input, LedgerRow row) {
    String things = rows.keep(input.things());
    LedgerRow full =
        new LedgerRow(
            row.shotId(),
            row.layerId(),
            row.frame(),
            row.strandId(),
            row.source(),
            input.parts(),
            things,
            input.places(),
            row.met(),
            row.fingerprint(),
            row.basis(),
            row.seconds(),
            row.samples(),
            row.noise(),
            row.bytes(),
            null,
            null);
    rows.put(full);
    Key key = new Key(row.shotId(), row.layerId());
    known.computeIfPresent(key, (k, s) -> s.written(row) ? s : null);
    told.add(key);
  }

  /** Tells every page how the strands stand of which frames were written lately. */
  @Scheduled(fixedDelay = TELL_EVERY)
  void tellWritten() {
    for (Key key : Set.copyOf(told)) {
      told.remove(key);
      try {
        tell(key.shot, key.layer);
      } catch (NotFoundException removed) {
        continue;
      }
    }
  }

  /** Writes down that the files of fresh frames lie elsewhere by now. */
  public void moved(long shot, long layer, List<Integer> frames, long strand) {
    for (int i = 0; i < frames.size(); i += AT_ONCE) {
      rows.move(shot, layer, frames.subList(i, Math.min(frames.size(), i + AT_ONCE)), strand);
    }
    known.remove(new Key(shot, layer));
  }

  /**
   * Marks frames, or takes their mark away.
   *
   * @param frames as a range
   * @param mark null for none
   */
  StrandLedger mark(long shot, long layer, String frames, LedgerRow.Mark mark, String note) {
    List<Integer> all = new ArrayList<>(FrameRange.parse(frames).frames());
    if (rows.mark(shot, layer, all, mark, note) == 0) {
      throw new IllegalArgumentException("No frame of " + frames + " has been rendered.");
    }
    known.remove(new Key(shot, layer));
    StrandLedger now = told(plan.ready(shot, layer));
    events.publish(now);
    return now;
  }

  /** Has all that is known of a strand found out anew, with a look at its files. */
  public void forget(long shot, long layer) {
    known.remove(new Key(shot, layer));
  }

  /** Tells every page how a strand stands by now. */
  public void tell(long shot, long layer) {
    events.publish(told(plan.ready(shot, layer)));
  }
}
