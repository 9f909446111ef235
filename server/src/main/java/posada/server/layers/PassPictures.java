package posada.server.layers;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.ArrayList;
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
import posada.server.app.RenderThreads;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Small pictures of all passes of a shot's layer, rendered at once with a few samples. */
@Component
class PassPictures {
  private static final int LONGEST = 160;
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
      found = render(s, frame, d);
      kept.put(key, found);
    }
    return found;
  }

  private Pictures render(Shot s, int frame, RenderDocument d) throws ImportException {
    double fit = Math.min(1, LONGEST / (double) Math.max(s.scaledWidth(), s.scaledHeight()));
    int w = Math.max(1, (int) Math.round(s.scaledWidth() * fit));
    int h = Math.max(1, (int) Math.round(s.scaledHeight() * fit));
    Set<Pass> passes = EnumSet.allOf(Pass.class);
    PassSettings own = d.settings().passes();
    if (own.own().isEmpty()) {
      passes.remove(Pass.OWN);
    }
    PassSettings all = own.with(passes);
    RenderSettings few =
        d.settings()
            .with(all)
            .with((Crop) null)
            .with(new Denoising(false, 1))
            .with(SAMPLES, d.settings().sampling().seed());
    FrameImage image;
    try (RenderThreads.Watched first = pool.watch()) {
      FrameRenderer r =
          library
              .get(scenes.revision(s.revisionId()), d)
              .frame(
                  s.camera(),
                  new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
                  w,
                  h,
                  few,
                  pool.workers(),
                  Stop.NEVER,
                  null);
      image = r.render(1 << 16, pool.workers(), Stop.NEVER, FrameRenderer.Progress.NONE).full();
    }
    double times = s.scaledWidth() * (double) s.scaledHeight() / (w * (double) h);
    List<PassPicture> pictures = new ArrayList<>();
    for (Pass p : passes) {
      List<String> names = p.channels(all);
      byte[] jpeg = JpegFile.encode(PassView.of(p, image, names), QUALITY);
      pictures.add(
          new PassPicture(
              p.label(),
              Math.round(times * bytes(image, names)),
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
