package posada.server.workers;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.DoubleConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.files.AtomicFile;
import posada.formats.light.LightFile;
import posada.server.runs.Run;

/**
 * Light that runs are rendered with: baked before a run's first frame, kept in its folder, then
 * only read. The light of the last run stays in memory.
 */
final class RunLight {
  /** The file's name in a run's folder. */
  static final String FILE = "baked.light";

  private static final Logger LOG = LoggerFactory.getLogger(RunLight.class);

  private record Known(long run, BakedLight light) {}

  private final AtomicReference<Known> last = new AtomicReference<>();

  /**
   * Returns a run's light.
   *
   * @param moments all frames of the run
   * @param progress hears the share that is baked, 0 .. 1
   * @return null if it was stopped
   * @throws IllegalArgumentException naming what moves or changes
   */
  BakedLight of(
      Run run,
      RenderScene scene,
      List<Moment> moments,
      RenderSettings settings,
      Workers workers,
      Stop stop,
      DoubleConsumer progress)
      throws IOException {
    Known known = last.get();
    if (known != null && known.run == run.id()) {
      return known.light;
    }
    Path file = file(run);
    BakedLight light = read(file);
    if (light == null) {
      refuseChanges(scene, moments, settings);
      light =
          scene.bake(
              run.settings().camera(),
              RenderScene.someOf(moments, settings.irradiance().every()),
              run.settings().width(),
              run.settings().height(),
              settings,
              workers,
              stop,
              progress,
              System::nanoTime);
      if (light == null) {
        return null;
      }
      AtomicFile.publish(file, LightFile.encode(light), true);
    }
    last.set(new Known(run.id(), light));
    return light;
  }

  /** Returns true if a run's folder has a file of light. */
  static boolean isBaked(Run run) {
    return Files.exists(file(run));
  }

  private static Path file(Run run) {
    return Path.of(run.folder()).resolve(FILE);
  }

  private static BakedLight read(Path file) {
    if (!Files.exists(file)) {
      return null;
    }
    try {
      return LightFile.read(file);
    } catch (IOException | IllegalArgumentException e) {
      LOG.warn("{} cannot be read and is baked anew", file, e);
      return null;
    }
  }

  private static void refuseChanges(
      RenderScene scene, List<Moment> moments, RenderSettings settings) {
    List<String> changes = scene.changes(moments, settings);
    if (!changes.isEmpty()) {
      int more = changes.size() - 1;
      throw new IllegalArgumentException(
          "Baked light would be wrong: "
              + changes.get(0)
              + (more > 0 ? "; and " + more + " more" : "")
              + ". Leave it out by a layer, or render without baked light.");
    }
  }
}
