package posada.server.layers;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.springframework.stereotype.Component;
import posada.core.assembly.PassView;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.formats.display.JpegFile;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Small pictures of all passes of a shot's layer, rendered at once with a few samples. */
@Component
class PassPictures {
  private static final int LONGEST = 160, LARGE = 640;
  private static final int SAMPLES = 8;
  private static final float QUALITY = 0.85f;
  private static final int MOST_KEPT = 32;

  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final Cache<List<Object>, Pictures> kept =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).build();

  PassPictures(ShotService shots, SceneService scenes, SceneLibrary library, RenderThreads pool) {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
  }

  /**
   * A pass as it looks.
   *
   * @param bytes about what it takes in an EXR of the shot's size
   * @param data a JPEG in base64
   */
  record PassPicture(String name, long bytes, String data) {}

  /** All of them. */
  record Pictures(int width, int height, List<PassPicture> all) {}

  /** Returns pictures of the passes that this layer can have. */
  Pictures of(Shot s, int frame, Long layer) throws ImportException {
    RenderDocument d = shots.document(s, layer);
    double rate = shots.productionOf(s).frameRate();
    List<Object> key =
        List.of(s.revisionId(), s.camera(), s.scaledWidth(), s.scaledHeight(), frame, rate, d);
    Pictures found = kept.getIfPresent(key);
    if (found == null) {
      // The large picture goes before small ones.
      pool.awaitUnwatched();
      found = render(s, frame, d);
      kept.put(key, found);
    }
    return found;
  }

  /** Passes in one picture, and how they were taken. */
  private record Taken(FrameImage image, PassSettings passes) {}

  private Taken render(Shot s, int frame, RenderDocument d, Set<Pass> passes, int longest)
      throws ImportException {
    Shot.Size size = s.within(longest);
    PassSettings some = d.settings().passes().with(passes);
    RenderSettings few =
        d.settings()
            .with(some)
            .with((Crop) null)
            .with(new Denoising(false, 1))
            .with(SAMPLES, d.settings().sampling().seed());
    try (RenderThreads.Watched first = pool.watch()) {
      FrameRenderer r =
          library
              .get(scenes.revision(s.revisionId()), d)
              .frame(
                  s.camera(),
                  new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
                  size.width(),
                  size.height(),
                  few,
                  pool.workers(),
                  Stop.NEVER,
                  null);
      FrameImage image =
          r.render(1 << 16, pool.workers(), Stop.NEVER, FrameRenderer.Progress.NONE).full();
      return new Taken(image, some);
    }
  }

  /**
   * Returns one pass as a JPEG, larger.
   *
   * @param name of the pass, or of one of the user's own
   */
  byte[] one(Shot s, int frame, Long layer, String name) throws ImportException {
    RenderDocument d = shots.document(s, layer);
    boolean own = d.settings().passes().own().containsKey(name);
    Pass p =
        own
            ? Pass.OWN
            : Arrays.stream(Pass.values())
                .filter(x -> x.label().equals(name) && x != Pass.OWN)
                .findFirst()
                .orElseThrow(
                    () -> new NotFoundException("This layer has no pass \"" + name + "\"."));
    // No light is followed for what holds none.
    RenderDocument quick = own ? d.with(d.settings().with(d.settings().bounces().none())) : d;
    Taken t = render(s, frame, quick, EnumSet.of(Pass.BEAUTY, p), LARGE);
    List<String> names =
        p.channels(t.passes).stream().filter(c -> !own || c.startsWith(name + ".")).toList();
    return JpegFile.encode(PassView.of(p, t.image, names), QUALITY);
  }

  private Pictures render(Shot s, int frame, RenderDocument d) throws ImportException {
    Set<Pass> passes = EnumSet.allOf(Pass.class);
    if (d.settings().passes().own().isEmpty()) {
      passes.remove(Pass.OWN);
    }
    Taken t = render(s, frame, d, passes, LONGEST);
    int w = t.image.width(), h = t.image.height();
    double times = s.scaledWidth() * (double) s.scaledHeight() / (w * (double) h);
    List<PassPicture> pictures = new ArrayList<>();
    for (Pass p : passes) {
      List<String> names = p.channels(t.passes);
      byte[] jpeg = JpegFile.encode(PassView.of(p, t.image, names), QUALITY);
      pictures.add(
          new PassPicture(
              p.label(),
              Math.round(times * bytes(t.image, names)),
              Base64.getEncoder().encodeToString(jpeg)));
    }
    return new Pictures(w, h, pictures);
  }

  private long bytes(FrameImage image, List<String> names) {
    List<FrameImage.Channel> some =
        image.channels().stream().filter(c -> names.contains(c.name())).toList();
    FrameImage one = new FrameImage(image.width(), image.height(), some);
    return ExrWriter.encode(one, ExrHeader.NONE, ExrCompression.ZIP, pool.workers()).length;
  }
}
