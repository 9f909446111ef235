package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.util.Base64;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.plan.FrameRate;
import posada.core.settings.Crop;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.Brightness;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.display.JpegFile;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;

/**
 * The picture through a shot's camera: coarse at once, then finer and finer to the shot's samples
 * and beyond, until the viewer asks for something else. Each viewer has one at a time.
 */
@Component
class LivePicture {
  private static final Logger LOG = LoggerFactory.getLogger(LivePicture.class);
  private static final Set<Pass> BEAUTY = Set.of(Pass.BEAUTY);

  /** Up to this many samples the viewer goes before the batch; then the batch goes on. */
  private static final int URGENT_SAMPLES = 2;

  /**
   * How many times the shot's samples it refines to if nothing is touched and no batch is at work,
   * and never beyond.
   */
  private static final int BEYOND = 16;

  private static final int MOST = 4096;

  /** Seconds after which it is seen whether the viewer is still there. */
  private static final long BEAT = 1;

  /** From this many samples on the noise is taken out, if the shot asks for it. */
  private static final int CLEAN_FROM = 4;

  private final SceneLibrary library;
  private final RenderThreads pool;
  private final ExecutorService threads =
      Executors.newCachedThreadPool(
          r -> {
            Thread t = new Thread(r, "live-picture");
            t.setDaemon(true);
            return t;
          });
  private final ScheduledExecutorService beats =
      Executors.newSingleThreadScheduledExecutor(
          r -> {
            Thread t = new Thread(r, "live-picture-beat");
            t.setDaemon(true);
            return t;
          });
  private final Map<String, AtomicBoolean> stops = new ConcurrentHashMap<>();

  LivePicture(SceneLibrary library, RenderThreads pool) {
    this.library = library;
    this.pool = pool;
  }

  /**
   * One state of the picture.
   *
   * @param noise share of the light, 0 .. 1; null before it is known
   * @param data a JPEG in base64
   */
  record Update(
      int width,
      int height,
      int samples,
      int target,
      @Schema(types = {"number", "null"}) Double noise,
      Brightness brightness,
      double seconds,
      String data) {}

  /** What is to be shown. */
  record Request(
      String viewer,
      Revision revision,
      String camera,
      FrameRate rate,
      int frame,
      int width,
      int height,
      RenderDocument settings) {
    int samples() {
      return settings.recipe().sampling().most();
    }
  }

  SseEmitter show(Request q) {
    return show(q, new SseEmitter(0L));
  }

  SseEmitter show(Request q, SseEmitter out) {
    AtomicBoolean stop = new AtomicBoolean();
    AtomicBoolean before = stops.put(q.viewer(), stop);
    if (before != null) {
      before.set(true);
    }
    out.onCompletion(() -> stop.set(true));
    out.onError(e -> stop.set(true));
    // That somebody has left is only found by writing to him.
    AtomicBoolean beating = new AtomicBoolean();
    ScheduledFuture<?> beat =
        beats.scheduleWithFixedDelay(
            () -> {
              // One who does not read holds up his own beat only.
              if (!beating.getAndSet(true)) {
                threads.execute(() -> beat(stop, out, beating));
              }
            },
            BEAT,
            BEAT,
            TimeUnit.SECONDS);
    threads.execute(
        () -> {
          run(q, stop, out);
          beat.cancel(false);
        });
    return out;
  }

  private static void beat(AtomicBoolean stop, SseEmitter out, AtomicBoolean beating) {
    try {
      send(out, SseEmitter.event().comment("beat"));
    } catch (ViewerGone e) {
      stop.set(true);
    } finally {
      beating.set(false);
    }
  }

  /** Nobody looks any more. */
  private static final class ViewerGone extends Exception {
    private static final long serialVersionUID = 1;

    private ViewerGone(Exception e) {
      super(e);
    }
  }

  private static void send(SseEmitter out, SseEmitter.SseEventBuilder event) throws ViewerGone {
    try {
      out.send(event);
    } catch (IOException | IllegalStateException e) {
      throw new ViewerGone(e);
    }
  }

