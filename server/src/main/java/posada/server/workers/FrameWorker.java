package posada.server.workers;

import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.DoubleConsumer;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.context.event.EventListener;
import org.springframework.jms.annotation.JmsListener;
import org.springframework.jms.support.JmsHeaders;
import org.springframework.messaging.handler.annotation.Header;
import org.springframework.stereotype.Component;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.runs.FrameQueue;
import posada.server.runs.FrameState;
import posada.server.runs.LedgerLine;
import posada.server.runs.Run;
import posada.server.runs.RunRepository;
import posada.server.runs.RunService;
import posada.server.runs.RunSettings;
import posada.server.scenes.SettingsDocuments;
import posada.server.storage.StorageHealth;

/** Bakes light and renders one frame after the other from the queue, with all threads on each. */
@Component
class FrameWorker {
  private static final Logger LOG = LoggerFactory.getLogger(FrameWorker.class);
  static final String LISTENER = "frame-worker";
  private static final int ROUND = 2;
  private static final long REPORT_EVERY = 250_000_000L;

  private final RunRepository ledger;
  private final RunService runs;
  private final SettingsDocuments documents;
  private final RenderThreads pool;
  private final EventHub events;
  private final StorageHealth storage;
  private volatile boolean stopping;
  private final AtomicReference<Regions> regions = new AtomicReference<>();
  private final RunLight light = new RunLight();

  FrameWorker(
      RunRepository ledger,
      RunService runs,
      SettingsDocuments documents,
      RenderThreads pool,
      EventHub events,
      StorageHealth storage) {
    this.storage = storage;
    this.ledger = ledger;
    this.runs = runs;
    this.documents = documents;
    this.pool = pool;
    this.events = events;
  }

  /**
   * How far a frame in work is.
   *
   * @param frame null while the light of all of the run's frames is baked
   * @param secondsLeft for the run; while light is baked, for that alone
   */
  record FrameProgress(
      long runId, Integer frame, double fraction, double seconds, double secondsLeft) {}

  /** Ends what is in work when the server stops, before anything that it needs is closed. */
  @EventListener(ContextClosedEvent.class)
  void stop() {
    stopping = true;
  }

  /**
   * Takes a message. If it cannot be settled it is given again.
   *
   * @param again true if it was given before: what it is about may have been left in work
   */
  @JmsListener(destination = FrameQueue.NAME, containerFactory = "frames", id = LISTENER)
  void take(String text, @Header(JmsHeaders.REDELIVERED) boolean again) {
    FrameQueue.Task task = FrameQueue.Task.of(text);
    if (!storage.await(0, () -> stopping)) {
      return; // Whatever waits is sent again at the next start.
    }
    if (task.frame() == null) {
      takeLight(task.runId(), again);
    } else {
      takeFrame(task.runId(), task.frame(), again);
    }
  }

  /** Keeps what became of a task, however long the database is down. */
  private void keep(Supplier<Boolean> change) {
    storage.kept(change, () -> stopping);
  }

  private void takeFrame(long runId, int frame, boolean again) {
    if (!ledger.take(runId, frame, again)) {
      return; // Cancelled, finished or taken since it was sent.
    }
    Run run = runs.find(runId);
    tell(runId, frame);
    String failure = attempt(() -> work(run, frame), "frame " + frame, run);
    if (failure != null) {
      keep(() -> ledger.move(runId, frame, FrameState.FAILED, failure));
    }
    tell(runId, frame);
    runs.settle(runId);
  }

  private void takeLight(long runId, boolean again) {
    if (!ledger.takeBake(runId, again)) {
      return;
    }
    Run run = runs.find(runId);
    runs.settle(runId); // Tells that it is being baked.
    String failure = attempt(() -> bake(run), "baked light", run);
    if (failure != null) {
      keep(() -> ledger.moveBake(runId, FrameState.FAILED, null, null, failure));
    }
    runs.settle(runId);
  }

  private interface Work {
    void run() throws ImportException, IOException;
  }

  /** Does what may fail; returns why it did, or null. */
  private static String attempt(Work work, String what, Run run) {
    try {
      work.run();
      return null;
    } catch (OutOfMemoryError e) {
      return "The server's memory was not enough for this.";
    } catch (ImportException | IOException | RuntimeException | Error e) {
      if (StorageHealth.isDown(e)) {
        throw (RuntimeException) e; // No failure of the frame: its message is given again.
      }
      LOG.warn("{} of {} v{} failed", what, run.shot(), run.number(), e);
      String why = FileTrouble.sentence(e);
      return why.length() > 1900 ? why.substring(0, 1900) : why;
    }
  }

  private SettingsDocuments.Ready ready(RunSettings s) throws ImportException, IOException {
    return documents.read(s.sceneSha256(), s.sceneFile(), s.settings(), s.samples());
  }

  private Stop stop(Run run) {
    return () -> {
      pool.letWatchedFirst();
      return stopping || runs.isCancelled(run.id());
    };
  }

  private void bake(Run run) throws ImportException, IOException {
    RunSettings s = run.settings();
    SettingsDocuments.Ready ready = ready(s);
    boolean there = RunLight.isBaked(run);
    long start = pool.batchTime();
    BakedLight baked =
        light(run, ready.scene(), ready.settings().with(s.files(Path.of(run.folder())).passes()));
    if (baked == null && stopping) {
      ledger.giveBackBake(run.id());
      return;
    }
    if (baked == null) {
      keep(() -> ledger.moveBake(run.id(), FrameState.SKIPPED, null, null, null));
      return;
    }
    Double seconds = there ? null : Double.valueOf((pool.batchTime() - start) / 1e9);
    int points = baked.points().count();
    keep(() -> ledger.moveBake(run.id(), FrameState.FRESH, seconds, points, null));
  }

