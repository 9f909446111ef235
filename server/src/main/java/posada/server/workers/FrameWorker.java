package posada.server.workers;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.DoubleConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.jms.annotation.JmsListener;
import org.springframework.jms.support.JmsHeaders;
import org.springframework.messaging.handler.annotation.Header;
import org.springframework.stereotype.Component;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.files.FileTrouble;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.server.app.EventHub;
import posada.server.app.Pushed;
import posada.server.app.RenderThreads;
import posada.server.runs.FrameQueue;
import posada.server.runs.Run;
import posada.server.runs.RunService;
import posada.server.scenes.SceneLibrary;
import posada.server.storage.StorageHealth;

/** Bakes light and renders one frame after the other from the queue, with all threads on each. */
@Component
class FrameWorker {
  private static final Logger LOG = LoggerFactory.getLogger(FrameWorker.class);
  static final String LISTENER = "frame-worker";
  private static final long REPORT_EVERY = 250_000_000L;

  /** Letters of a failure that the ledger has room for. */
  private static final int LONGEST_FAILURE = 1900;

  private final RunService runs;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;
  private final StorageHealth storage;
  private volatile boolean stopping;

  FrameWorker(
      RunService runs,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events,
      StorageHealth storage) {
    this.runs = runs;
    this.library = library;
    this.pool = pool;
    this.events = events;
    this.storage = storage;
  }

  /**
   * How far a frame in work is.
   *
   * @param frame null while the light of all of the run's frames is baked
   * @param secondsLeft for the run; while light is baked, for that alone
   */
  @Pushed("progress")
  record FrameProgress(
      long runId,
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
  @JmsListener(destination = FrameQueue.NAME, containerFactory = "frames", id = LISTENER)
  void take(String text, @Header(JmsHeaders.REDELIVERED) boolean again) {
    FrameQueue.Task task = FrameQueue.Task.of(text);
    if (!storage.await(0, () -> stopping)) {
      return; // Whatever waits is sent again at the next start.
    }
    runs.take(task, again).ifPresent(run -> work(run, task));
  }

  private void work(Run run, FrameQueue.Task task) {
    String failure = null;
    try (RenderThreads.Watched batch = pool.batch()) {
      if (task.frame() == null) {
        bake(run, task);
      } else {
        render(run, task);
      }
    } catch (OutOfMemoryError e) {
      failure = "The server's memory was not enough for this.";
    } catch (ImportException | IOException | RuntimeException | Error e) {
      if (StorageHealth.isDown(e)) {
        throw (RuntimeException) e; // No failure of the task: its message is given again.
      }
      LOG.warn("{} of {} v{} failed", task, run.shot(), run.number(), e);
      String why = FileTrouble.sentence(e);
      failure = why.length() > LONGEST_FAILURE ? why.substring(0, LONGEST_FAILURE) : why;
    }
    if (failure != null) {
      String why = failure;
      keep(() -> runs.fail(task, why));
    }
    runs.settle(run.id());
  }

  /** Keeps what became of a task, however long the database is down. */
  private void keep(Runnable change) {
    storage.kept(
        () -> {
          change.run();
          return true;
        },
        () -> stopping);
  }

  private Stop stop(Run run) {
    return () -> {
      pool.letWatchedFirst();
      return stopping || runs.isCancelled(run.id());
    };
  }

  private FrameJob job(Run run) throws ImportException {
    StrandDocument d = run.settings();
    RenderScene scene = library.get(d.sceneSha256(), d.sceneFile(), d.settings());
    return new FrameJob(
        d,
        scene,
        null,
        Path.of(run.folder()),
        new FrameJob.Machine(
            pool.workers(), pool::batchTime, FrameWorker::freeBytes, library.cache()));
  }

  private static long freeBytes() {
    Runtime r = Runtime.getRuntime();
    return r.maxMemory() - r.totalMemory() + r.freeMemory();
  }

  private void bake(Run run, FrameQueue.Task task) throws ImportException, IOException {
    FrameJob job = job(run);
    boolean there = job.isBaked();
    long start = pool.batchTime();
    BakedLight light = job.bake(stop(run), baking(run));
    if (light == null) {
      keep(() -> runs.stopped(task, stopping));
      return;
    }
    Double seconds = there ? null : Double.valueOf((pool.batchTime() - start) / 1e9);
    keep(() -> runs.baked(run.id(), seconds, light.points().count()));
  }

  private void render(Run run, FrameQueue.Task task) throws ImportException, IOException {
    int frame = task.frame();
    StrandDocument d = run.settings();
    FrameJob job = job(run);
    Stop stop = stop(run);
    String fingerprint = job.fingerprint(frame, stop);
    long most = job.files().mostBytes(d.width(), d.height());
    if (fingerprint == null || !storage.await(most, stop::asked)) {
      keep(() -> runs.stopped(task, stopping));
      return;
    }
    keep(() -> runs.begun(run.id(), frame, fingerprint));
    if (job.files().complete(frame, fingerprint)) {
      keep(() -> runs.there(run.id(), frame));
      return;
    }
    FrameJob.Done done =
        job.render(frame, fingerprint, true, stop, new Listener(run, frame, most, stop));
    if (done == null) {
      keep(() -> runs.stopped(task, stopping));
    } else {
      keep(() -> runs.finished(run.id(), frame, done));
    }
  }

  /** Tells how far a frame is; a picture that does not fit on the disk waits for room. */
  private final class Listener implements FrameJob.Listener {
    private final Run run;
    private final int frame;
    private final long most;
    private final Stop stop;
    private final long start = pool.batchTime();
    private long last = start;

    private Listener(Run run, int frame, long most, Stop stop) {
      this.run = run;
      this.frame = frame;
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
      double seconds = (now - start) / 1e9;
      double each = run.secondsPerFrame() == null ? seconds / fraction : run.secondsPerFrame();
      double left = seconds / fraction * (1 - fraction) + each * (run.left() - 1);
      events.publish(new FrameProgress(run.id(), frame, fraction, seconds, left));
    }

    @Override
    public boolean again(IOException e) {
      return !storage.hasRoom(most) && storage.await(most, stop::asked);
    }
  }

  private DoubleConsumer baking(Run run) {
    long start = pool.batchTime();
    AtomicLong last = new AtomicLong(start);
    return fraction -> {
      long now = pool.batchTime();
      if (now - last.getAndUpdate(t -> now - t < REPORT_EVERY ? t : now) < REPORT_EVERY) {
        return;
      }
      double seconds = (now - start) / 1e9;
      double left = seconds / fraction * (1 - fraction);
      events.publish(new FrameProgress(run.id(), null, fraction, seconds, left));
    };
  }
}
