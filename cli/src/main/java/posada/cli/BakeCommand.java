package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import posada.core.irradiance.BakeInfo;
import posada.core.irradiance.BakedLight;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.files.AtomicFile;
import posada.formats.light.LightFile;

/** {@code posada bake}: light that surfaces send each other, once for a whole sequence. */
@Command(
    name = "bake",
    description = "Bakes the light that surfaces send each other, for posada render --light.",
    mixinStandardHelpOptions = true)
final class BakeCommand implements Callable<Integer> {
  /** Reasons that are listed before the rest is counted. */
  private static final int LISTED = 8;

  @Mixin private SceneOptions in;

  @Option(
      names = "--every",
      description = "frames between those that are looked at; suggested if left out")
  private Integer every;

  @Option(names = "--out", required = true, description = "the file of baked light")
  private Path out;

  @Option(names = "--force", description = "bake though something moves or changes")
  private boolean force;

  @Option(names = "--overwrite", description = "replace a file that is there")
  private boolean overwrite;

  @Override
  public Integer call() {
    return in.run(this::bake);
  }

  private int bake(SceneOptions.Open open) throws IOException {
    RenderCommand.refuseTaken(out.toFile().exists() ? List.of(out) : List.of(), overwrite);
    RenderSettings settings = open.document().settings();
    List<String> changes = open.scene().changes(open.moments(), settings);
    if (!changes.isEmpty()) {
      String why = "baked light would be wrong: " + list(changes);
      if (!force) {
        throw new IllegalArgumentException(
            why + "; leave it out by a layer, choose other frames, or bake with --force");
      }
      System.err.println("posada: " + why);
    }
    List<Moment> all = open.moments();
    int step = every == null ? suggested(open, settings, all) : every;
    settings = settings.with(settings.irradiance().each(step));
    List<Moment> some = RenderScene.someOf(all, step);
    BakedLight light =
        open.scene()
            .bake(
                open.camera(),
                some,
                open.wh()[0],
                open.wh()[1],
                settings,
                open.workers(),
                open.stop(),
                share -> System.err.printf(Locale.ROOT, "%3.0f %%%n", 100 * share),
                System::nanoTime);
    if (light == null) {
      System.err.println("stopped: nothing is written");
      return Main.STOPPED;
    }
    AtomicFile.publish(out, LightFile.encode(light), overwrite);
    describe(light);
    return 0;
  }

  private int suggested(SceneOptions.Open open, RenderSettings settings, List<Moment> all) {
    int n = open.scene().suggestEvery(open.camera(), all, settings, open.workers());
    System.err.printf("looking at every %d. frame, by how fast the view changes%n", n);
    return n;
  }

  /** The first of several reasons. */
  static String list(List<String> reasons) {
    int more = reasons.size() - LISTED;
    return String.join("; ", reasons.subList(0, Math.min(LISTED, reasons.size())))
        + (more > 0 ? "; and " + more + " more" : "");
  }

  /** Says what is in a file of baked light. */
  static void describe(BakedLight light) {
    BakeInfo i = light.info();
    System.out.printf(
        Locale.ROOT,
        "%d points, %.1f MB, mean error %.1f %%%ncamera %s, %d x %d, frames %s%n"
            + "accuracy %s, tolerance %s, direct light %s, baked in %.0f s%ndepends on %d things%n",
        light.points().count(),
        light.bytes() / 1e6,
        100 * light.points().meanError(),
        i.camera(),
        i.width(),
        i.height(),
        i.frames().toString().replaceAll("[\\[\\]]", ""),
        i.accuracy(),
        i.tolerance(),
        i.direct() ? "inside" : "apart",
        i.seconds(),
        i.depends().size());
  }
}
