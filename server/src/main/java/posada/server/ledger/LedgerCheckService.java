package posada.server.ledger;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.formats.ledger.SamePicture;
import posada.formats.ledger.Standing;
import posada.formats.ledger.Standings;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.storage.DataFolder;

/** Renders some frames that are called fresh again, and compares them with their files. */
@Service
class LedgerCheckService {
  private static final Logger LOG = LoggerFactory.getLogger(LedgerCheckService.class);

  /** Frames of a sample, of different strands as far as there are. */
  private static final int SAMPLE = 6;

  private final LedgerService ledger;
  private final StrandPlan plan;
  private final RenderThreads pool;
  private final EventHub events;
  private final AtomicBoolean running = new AtomicBoolean();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "ledger-check"));
  private volatile boolean closed;
  private volatile boolean stopped;

  LedgerCheckService(LedgerService ledger, StrandPlan plan, RenderThreads pool, EventHub events) {
    this.ledger = ledger;
    this.plan = plan;
    this.pool = pool;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  private record Picked(Ready strand, int frame, LedgerRow row) {}

  /** Begins a check; what comes of it is pushed. */
  LedgerCheck start(long production) {
    List<Picked> sample = sample(production, new Random());
    if (sample.isEmpty()) {
      throw new ConflictException("No frame is fresh; render some first.");
    }
    if (!running.compareAndSet(false, true)) {
      throw new ConflictException("Frames are being compared already; wait for that.");
    }
    stopped = false;
    LedgerCheck begun = new LedgerCheck(production, 0, sample.size(), true, List.of(), null);
    thread.execute(() -> check(production, sample));
    return begun;
  }

  void stop() {
    stopped = true;
  }

  private List<Picked> sample(long production, Random random) {
    List<List<Picked>> fresh = new ArrayList<>();
    for (Ready s : plan.on(production)) {
      Standings now = ledger.standings(s);
      List<Picked> own = new ArrayList<>();
      for (int i = 0; i < now.of().length; i++) {
        if (now.of()[i] == Standing.FRESH) {
          own.add(new Picked(s, now.frames().get(i), now.rows()[i]));
        }
      }
      if (!own.isEmpty()) {
        fresh.add(own);
      }
    }
    List<Picked> some = new ArrayList<>();
    java.util.Collections.shuffle(fresh, random);
    for (int turn = 0; turn < SAMPLE && some.size() < SAMPLE; turn++) {
      for (List<Picked> own : fresh) {
        if (!own.isEmpty() && some.size() < SAMPLE) {
          some.add(own.remove(random.nextInt(own.size())));
        }
      }
    }
    return some;
  }

  private void check(long production, List<Picked> sample) {
    List<String> different = new ArrayList<>();
    int done = 0;
    String failure = null;
    try {
      for (Picked p : sample) {
        pool.awaitRest(() -> closed || stopped);
        Boolean same = closed || stopped ? null : isSame(p);
        if (same == null) {
          failure = "It was stopped.";
          break;
        }
        if (!same) {
          different.add(
              p.strand.shot().name()
                  + ", layer "
                  + p.strand.document().layer().name()
                  + ", frame "
                  + p.frame);
          ledger.mark(
              p.strand.shot().id(),
              p.strand.layerId(),
              Integer.toString(p.frame),
              LedgerRow.Mark.SUSPECT,
              "it came out otherwise when it was rendered again");
        }
        done++;
        events.publish(
            new LedgerCheck(production, done, sample.size(), true, List.copyOf(different), null));
      }
    } catch (ImportException | IOException | RuntimeException | OutOfMemoryError e) {
      LOG.warn("fresh frames cannot be compared", e);
      failure = FileTrouble.sentence(e);
    } finally {
      running.set(false);
    }
    if (!closed) {
      events.publish(
          new LedgerCheck(production, done, sample.size(), false, List.copyOf(different), failure));
    }
  }

  /** Returns whether a frame comes out as its files are; null if it was stopped. */
  private Boolean isSame(Picked p) throws ImportException, IOException {
    StrandDocument d = plan.document(p.strand, 1);
    LedgerRows rows = ledger.rows(p.strand.shot().id(), p.strand.layerId());
    Map<Long, LedgerRows.Written> written = rows.written(Set.of(p.row.writer()));
    LedgerRows.Written where = written.get(p.row.writer());
    Path scratch = Files.createTempDirectory("posada-check");
    try {
      Path light = where.folder().resolve(FrameJob.LIGHT);
      if (FrameJob.bakes(d) && Files.exists(light)) {
        Files.copy(light, scratch.resolve(FrameJob.LIGHT));
      }
      FrameJob job = ledger.job(d, scratch);
      FrameJob.Done again =
          job.render(
              p.row.source(),
              List.of(p.frame),
              true,
              () -> closed || stopped,
              (fraction, renderer) -> {});
      if (again == null) {
        return null;
      }
      FrameFiles files = FrameJob.files(where.document(), where.folder());
      return SamePicture.of(files, job.files(), p.frame);
    } finally {
      DataFolder.remove(scratch);
    }
  }
}
