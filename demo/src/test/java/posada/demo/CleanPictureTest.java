package posada.demo;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Denoising;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.gltf.SceneImporter;

/** A demo picture of few samples, cleaned. */
class CleanPictureTest {
  private static final int WIDTH = 320;
  private static final int HEIGHT = 180;

  /** Pixels to each side in which the brightest sampled light is looked for. */
  private static final int AROUND = 2;

  @TempDir Path folder;

  private static float[] render(RenderScene s, RenderSettings settings) {
    return s.frame(
            "valley-wide",
            new Moment(1, 1 / 24.0, 24),
            WIDTH,
            HEIGHT,
            settings,
            Workers.CALLER,
            Stop.NEVER,
            null)
        .render(6, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE)
        .find("G");
  }

  /** Lamps that few samples meet stay where they are: nothing far from all light gets bright. */
  @Test
  void lampsDoNotSpread() throws Exception {
    Path file = Files.write(folder.resolve("larkspur-pass.glb"), BuildScenes.larkspurPass());
    RenderScene s = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    RenderSettings settings = RenderSettings.of(6, 0);
    float[] plain = render(s, settings);
    float[] clean = render(s, settings.with(new Denoising(true, 1)));
    for (int i = 0; i < clean.length; i++) {
      float most = 0;
      for (int y = -AROUND; y <= AROUND; y++) {
        for (int x = -AROUND; x <= AROUND; x++) {
          int at = i + y * WIDTH + x;
          most = at >= 0 && at < plain.length ? Math.max(most, plain[at]) : most;
        }
      }
      assertTrue(
          clean[i] < 1.2 * most + 0.02,
          i % WIDTH + ", " + i / WIDTH + ": " + clean[i] + ", around it " + most);
    }
  }
}
