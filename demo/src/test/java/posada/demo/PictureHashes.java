package posada.demo;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.gltf.SceneImporter;

/** A program that prints a hash of every bit of a small picture of each demo scene. */
final class PictureHashes {
  private static final int WIDTH = 64;
  private static final int HEIGHT = 40;
  private static final int SAMPLES = 6;

  private PictureHashes() {}

  public static void main(String[] args) throws Exception {
    System.out.println(all(Integer.parseInt(args[0])));
  }

  /** Returns a line of the three hashes, rendered with this many threads. */
  static String all(int threads) throws Exception {
    ExecutorService pool = Executors.newFixedThreadPool(threads);
    try {
      Workers workers = new Workers(pool, threads);
      return "pictures "
          + of(BuildScenes::larkspurPass, "car-ride", workers)
          + of(BuildScenes::ticketHall, "glide", workers)
          + of(BuildScenes::windingEngine, "gear-train", workers);
    } finally {
      pool.shutdown();
    }
  }

  private static String of(Supplier<byte[]> scene, String camera, Workers workers)
      throws Exception {
    Path file = Files.createTempFile("scene", ".glb");
    try {
      Files.write(file, scene.get());
      // Motion blur of objects and camera, so that every kind of walk is used.
      RenderSettings settings =
          RenderSettings.of(SAMPLES, 3).with(new Shutter(true, 180, 0, true, true, true, 2));
      FrameRenderer r =
          new RenderScene(SceneImporter.load(file).scene(), workers)
              .frame(
                  camera,
                  new Moment(30, 1.25, 24),
                  WIDTH,
                  HEIGHT,
                  settings.with(EnumSet.complementOf(EnumSet.of(Pass.TIME, Pass.OWN))),
                  workers,
                  Stop.NEVER,
                  null);
      FrameImage image = r.render(SAMPLES, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
      TreeMap<String, Integer> hashes = new TreeMap<>();
      for (FrameImage.Channel c : image.channels()) {
        hashes.put(c.name(), Arrays.hashCode(c.data()));
      }
      return List.copyOf(hashes.values()) + " ";
    } finally {
      Files.delete(file);
    }
  }
}
