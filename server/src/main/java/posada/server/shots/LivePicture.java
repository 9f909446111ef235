package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.assembly.LayerMerge;
import posada.core.image.DisplayImage;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.trace.Brightness;
import posada.core.trace.RenderScene;
import posada.formats.display.JpegFile;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.app.ViewerStreams.Sender;
import posada.server.app.ViewerStreams.ViewerGone;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;

/**
 * The picture through a shot's camera: coarse at once, then finer and finer to the shot's samples
 * and beyond, until the viewer asks for something else. Each viewer has one at a time.
 */
@Component
class LivePicture {

  /** Up to this many samples the viewer goes before the batch; then the batch goes on. */
  private static final int URGENT_SAMPLES = 2;

  /**
   * How many times the shot's samples it refines to if nothing is touched and no batch is at work,
   * and never beyond.
   */
  private static final int BEYOND = 16;

  private static final int MOST = 4096;

  /** From this many samples on the noise is taken out, if the shot asks for it. */
  private static final int CLEAN_FROM = 4;

  private final SceneLibrary library;
  private final RenderThreads pool;
  private final ViewerStreams streams;
  private final LastSeen last;

  LivePicture(SceneLibrary library, RenderThreads pool, ViewerStreams streams, LastSeen last) {
    this.library = library;
    this.pool = pool;
    this.streams = streams;
    this.last = last;
  }

  /** What is shown of a layer. */
  enum Shown {
    /** Its beauty over black. */
    BEAUTY,
    /** The same over a chequered ground. */
    ALONE,
    ALPHA,
    /** All layers of the shot that are on, put together. */
    MERGED,
    /** How far those are from the picture that is rendered at once. */
    APART;

    /** Returns true if it is of all layers. */
    boolean merges() {
      return this == MERGED || this == APART;
    }
  }

  /**
   * One state of the picture.
   *
   * @param noise share of the light, 0 .. 1; null before it is known
   * @param apart how far merged layers are from the picture rendered at once ({@link
   *     LayerMerge#apart}), 0 and more; null for other pictures
   * @param noiseApart how far that picture is from itself with other noise, likewise
   * @param data a JPEG in base64
   */
  record Update(
      int width,
      int height,
      int samples,
      int target,
      @Schema(types = {"number", "null"}) Double noise,
      @Schema(types = {"number", "null"}) Double apart,
      @Schema(types = {"number", "null"}) Double noiseApart,
      Brightness brightness,
      double seconds,
      String data) {}

  /**
   * What is to be shown.
   *
   * @param layers what is rendered: one, or the layers that are merged, the lowest first
   * @param part of the picture, which is then all there is; null for the whole
   */
  record Request(
      String viewer,
      Revision revision,
      String camera,
      FrameRate rate,
      int frame,
      int width,
      int height,
      Shown shown,
      List<RenderDocument> layers,
      PicturePart part) {
    Request {
      if (layers.isEmpty()) {
        throw new IllegalArgumentException(
            "No layer of this shot is on; switch one on at the Board.");
      }
      layers = List.copyOf(layers);
    }

    int samples() {
      return layers.get(0).recipe().sampling().most();
    }
  }

  SseEmitter show(Request q) {
    return show(q, new SseEmitter(0L));
  }

  SseEmitter show(Request q, SseEmitter to) {
    return streams.open(
        q.viewer(),
        q.camera(),
        (out, stop) -> {
          List<RenderScene> scenes = new ArrayList<>();
          for (RenderDocument d : q.layers()) {
            scenes.add(library.get(q.revision(), d));
          }
          refine(q, new LiveParts(q, scenes, pool, stop), stop, out);
        },
        to);
  }

  private void refine(Request q, LiveParts parts, Stop stop, Sender out) throws ViewerGone {
    long start = System.nanoTime();
    try (RenderThreads.Watched first = pool.watch()) {
      for (int part = 4; part > 1; part /= 2) {
        if (!parts.begin(part, 1) || !parts.advance(1)) {
          return;
        }
        send(out, q, parts.picture(false), 0, q.samples(), start);
      }
    }
    boolean all;
    try (RenderThreads.Watched mine = pool.viewing()) {
      all = climb(q, parts, q.samples(), 0, stop, out, start);
    }
    int more = Math.min(MOST, q.samples() * BEYOND);
    if (all && more > q.samples()) {
      // Samples are spread for their number, so more of them are other ones.
      climb(q, parts, more, q.samples(), stop, out, start);
    }
  }

  /**
   * Adds samples up to {@code samples}, showing each state that has more than {@code shown}.
   *
   * @return false if it was stopped
   */
  private boolean climb(
      Request q, LiveParts parts, int samples, int shown, Stop stop, Sender out, long start)
      throws ViewerGone {
    if (!parts.begin(1, samples)) {
      return false;
    }
    int done = 0;
    while (done < samples) {
      int target =
          Math.min(samples, done == 0 ? 1 : done < 16 ? done * 2 : done + Math.max(16, done / 4));
      if (shown > 0) {
        pool.awaitRest(stop::asked);
      }
      boolean urgent = shown == 0 && target <= URGENT_SAMPLES;
      try (RenderThreads.Watched first = urgent ? pool.watch() : () -> {}) {
        if (!parts.advance(target)) {
          return false;
        }
      }
      done = target;
      if (done <= shown) {
        continue;
      }
      LiveParts.State state = parts.picture(done >= CLEAN_FROM);
      if (state == null) {
        return false;
      }
      send(out, q, state, done, parts.target(), start);
    }
    return true;
  }

  private void send(
      Sender out, Request q, LiveParts.State state, int samples, int target, long start)
      throws ViewerGone {
    DisplayImage image = state.image();
    double seconds = (System.nanoTime() - start) / 1e9;
    if (q.shown() == Shown.BEAUTY && samples > 0 && q.part() == null) {
      last.put(
          q.viewer(),
          new LastSeen.Seen(q.layers().get(0), q.frame(), image, samples, state.noise(), seconds));
    }
    Update u =
        new Update(
            image.width(),
            image.height(),
            samples,
            target,
            known(state.noise()),
            known(state.apart()),
            known(state.noiseApart()),
            state.brightness(),
            seconds,
            Base64.getEncoder().encodeToString(JpegFile.encode(image, 0.92f)));
    out.send("picture", u);
  }

  private static Double known(double v) {
    return Double.isNaN(v) ? null : v;
  }
}
