package posada.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import posada.core.assembly.PassView;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.display.JpegFile;
import posada.formats.gltf.SceneImporter;

/**
 * Renders the demo scenes and writes a picture of each pass, as {@code docs/passes.md} shows them.
 */
public final class PassPictures {
  private static final int WIDTH = 400;
  private static final int HEIGHT = 250;
  private static final float QUALITY = 0.85f;

  private PassPictures() {}

  /**
   * A view and the passes that are shown of it.
   *
   * @param closer 1 for the whole picture; more for a part of one that many times as large
   */
  private record View(
      Supplier<byte[]> scene,
      String camera,
      int frame,
      int samples,
      Map<String, List<String>> groups,
      int closer,
      Set<Pass> passes) {}

  private static final Set<Pass> HALL =
      EnumSet.of(
          Pass.DIFFUSE_DIRECT,
          Pass.DIFFUSE_INDIRECT,
          Pass.COAT,
          Pass.TEXTURE_COORDINATES,
          Pass.AMBIENT_OCCLUSION,
          Pass.SHADOW,
          Pass.POSITION,
          Pass.MOTION_NEXT,
          Pass.MATTE_MATERIALS);

  private static final Set<Pass> ENGINE =
      EnumSet.of(
          Pass.SPECULAR_DIRECT,
          Pass.SPECULAR_INDIRECT,
          Pass.NORMAL,
          Pass.NORMAL_CAMERA,
          Pass.FACING,
          Pass.ALBEDO,
          Pass.MOTION_PREVIOUS,
          Pass.MATTE_OBJECTS,
          Pass.OWN);

  private static final Set<Pass> GLASS =
      EnumSet.of(Pass.TRANSMISSION_DIRECT, Pass.TRANSMISSION_INDIRECT);

  private static List<View> views() {
    Set<Pass> rest = EnumSet.allOf(Pass.class);
    rest.removeAll(HALL);
    rest.removeAll(ENGINE);
    rest.removeAll(GLASS);
    rest.remove(Pass.SHEEN);
    return List.of(
        new View(BuildScenes::ticketHall, "glide", 20, 256, Map.of(), 1, HALL),
        new View(BuildScenes::ticketHall, "hatch", 20, 128, Map.of(), 1, EnumSet.of(Pass.SHEEN)),
        new View(BuildScenes::windingEngine, "gear-train", 20, 256, Map.of(), 1, ENGINE),
        new View(BuildScenes::windingEngine, "gear-train", 20, 256, Map.of(), 4, GLASS),
        new View(
            BuildScenes::larkspurPass,
            "valley-wide",
            40,
            128,
            Map.of("lamps", List.of("path-*", "summit-lamp-*", "*-station", "car-*")),
            1,
            rest));
  }

  /**
   * @param args the folder for the pictures, and the names of passes; all of them if there are none
   */
  public static void main(String[] args) throws Exception {
    Path folder = Files.createDirectories(Path.of(args[0]));
    int n = Runtime.getRuntime().availableProcessors();
    ExecutorService pool = Executors.newFixedThreadPool(n);
    try {
      List<String> some = List.of(args).subList(1, args.length);
      for (View v : views()) {
        if (!some.isEmpty()) {
          v.passes.removeIf(p -> !some.contains(p.label()));
        }
        if (!v.passes.isEmpty()) {
          write(v, folder, new Workers(pool, n));
        }
      }
    } finally {
      pool.shutdownNow();
    }
  }

  private static void write(View v, Path folder, Workers workers) throws Exception {
    Path file = Files.createTempFile("posada", ".glb");
    RenderScene ready;
    try {
      Files.write(file, v.scene.get());
      ready = new RenderScene(SceneImporter.load(file).scene(), workers);
    } finally {
      Files.delete(file);
    }
    OwnPass edges =
        new OwnPass(
            OwnPass.Quantity.CURVATURE,
            0.02,
            Map.of(),
            List.of(
                new OwnPass.RampStop(-0.5, List.of(0f, 0.1f, 1f)),
                new OwnPass.RampStop(0, List.of(0.02f, 0.02f, 0.02f)),
                new OwnPass.RampStop(0.5, List.of(1f, 1f, 0.6f))));
    PassSettings passes = new PassSettings(v.passes, v.groups, 1, 1, 6, Map.of("edges", edges), 0);
    RenderSettings settings =
        RenderSettings.DEFAULT
            .with(new Sampling(16, v.samples, true, 0.01, 0, 0, false))
            .with(passes);
    if (v.closer > 1) {
      settings = settings.with(new Crop(WIDTH / 4, 0, WIDTH, HEIGHT, true));
    }
    FrameImage image =
        ready
            .frame(
                v.camera,
                new Moment(v.frame, v.frame / 24.0, 24),
                WIDTH * v.closer,
                HEIGHT * v.closer,
                settings,
                workers,
                Stop.NEVER,
                null)
            .render(16, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
    for (Pass p : v.passes) {
      save(folder.resolve(p.label() + ".jpg"), p, image, p.channels(passes));
    }
  }

  private static void save(Path file, Pass p, FrameImage image, List<String> names)
      throws IOException {
    Files.write(file, JpegFile.encode(PassView.of(p, image, names), QUALITY));
  }
}
