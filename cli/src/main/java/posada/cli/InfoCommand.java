package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.irradiance.BakedLight;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.formats.files.FileTrouble;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneReport;
import posada.formats.light.LightFile;
import tools.jackson.databind.json.JsonMapper;

/** {@code posada info}: what a scene holds. */
@Command(
    name = "info",
    description = "Reports what a scene holds and what is odd about it.",
    mixinStandardHelpOptions = true)
final class InfoCommand implements Callable<Integer> {
  @Parameters(
      paramLabel = "SCENE",
      description = "a .glb, .gltf or .zip file, or a file of baked light")
  private Path scene;

  @Option(names = "--json", description = "print JSON instead of text")
  private boolean json;

  @Option(
      names = "--fps",
      paramLabel = "RATE",
      description = "frames per second; 24 if left out",
      defaultValue = "24")
  private double fps;

  @Override
  public Integer call() throws Exception {
    System.err.println("reading " + scene.getFileName());
    if (LightFile.is(scene)) {
      return light();
    }
    try (SceneInput input = SceneInput.open(scene)) {
      FrameRate rate = new FrameRate(fps);
      SceneReport r = input.imported().report();
      if (json) {
        System.out.println(new JsonMapper().writerWithDefaultPrettyPrinter().writeValueAsString(r));
      } else {
        print(r, rate);
      }
      return 0;
    } catch (ImportException | IllegalArgumentException e) {
      System.err.println("posada: " + e.getMessage());
      return Main.USAGE;
    }
  }

  private static void print(SceneReport r, FrameRate rate) {
    line("%s, %.1f MB, %.4g m across", r.file(), r.fileBytes() / 1e6, r.sizeMetres());
    line(
        "%d objects, %,d triangles (%,d stored), %d materials, %d textures, %d lights",
        r.objects(), r.triangles(), r.storedTriangles(), r.materials(), r.textures(), r.lights());
    line("memory    %.0f MB and the picture", r.memoryBytes() / 1e6);
    for (SceneReport.CameraLine c : r.cameras()) {
      line(
          "camera    %s, %s, %s%s%s",
          c.name(),
          c.kind(),
          c.kind().equals("perspective")
              ? String.format(Locale.ROOT, "%.1f° vertical field of view", c.angleDegrees())
              : String.format(Locale.ROOT, "%.4g m of view", c.heightMetres()),
          c.moves() ? ", moves" : "",
          c.added() ? ", added" : "");
    }
    for (SceneReport.AnimationLine a : r.animations()) {
      FrameRange f = FrameRange.ofAnimation(a.start(), a.end(), rate.perSecond());
      line(
          "animation %s, %.3f s, frames %d-%d at %s fps",
          a.name(),
          a.end() - a.start(),
          f.first(),
          f.last(),
          new java.math.BigDecimal(rate.perSecond()).stripTrailingZeros().toPlainString());
    }
    r.missing().forEach(m -> line("missing   %s", m));
    r.remarks().forEach(m -> line("remark    %s", m));
  }

  private static void line(String format, Object... values) {
    System.out.println(String.format(Locale.ROOT, format, values));
  }

  private int light() {
    try {
      BakedLight light = LightFile.read(scene);
      if (json) {
        System.out.println(
            new JsonMapper().writerWithDefaultPrettyPrinter().writeValueAsString(light.info()));
      } else {
        BakeCommand.describe(light);
      }
      return 0;
    } catch (IOException e) {
      System.err.println("posada: " + FileTrouble.sentence(e));
      return Main.FAILED;
    }
  }
}
