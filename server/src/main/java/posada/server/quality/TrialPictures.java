package posada.server.quality;

import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import org.springframework.stereotype.Component;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.display.JpegFile;
import posada.formats.display.PngFile;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Renders pictures that are looked at to choose settings, and puts them into words of the web. */
@Component
class TrialPictures {
  static final Set<Pass> BEAUTY = Set.of(Pass.BEAUTY);
  private static final float QUALITY = 0.92f;
  private static final int BITS = 8;

  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;

  TrialPictures(ShotService shots, SceneService scenes, SceneLibrary library, RenderThreads pool) {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
  }

  /** A frame of a shot's layer. */
  record Subject(Shot shot, RenderDocument document, Moment moment) {}

  Shot shot(long id) {
    return shots.find(id);
  }

  Subject subject(long shot, Long layer, int frame) {
    Shot s = shots.find(shot);
    return new Subject(s, shots.document(s, layer), rate(s).moment(frame));
  }

  private FrameRate rate(Shot s) {
    return new FrameRate(shots.productionOf(s).frameRate());
  }

  /** The frames of the shot. */
  List<Moment> moments(Shot s) {
    FrameRate rate = rate(s);
    return FrameRange.parse(s.frames()).frames().stream().map(rate::moment).toList();
  }

  RenderScene scene(Subject s) throws ImportException {
    return library.get(scenes.revision(s.shot.revisionId()), s.document);
  }

  /** A renderer of the whole frame or of the settings' part of it; null if it was stopped. */
  FrameRenderer renderer(
      Subject s, RenderScene scene, int w, int h, RenderSettings settings, Stop stop) {
    return scene.frame(s.shot.camera(), s.moment, w, h, settings, pool.workers(), stop, null);
  }

  /** Tells how far something is, 0 .. 1. */
  interface Telling {
    void share(double done) throws ViewerStreams.ViewerGone;
  }

  /** Shares of a bake between two that are told. */
  private static final double STEP = 0.02;

  /**
   * Bakes light from this frame alone, and tells how far it is, not too often.
   *
   * @return null if it was stopped, or nobody hears it any more
   */
  BakedLight bake(
      Subject s,
      RenderScene scene,
      int w,
      int h,
      RenderSettings settings,
      Telling telling,
      Stop stop)
      throws ViewerStreams.ViewerGone {
    telling.share(0);
    AtomicBoolean gone = new AtomicBoolean();
    double[] told = {0};
    return scene.bake(
        s.shot.camera(),
        List.of(s.moment),
        w,
        h,
        settings.with((Crop) null),
        pool.workers(),
        () -> gone.get() || stop.asked(),
        done -> {
          if (done < told[0] + STEP) {
            return;
          }
          told[0] = done;
          try {
            telling.share(done);
          } catch (ViewerStreams.ViewerGone e) {
            gone.set(true);
          }
        },
        System::nanoTime);
  }

  /** The same sampling with so many samples of all pixels alike. */
  static Sampling even(Sampling own, int samples) {
    return new Sampling(
        samples,
        samples,
        false,
        own.noiseThreshold(),
        0,
        own.seed(),
        own.seedPerFrame(),
        own.pattern());
  }

  static String jpeg(FrameImage image) {
    return jpeg(ViewTransform.beauty(image, 0, false));
  }

  static String jpeg(DisplayImage image) {
    return Base64.getEncoder().encodeToString(JpegFile.encode(image, QUALITY));
  }

  /** Without loss, for pictures that are compared. */
  static String png(DisplayImage image) {
    return Base64.getEncoder().encodeToString(PngFile.encode(image, BITS, Map.of()));
  }

  static String png(FrameImage image) {
    return png(ViewTransform.beauty(image, 0, false));
  }
}
