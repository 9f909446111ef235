package posada.server.workers;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.DoubleConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.jms.annotation.JmsListener;
import org.springframework.jms.support.JmsHeaders;
import org.springframework.messaging.handler.annotation.Header;
import org.springframework.stereotype.Component;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameRenderer;
import posada.formats.files.Extra;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.Again;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.server.app.EventHub;
import posada.server.app.Pushed;
import posada.server.app.RenderThreads;
import posada.server.ledger.LedgerService;
import posada.server.runs.OtherWork;
import posada.server.runs.RunService;
import posada.server.runs.RunService.Taken;
import posada.server.runs.RunStrand;
import posada.server.runs.Task;
import posada.server.runs.TaskQueue;
import posada.server.storage.StorageHealth;

/** Bakes light and renders one frame after the other from the queue, with all threads on each. */
@Component
class FrameWorker {
  private static final Logger LOG = LoggerFactory.getLogger(FrameWorker.class);
  static final String LISTENER = "frame-worker";
  private static final long REPORT_EVERY = 250_000_000L;

  /** Between two signs of life while a task is in work. */
  private static final long PROLONG_EVERY = 20_000_000_000L;

  private final RunService runs;
  private final LedgerService ledger;
  private final RenderThreads pool;
  private final EventHub events;
  private final StorageHealth storage;
  private final InWork inWork;
  private final ObjectProvider<OtherWork> others;
  private volatile boolean stopping;

  FrameWorker(
      RunService runs,
      LedgerService ledger,
      RenderThreads pool,
      EventHub events,
      StorageHealth storage,
      InWork inWork,
      ObjectProvider<OtherWork> others) {
    this.others = others;
    this.runs = runs;
    this.ledger = ledger;
    this.pool = pool;
    this.events = events;
    this.storage = storage;
    this.inWork = inWork;
  }

  /**
   * How far a frame in work is.
   *
   * @param extra what is made of the frames; null while something else is done
   * @param frame null while something is done for all of the strand's frames
   * @param secondsLeft for the strand; while something is done for all frames, for that alone
   */
  @Pushed("progress")
  record FrameProgress(
      long strandId,
      Task.Kind kind,
      Extra extra,
      @Schema(types = {"integer", "null"}) Integer frame,
      double fraction,
      double seconds,
      double secondsLeft) {}

  /** Ends what is in work when the server stops, before anything that it needs is closed. */
  @EventListener(ContextClosedEvent.class)
  void stop() {
    stopping = true;
  }

  /**
   * Takes a message. If what becomes of it cannot be kept it is given again.
   *
   * @param again true if it was given before: what it is about may have been left in work
   */
  @JmsListener(destination = TaskQueue.NAME, containerFactory = "frames", id = LISTENER)
  void take(String text, @Header(JmsHeaders.REDELIVERED) boolean again) {
    if (!storage.await(0, () -> stopping)) {
      return; // Whatever waits is sent again at the next start.
    }
    long task = Long.parseLong(text);
    if (task > 0) {
      runs.take(task, again).ifPresent(this::work);
      return;
    }
    try (RenderThreads.Watched batch = pool.batch()) {
      others.forEach(o -> o.work(-task, again, this::stopAsked));
    }
  }

  private boolean stopAsked() {
    pool.letWatchedFirst();
    return stopping;
  }

  private void work(Taken taken) {
    Task task = taken.task();
    RunStrand s = taken.strand();
    String failure = null;
    boolean forGood = false;
    try (RenderThreads.Watched batch = pool.batch()) {
      switch (task.kind()) {
        case BAKE -> bake(s, task);
        case FRAME -> render(s, task);
        case FINISH -> make(s, task);
      }
    } catch (OutOfMemoryError e) {
      failure = "The server's memory was not enough for this.";
    } catch (ImportException | IOException | RuntimeException | Error e) {
      if (StorageHealth.isDown(e)) {
        throw (RuntimeException) e; // No failure of the task: its message is given again.
      }
      LOG.warn("{} of {} failed", task, s.title(), e);
      failure = FileTrouble.sentence(e);
      forGood = e instanceof IllegalArgumentException || e instanceof ImportException;
    }
    if (failure != null) {
      String why = failure;
      boolean last = forGood;
      keep(() -> runs.fail(task, why, last));
    }
    keep(() -> runs.settle(s.id()));
  }

