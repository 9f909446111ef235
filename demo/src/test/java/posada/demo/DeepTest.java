package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.exr.DeepExr;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.gltf.SceneImporter;

/** A deep picture laid over itself, by Debian's tools, is the flat one. */
class DeepTest {
  @TempDir Path folder;

  private static String run(String... command) throws Exception {
    Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
    String out = new String(p.getInputStream().readAllBytes());
    assertTrue(p.waitFor(60, TimeUnit.SECONDS));
    assertEquals(0, p.exitValue(), out);
    return out;
  }

  @Test
  void flattenedItIsTheBeauty() throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), BuildScenes.larkspurPass());
    RenderScene ready = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    RenderSettings settings = RenderSettings.of(16, 0).with(new Crop(200, 40, 120, 96, false));
    settings = settings.with(settings.passes().withDeep(0.01));
    FrameRenderer r =
        ready.frame(
            "station-close",
            new Moment(20, 20 / 24.0, 24),
            640,
            400,
            settings,
            Workers.CALLER,
            Stop.NEVER,
            null);
    FrameImage flat = r.render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    DeepImage deep = r.deepImage();
    assertTrue(deep.samples() > 1.2 * 120 * 96, "several depths on edges: " + deep.samples());
    for (ExrCompression how : ExrCompression.values()) {
      if (!how.written()) {
        continue;
      }
      byte[] bytes = DeepExr.encode(deep, ExrHeader.NONE, how, Workers.CALLER);
      assertEquals(bytes.length, DeepExr.estimate(deep, how), 0.2 * bytes.length, "size");
      Path exr = Files.write(folder.resolve(how.label() + ".exr"), bytes);
      String said = run("exrheader", exr.toString());
      assertTrue(said.contains("deepscanline"), said);
      assertTrue(said.contains("dataWindow (type box2i): (200 40) - (319 135)"), said);
      Path over = folder.resolve("flat.exr");
      run("oiiotool", exr.toString(), "--flatten", "--ch", "R,G,B,A", "-o", over.toString());
      FrameImage back = ExrReader.read(over);
      for (String c : java.util.List.of("R", "G", "B", "A")) {
        for (int i = 0; i < back.find(c).length; i++) {
          float want = flat.find(c)[i];
          // A few halves on top of each other, each rounded.
          assertEquals(want, back.find(c)[i], 2e-3 * Math.max(0.1, want), how + " " + c + " " + i);
        }
      }
    }
  }
}