  /** Returns the light of a run, baked now if it is not there; null if it was stopped. */
  private BakedLight light(Run run, RenderScene scene, RenderSettings settings) throws IOException {
    return light.of(
        run, scene, moments(run.settings()), settings, pool.workers(), stop(run), baking(run));
  }

  private void work(Run run, int frame) throws ImportException, IOException {
    RunSettings s = run.settings();
    FrameFiles files = s.files(Path.of(run.folder()));
    if (files.complete(frame, s.fingerprint(frame))) {
      keep(() -> ledger.move(run.id(), frame, FrameState.FRESH, null));
      return;
    }
    long most = files.mostBytes(s.width(), s.height());
    Stop stop = stop(run);
    if (!storage.await(most, stop::asked)) {
      stopped(run, frame);
      return;
    }
    SettingsDocuments.Ready ready = ready(s);
    long start = pool.batchTime();
    RenderSettings settings = ready.settings().with(files.passes());
    if (settings.layer().region() != null) {
      Regions found = regions(run, ready.scene(), settings, stop);
      if (found == null) {
        stopped(run, frame);
        return;
      }
      settings = settings.with(found.ofFrame.get(frame));
    }
    RenderScene scene = ready.scene();
    if (settings.irradiance().use()) {
      BakedLight baked = light(run, scene, settings);
      if (baked == null) {
        stopped(run, frame);
        return;
      }
      scene = scene.withBakedLight(baked);
      scene.check(settings);
      start = pool.batchTime();
    }
    FrameRenderer renderer =
        scene.frame(
            s.camera(),
            s.rate().moment(frame),
            s.width(),
            s.height(),
            settings,
            pool.workers(),
            stop,
            FrameWorker::freeBytes);
    FrameImage image =
        renderer == null
            ? null
            : renderer.render(
                ROUND, pool.workers(), stop, reporter(run, frame, start), pool::batchTime);
    if (image == null) {
      stopped(run, frame);
      return;
    }
    double seconds = (pool.batchTime() - start) / 1e9;
    Map<String, String> texts = s.texts(frame, seconds);
    while (true) {
      try {
        files.write(frame, image, renderer.film().deepImage(), texts, true, pool.workers());
        break;
      } catch (IOException e) {
        if (storage.hasRoom(most)) {
          throw e;
        }
        if (!storage.await(most, stop::asked)) {
          stopped(run, frame);
          return;
        }
      }
    }
    double cut = renderer.report().shareCut();
    keep(() -> ledger.finish(run.id(), frame, seconds, cut));
  }

  /** Ends a frame that was stopped: it waits again if the server stops, else it is left out. */
  private void stopped(Run run, int frame) {
    if (stopping) {
      ledger.giveBack(run.id(), frame);
    } else {
      keep(() -> ledger.move(run.id(), frame, FrameState.SKIPPED, null));
    }
  }

  private static List<Moment> moments(RunSettings s) {
    return FrameRange.parse(s.frames()).frames().stream().map(s.rate()::moment).toList();
  }

  /** The regions of a run's frames, which are found together since they may be of one size. */
  private record Regions(long run, Map<Integer, Crop> ofFrame) {}

  /** Returns the regions of a run; null if it was stopped meanwhile. */
  private Regions regions(Run run, RenderScene scene, RenderSettings settings, Stop stop) {
    Regions known = regions.get();
    if (known == null || known.run != run.id()) {
      RunSettings s = run.settings();
      List<Moment> moments = moments(s);
      List<Crop> found =
          scene.regions(s.camera(), moments, s.width(), s.height(), settings, pool.workers(), stop);
      if (found == null) {
        return null;
      }
      Map<Integer, Crop> ofFrame = new HashMap<>();
      for (int i = 0; i < found.size(); i++) {
        ofFrame.put(moments.get(i).frame(), found.get(i));
      }
      known = new Regions(run.id(), ofFrame);
      regions.set(known);
    }
    return known;
  }

  private static long freeBytes() {
    Runtime r = Runtime.getRuntime();
    return r.maxMemory() - r.totalMemory() + r.freeMemory();
  }

  private FrameRenderer.Progress reporter(Run run, int frame, long start) {
    AtomicLong last = new AtomicLong(start);
    return (done, total) -> {
      long now = pool.batchTime();
      if (now - last.get() < REPORT_EVERY) {
        return;
      }
      last.set(now);
      double seconds = (now - start) / 1e9;
      double fraction = done / (double) total;
      double each = run.secondsPerFrame() == null ? seconds / fraction : run.secondsPerFrame();
      double left = seconds / fraction * (1 - fraction) + each * (run.left() - 1);
      events.publish("progress", new FrameProgress(run.id(), frame, fraction, seconds, left));
    };
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
      events.publish("progress", new FrameProgress(run.id(), null, fraction, seconds, left));
    };
  }

  private void tell(long runId, int frame) {
    LedgerLine line = ledger.line(runId, frame).orElseThrow();
    events.publish("frame", Map.of("runId", runId, "line", line));
  }
}