  /** Keeps what became of a task, however long the database is down. */
  private void keep(Runnable change) {
    storage.keep(change, () -> stopping);
  }

  private Stop stop(RunStrand s) {
    return () -> {
      pool.letWatchedFirst();
      return stopping || runs.isCancelled(s.id());
    };
  }

  private FrameJob job(RunStrand s) throws ImportException {
    return ledger.job(s.renderedAs(), Path.of(s.folder()));
  }

  private void bake(RunStrand s, Task task) throws ImportException, IOException {
    FrameJob job = job(s);
    boolean there = job.isBaked();
    long start = pool.batchTime();
    BakedLight light = job.bake(stop(s), once(s, task));
    if (light == null) {
      keep(() -> runs.stopped(task, stopping));
      return;
    }
    Double seconds = there ? null : Double.valueOf((pool.batchTime() - start) / 1e9);
    keep(() -> runs.baked(task, seconds, light.points().count()));
  }

  private void make(RunStrand s, Task task) throws ImportException, IOException {
    long start = pool.batchTime();
    Map<Integer, LedgerRow> rows =
        s.shotId() == null || s.layerId() == null
            ? Map.of()
            : ledger.rows(s.shotId(), s.layerId()).slim();
    Finishing finishing = new Finishing(s.settings(), Path.of(s.folder()));
    if (made(finishing, s, task, rows)) {
      keep(() -> runs.made(task, (pool.batchTime() - start) / 1e9));
    } else {
      keep(() -> runs.stopped(task, stopping));
    }
  }

  /** Makes something of the frames; on a full disk it is begun again when there is room. */
  private boolean made(Finishing finishing, RunStrand s, Task task, Map<Integer, LedgerRow> rows)
      throws IOException {
    Stop stop = stop(s);
    while (true) {
      try {
        return storage.await(0, stop::asked)
            && finishing.make(task.extra(), rows::get, pool.workers(), stop, once(s, task));
      } catch (IOException e) {
        if (storage.hasRoom(0)) {
          throw e;
        }
      }
    }
  }

  private void render(RunStrand s, Task task) throws ImportException, IOException {
    StrandDocument d = s.renderedAs();
    FrameJob job = job(s);
    Stop stop = stop(s);
    FrameContent.Input input = job.input(task.source(), stop);
    long most = job.files().mostBytes(d.width(), d.height());
    if (input == null || !storage.await(most, stop::asked)) {
      keep(() -> runs.stopped(task, stopping));
      return;
    }
    if (s.again() != null && !s.again().whole()) {
      add(job, s, task, input, most, stop);
      return;
    }
    Written written = new Written(s, task, job.borne(input, task.source()), d.basis());
    if (job.files().complete(task.frame(), written.fingerprint)) {
      LedgerRow row = written.row(task.frame(), null, job.files().bytes(task.frame()));
      keep(() -> runs.finished(s, task, input, row, 0));
      return;
    }
    job.files().checkWritable(task.frame());
    List<Task> copies = runs.copies(task);
    List<Integer> frames = new ArrayList<>(List.of(task.frame()));
    copies.forEach(c -> frames.add(c.frame()));
    FrameJob.Done done =
        job.render(task.source(), frames, true, stop, new Listener(s, task, most, stop));
    inWork.forget();
    if (done == null) {
      keep(() -> runs.stopped(task, stopping));
      return;
    }
    for (Task c : copies) {
      LedgerRow row = written.row(c.frame(), done, done.bytes());
      keep(() -> runs.copied(s, c, input, row));
    }
    LedgerRow row = written.row(task.frame(), done, done.bytes());
    keep(() -> runs.finished(s, task, input, row, done.report().shareCut()));
  }