  private void run(Request q, AtomicBoolean stop, SseEmitter out) {
    try {
      refine(q, library.get(q.revision(), q.settings()), stop, out);
      out.complete();
    } catch (ImportException | IllegalArgumentException e) {
      fail(out, e.getMessage());
    } catch (ViewerGone e) {
      out.complete();
    } catch (RuntimeException | OutOfMemoryError e) {
      LOG.warn("live picture of {} failed", q.camera(), e);
      fail(out, "The picture could not be made: " + e);
    } finally {
      stops.remove(q.viewer(), stop);
    }
  }

  private static void fail(SseEmitter out, String why) {
    try {
      send(out, SseEmitter.event().name("failed").data(why, MediaType.TEXT_PLAIN));
    } catch (ViewerGone e) {
      LOG.debug("nobody heard that {}", why);
    } finally {
      out.complete();
    }
  }

  private void refine(Request q, RenderScene scene, AtomicBoolean stop, SseEmitter out)
      throws ViewerGone {
    long start = System.nanoTime();
    try (RenderThreads.Watched first = pool.watch()) {
      for (int part = 4; part > 1; part /= 2) {
        FrameRenderer coarse = renderer(q, scene, part, 1, stop);
        if (coarse == null || !coarse.advance(1, pool.workers(), stop::get)) {
          return;
        }
        send(out, coarse, coarse.soFar(), 0, q.samples(), start);
      }
    }
    boolean all = climb(q, scene, q.samples(), 0, stop, out, start);
    int more = Math.min(MOST, q.samples() * BEYOND);
    if (all && more > q.samples()) {
      // Samples are spread for their number, so more of them are other ones.
      climb(q, scene, more, q.samples(), stop, out, start);
    }
  }

  /**
   * Adds samples up to {@code samples}, showing each state that has more than {@code shown}.
   *
   * @return false if it was stopped
   */
  private boolean climb(
      Request q,
      RenderScene scene,
      int samples,
      int shown,
      AtomicBoolean stop,
      SseEmitter out,
      long start)
      throws ViewerGone {
    FrameRenderer fine = renderer(q, scene, 1, samples, stop);
    if (fine == null) {
      return false;
    }
    int done = 0;
    while (done < samples) {
      int target =
          Math.min(samples, done == 0 ? 1 : done < 16 ? done * 2 : done + Math.max(16, done / 4));
      if (shown > 0) {
        pool.awaitRest(stop::get);
      }
      boolean urgent = shown == 0 && target <= URGENT_SAMPLES;
      try (RenderThreads.Watched first = urgent ? pool.watch() : () -> {}) {
        if (!fine.advance(target, pool.workers(), stop::get)) {
          return false;
        }
      }
      done = target;
      if (done <= shown) {
        continue;
      }
      FrameImage image =
          done < CLEAN_FROM ? fine.soFar() : fine.image(BEAUTY, pool.workers(), stop::get);
      if (image == null) {
        return false;
      }
      send(out, fine, image, done, q.samples(), start);
    }
    return true;
  }

  /** Shows the whole picture, whatever region the batch is to render; null if it was stopped. */
  private FrameRenderer renderer(
      Request q, RenderScene scene, int part, int samples, AtomicBoolean stop) {
    RenderSettings s = q.settings().settings().with((Crop) null);
    return scene.frame(
        q.camera(),
        q.rate().moment(q.frame()),
        Math.max(1, q.width() / part),
        Math.max(1, q.height() / part),
        s.with(samples, s.sampling().seed()).with(BEAUTY),
        pool.workers(),
        stop::get,
        null);
  }

  private void send(
      SseEmitter out, FrameRenderer r, FrameImage picture, int samples, int target, long start)
      throws ViewerGone {
    FrameImage image = picture.full();
    byte[] jpeg = JpegFile.encode(ViewTransform.beauty(image, 0, false), 0.92f);
    double noise = r.noise();
    Update u =
        new Update(
            image.width(),
            image.height(),
            samples,
            target,
            Double.isNaN(noise) ? null : noise,
            Brightness.of(image),
            (System.nanoTime() - start) / 1e9,
            Base64.getEncoder().encodeToString(jpeg));
    send(out, SseEmitter.event().name("picture").data(u, MediaType.APPLICATION_JSON));
  }
}
