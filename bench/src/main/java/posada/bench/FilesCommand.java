package posada.bench;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import picocli.CommandLine.Command;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;

/** How long files take, against Debian's tools. */
@Command(name = "files", description = "Measures the writing of files.")
final class FilesCommand {
  private static final int TILES = 4;
  private static final int CHANNELS = 24;
  private static final int ROUNDS = 7;

  private FilesCommand() {}

  @Command(description = "Writing 1920 x 1080 of 24 halves over oiiotool's copying it.")
  int exr() throws Exception {
    FrameImage image = picture();
    Path folder = Files.createTempDirectory("posada-files");
    int threads = Runtime.getRuntime().availableProcessors();
    Figures.with(
        threads,
        workers -> {
          for (ExrCompression how : ExrCompression.values()) {
            if (how.written()) {
              measure(image, folder, how, workers);
            }
          }
        });
    try (var left = Files.list(folder)) {
      for (Path p : left.toList()) {
        Files.delete(p);
      }
    }
    Files.delete(folder);
    return 0;
  }

  private static void measure(FrameImage image, Path folder, ExrCompression how, Workers workers)
      throws Exception {
    Path ours = folder.resolve("ours.exr");
    Path theirs = folder.resolve("theirs.exr");
    double[] write = new double[ROUNDS];
    double[] copy = new double[ROUNDS];
    for (int i = 0; i < ROUNDS; i++) {
      write[i] =
          Figures.wall(() -> write(ours, ExrWriter.encode(image, ExrHeader.NONE, how, workers)));
      copy[i] = Figures.wall(() -> copy(ours, theirs, how));
    }
    Arrays.sort(write);
    Arrays.sort(copy);
    System.out.printf(
        Locale.ROOT,
        "%s: ours %.2f s, %.1f MB; oiiotool %.2f s, %.1f MB%n",
        how.label(),
        write[ROUNDS / 2],
        Files.size(ours) / 1e6,
        copy[ROUNDS / 2],
        Files.size(theirs) / 1e6);
    double ratio = write[ROUNDS / 2] / copy[ROUNDS / 2];
    Figures.print(how.label() + ": writing over oiiotool's copy", ratio, 1.5, false);
  }

  private static void write(Path file, byte[] bytes) {
    try {
      AtomicFile.publish(file, bytes, true);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void copy(Path from, Path to, ExrCompression how) {
    try {
      Process p =
          new ProcessBuilder(
                  "oiiotool", from.toString(), "--compression", how.label(), "-o", to.toString())
              .inheritIO()
              .start();
      if (p.waitFor() != 0) {
        throw new IllegalStateException("oiiotool failed");
      }
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException("oiiotool is needed", e);
    }
  }

  /** A rendered frame with light parts, repeated until it is large enough. */
  private static FrameImage picture() throws Exception {
    DemoScenes.Demo d = DemoScenes.all().get(0);
    RenderScene s = new RenderScene(DemoScenes.load(d), Workers.CALLER);
    int w = 1920 / TILES, h = 1080 / TILES;
    Set<Pass> wanted = EnumSet.copyOf(Pass.LIGHT_PARTS);
    wanted.add(Pass.BEAUTY);
    FrameImage small =
        s.frame(
                d.camera(),
                new Moment(24, 1, 24),
                w,
                h,
                RenderSettings.of(16, 0).with(wanted),
                Workers.CALLER,
                Stop.NEVER,
                null)
            .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    List<Channel> channels = new ArrayList<>();
    for (Channel c : small.channels().subList(0, CHANNELS)) {
      float[] large = new float[1920 * 1080];
      for (int i = 0; i < large.length; i++) {
        large[i] = c.data()[i / 1920 % h * w + i % 1920 % w];
      }
      channels.add(new Channel(c.name(), Precision.HALF, large));
    }
    return new FrameImage(1920, 1080, channels);
  }
}