  /** Puts what is rendered into the files that are there of a frame. */
  private void add(
      FrameJob job, RunStrand s, Task task, FrameContent.Input input, long most, Stop stop)
      throws ImportException, IOException {
    Again again = s.again();
    int frame = task.frame();
    LedgerRows rows = ledger.rows(s.shotId(), s.layerId());
    LedgerRow old = rows.whole(List.of(frame)).get(frame);
    if (old == null) {
      throw new IllegalArgumentException("Nothing is known any more of what was there.");
    }
    LedgerRows.Written where = rows.written(List.of(old.writer())).get(old.writer());
    FrameFiles before = FrameJob.files(where.document(), where.folder());
    String bears = again.borne(old.fingerprint(), input);
    FrameJob.Done done = null;
    if (!job.files().complete(frame, bears)) {
      done =
          job.add(again, frame, before, old.fingerprint(), stop, new Listener(s, task, most, stop));
      inWork.forget();
      if (done == null) {
        keep(() -> runs.stopped(task, stopping));
        return;
      }
    }
    long bytes = job.files().bytes(frame);
    // No settings alone make such a picture: it has a basis of its own, and is told by its parts.
    LedgerRow row =
        LedgerRow.written(frame, s.id(), frame, bears, bears, done, true, bytes)
            .marked(LedgerRow.Mark.AGAIN, again.note());
    List<FrameContent.Thing> things = old.things() == null ? List.of() : rows.things(old.things());
    FrameContent.Input of = again.more() > 0 ? input : again.put(old.parts(), things, old.places());
    double cut = done == null ? 0 : done.report().shareCut();
    keep(() -> runs.finished(s, task, of, row, cut));
  }

  /** What the ledger says of all frames that get one picture. */
  private record Written(RunStrand strand, Task task, String fingerprint, String basis) {
    /**
     * @param done null if its files were there
     */
    LedgerRow row(int frame, FrameJob.Done done, long bytes) {
      boolean rendered = frame == task.frame();
      LedgerRow row =
          LedgerRow.written(
              frame, strand.id(), task.source(), fingerprint, basis, done, rendered, bytes);
      boolean other = strand.again() != null && strand.again().differs();
      return other ? row.marked(LedgerRow.Mark.AGAIN, strand.again().note()) : row;
    }
  }

  /** Tells how far a frame is; a picture that does not fit on the disk waits for room. */
  private final class Listener implements FrameJob.Listener {
    private final RunStrand strand;
    private final Task task;
    private final long most;
    private final Stop stop;
    private final long start = pool.batchTime();
    private long last = start;
    private long prolonged = System.nanoTime();

    private Listener(RunStrand strand, Task task, long most, Stop stop) {
      this.strand = strand;
      this.task = task;
      this.most = most;
      this.stop = stop;
    }

    @Override
    public void at(double fraction, FrameRenderer renderer) {
      long now = pool.batchTime();
      if (now - last < REPORT_EVERY) {
        return;
      }
      last = now;
      prolonged = prolong(task, prolonged);
      inWork.show(strand.id(), renderer);
      double seconds = (now - start) / 1e9;
      double each =
          strand.secondsPerFrame() == null ? seconds / fraction : strand.secondsPerFrame();
      double left = seconds / fraction * (1 - fraction) + each * (strand.left() - 1);
      events.publish(
          new FrameProgress(strand.id(), task.kind(), null, task.frame(), fraction, seconds, left));
    }

    @Override
    public boolean again(IOException e) {
      return !storage.hasRoom(most) && storage.await(most, stop::asked);
    }
  }

  private long prolong(Task task, long last) {
    if (System.nanoTime() - last < PROLONG_EVERY) {
      return last;
    }
    runs.prolong(task);
    return System.nanoTime();
  }

  private DoubleConsumer once(RunStrand s, Task task) {
    long start = pool.batchTime();
    AtomicLong prolonged = new AtomicLong(System.nanoTime());
    AtomicLong last = new AtomicLong(start);
    return fraction -> {
      long now = pool.batchTime();
      if (now - last.getAndUpdate(t -> now - t < REPORT_EVERY ? t : now) < REPORT_EVERY) {
        return;
      }
      prolonged.updateAndGet(t -> prolong(task, t));
      double seconds = (now - start) / 1e9;
      double left = seconds / fraction * (1 - fraction);
      events.publish(
          new FrameProgress(s.id(), task.kind(), task.extra(), null, fraction, seconds, left));
    };
  }
}
