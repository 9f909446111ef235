package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.irradiance.BakedLight;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.scene.Track;
import posada.core.settings.RenderSettings;
import posada.core.trace.Brightness;
import posada.core.trace.FrameRenderer;
import posada.core.trace.Meter;
import posada.core.trace.RenderScene;
import posada.formats.display.PngFile;
import posada.formats.exr.DeepExr;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.JobCache;
import posada.formats.job.StrandDocument;
import posada.formats.light.LightFile;
import posada.formats.settings.RenderDocument;

/** {@code posada render}: a sequence from a scene. */
@Command(
    name = "render",
    description = "Renders frames of a scene to files.",
    mixinStandardHelpOptions = true)
final class RenderCommand implements Callable<Integer> {
  /** Bytes of scenes, regions and light: there is one of each. */
  private static final long CACHE = 1L << 40;

  @Mixin private SceneOptions in;

  @Mixin private RenderOptions wanted;

  @Option(names = "--estimate", description = "say what a frame costs and render nothing")
  private boolean estimate;

  @Option(names = "--progress-image", description = "a .png file that shows the frame as it grows")
  private Path progressImage;

  @Option(names = "--out", description = "folder for the files")
  private Path out;

  @Option(names = "--overwrite", description = "replace files that are there")
  private boolean overwrite;

  @Option(names = "--json", description = "print one JSON object for each frame")
  private boolean json;

  @Option(names = "--light", description = "a file of baked light; see posada bake")
  private Path light;

  @Option(
      names = "--force",
      description = "use baked light though something is not as it was baked")
  private boolean force;

  @Override
  public Integer call() {
    return in.run(this::render);
  }

  private int render(SceneOptions.Open open) throws IOException, ImportException {
    if (out == null && !estimate) {
      throw new IllegalArgumentException("a folder for the files is needed: --out FOLDER");
    }
    if (progressImage != null
        && !progressImage.toString().toLowerCase(Locale.ROOT).endsWith(".png")) {
      throw new IllegalArgumentException(
          "the progress image is a PNG; end its name in .png (got " + progressImage + ")");
    }
    RenderDocument document = wanted.over(open.document());
    RenderSettings settings = document.settings();
    BakedLight baked = light(open, settings);
    RenderScene ready = baked == null ? open.scene() : open.scene().withBakedLight(baked);
    if (estimate) {
      return estimate(ready, open.wh(), settings);
    }
    Progress progress = new Progress(open.range().size(), json);
    if (wanted.metered()) {
      settings = metered(open, ready, settings);
    }
    if (settings == null) {
      progress.stopped();
      return Main.STOPPED;
    }
    FrameJob job =
        new FrameJob(
            strand(open, document.with(settings)),
            open.scene(),
            baked,
            out,
            new FrameJob.Machine(
                open.workers(), System::nanoTime, SceneOptions::freeBytes, new JobCache(CACHE)));
    new NamePattern(document.delivery().pattern()).check(open.range().size());
    refuseTaken(job.files(), open.range());
    for (int frame : open.range().frames()) {
      FrameJob.Done done =
          job.render(frame, List.of(frame), overwrite, open.stop(), listener(frame, job, progress));
      if (done == null) {
        progress.stopped();
        return Main.STOPPED;
      }
      progress.done(frame, done.seconds(), done.report(), done.files());
    }
    progress.ended();
    return 0;
  }

  private StrandDocument strand(SceneOptions.Open open, RenderDocument document) {
    String scene = open.input().imported().scene().name();
    return new StrandDocument(
        StrandDocument.SCHEMA,
        scene,
        scene,
        1,
        "",
        in.scene.getFileName().toString(),
        open.camera(),
        open.camera(),
        open.range().toString(),
        open.rate().perSecond(),
        open.wh()[0],
        open.wh()[1],
        document,
        1,
        LocalDate.now().toString());
  }

  private FrameJob.Listener listener(int frame, FrameJob job, Progress progress) {
    return new FrameJob.Listener() {
      @Override
      public void at(double fraction, FrameRenderer renderer) {
        progress.at(frame, fraction);
        show(renderer);
      }

      @Override
      public void made(FrameImage image, DeepImage deep) {
        progress.looked(frame, Brightness.of(image));
        if (deep != null) {
          System.err.printf(
              Locale.ROOT,
              "frame %d  deep: %,d samples, about %.1f MB%n",
              frame,
              deep.samples(),
              DeepExr.estimate(deep, job.files().delivery().compression()) / 1e6);
        }
      }
    };
  }

  /** The baked light, if there is some and it fits. */
  private BakedLight light(SceneOptions.Open open, RenderSettings settings) throws IOException {
    if (light == null) {
      if (settings.irradiance().use()) {
        throw new IllegalArgumentException(
            "the settings ask for baked light; bake it with posada bake and name it with --light");
      }
      return null;
    }
    BakedLight baked = LightFile.read(light);
    List<String> wrong = open.scene().changes(baked, open.moments(), settings);
    if (!wrong.isEmpty()) {
      String why = light.getFileName() + " does not fit: " + BakeCommand.list(wrong);
      if (!force) {
        throw new IllegalArgumentException(
            why + "; bake it again, or use it as it is with --force");
      }
      System.err.println("posada: " + why);
    }
    return baked;
  }

  /** The settings with the exposure that the pictures ask for; null if it was stopped. */
  private static RenderSettings metered(
      SceneOptions.Open open, RenderScene ready, RenderSettings settings) {
    double stops =
        Meter.stops(
            ready,
            open.camera(),
            open.moments(),
            open.wh()[0],
            open.wh()[1],
            settings,
            open.workers(),
            open.stop());
    if (Double.isNaN(stops)) {
      return null;
    }
    System.err.printf(Locale.ROOT, "exposure %.1f stops, as metered%n", stops);
    return settings.with(settings.lens().exposed(Track.of(stops)));
  }

  private int estimate(RenderScene ready, int[] wh, RenderSettings settings) {
    long frame = ready.frameBytes(wh[0], wh[1], settings);
    System.out.println(settings.rays().sentence());
    System.out.printf(
        Locale.ROOT, "memory: scene %.1f MB, frame %.1f MB%n", ready.bytes() / 1e6, frame / 1e6);
    return 0;
  }

  /** Writes the picture so far where it was asked for. */
  private void show(FrameRenderer renderer) {
    if (progressImage == null) {
      return;
    }
    try {
      FrameImage image = renderer.soFar().full();
      AtomicFile.publish(
          progressImage, PngFile.encode(ViewTransform.beauty(image, 0, false), 8, Map.of()), true);
    } catch (IOException e) {
      System.err.println(
          "posada: " + progressImage + " cannot be written: " + FileTrouble.sentence(e));
      progressImage = null;
    }
  }

  /** Looks before a night of rendering, not after it. */
  private void refuseTaken(FrameFiles files, FrameRange range) {
    List<Path> taken = new ArrayList<>();
    for (int f : range.frames()) {
      files.paths(f).stream().filter(p -> p.toFile().exists()).forEach(taken::add);
    }
    refuseTaken(taken, overwrite);
  }

  static void refuseTaken(List<Path> taken, boolean overwrite) {
    if (!taken.isEmpty() && !overwrite) {
      throw new IllegalArgumentException(
          taken.size()
              + " of the files are there already ("
              + taken.get(0)
              + "); choose another folder, or add --overwrite");
    }
  }
}
