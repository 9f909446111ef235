package posada.server.app;

import java.io.IOException;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import org.springframework.web.ErrorResponseException;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.parallel.Stop;
import posada.formats.gltf.ImportException;

/**
 * Pictures that somebody waits for, sent as they get better until the viewer leaves or asks for
 * something else. Each viewer has one at a time.
 */
@Component
public class ViewerStreams {
  private static final Logger LOG = LoggerFactory.getLogger(ViewerStreams.class);

  /** Viewers at once: more would only take pictures from each other. */
  static final int MOST = 100;

  /** Seconds after which it is seen whether the viewer is still there. */
  private static final long BEAT = 1;

  private final ExecutorService threads = Executors.newCachedThreadPool(r -> thread(r, "viewer"));
  private final ScheduledExecutorService beats =
      Executors.newSingleThreadScheduledExecutor(r -> thread(r, "viewer-beat"));
  private final Map<String, AtomicBoolean> stops = new ConcurrentHashMap<>();

  private static Thread thread(Runnable r, String name) {
    Thread t = new Thread(r, name);
    t.setDaemon(true);
    return t;
  }

  /** Makes what is sent. */
  public interface Maker {
    /** Makes and sends until it is done or asked to stop. */
    void make(Sender out, Stop stop) throws ViewerGone, ImportException;
  }

  /** Sends to a viewer. */
  public interface Sender {
    /** Sends an object as an event of a name. */
    void send(String name, Object what) throws ViewerGone;
  }

  /** Nobody looks any more. */
  public static final class ViewerGone extends Exception {
    private static final long serialVersionUID = 1;

    private ViewerGone(Exception e) {
      super(e);
    }
  }

  /**
   * Begins to send.
   *
   * @param viewer whatever was sent to it ends
   * @param about what a failure is reported of
   */
  public SseEmitter open(String viewer, String about, Maker maker) {
    return open(viewer, about, maker, new SseEmitter(0L));
  }

  /** Likewise, to a given receiver. */
  public SseEmitter open(String viewer, String about, Maker maker, SseEmitter out) {
    if (stops.size() >= MOST && !stops.containsKey(viewer)) {
      ErrorResponseException full = new ErrorResponseException(HttpStatus.SERVICE_UNAVAILABLE);
      full.setDetail(MOST + " pictures are being made for others; close one, or wait.");
      throw full;
    }
    AtomicBoolean stop = new AtomicBoolean();
    AtomicBoolean before = stops.put(viewer, stop);
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
          try {
            run(about, maker, stop, out);
          } finally {
            stops.remove(viewer, stop);
            beat.cancel(false);
          }
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

  private static void send(SseEmitter out, SseEmitter.SseEventBuilder event) throws ViewerGone {
    try {
      out.send(event);
    } catch (IOException | IllegalStateException e) {
      throw new ViewerGone(e);
    }
  }

  private static void run(String about, Maker maker, AtomicBoolean stop, SseEmitter out) {
    Sender sender =
        (name, what) ->
            send(out, SseEmitter.event().name(name).data(what, MediaType.APPLICATION_JSON));
    try {
      maker.make(sender, stop::get);
      out.complete();
    } catch (ImportException | IllegalArgumentException e) {
      fail(out, e.getMessage());
    } catch (ViewerGone e) {
      out.complete();
    } catch (RuntimeException | OutOfMemoryError e) {
      LOG.warn("the picture of {} failed", about, e);
      fail(out, "The picture could not be made: " + e);
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
}
