package posada.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.irradiance.BakedLight;
import posada.core.plan.Fingerprint;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.scene.Track;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.Brightness;
import posada.core.trace.FrameRenderer;
import posada.core.trace.Meter;
import posada.core.trace.RenderScene;
import posada.formats.display.PngFile;
import posada.formats.exr.DeepExr;
import posada.formats.exr.ExrHeader;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileFormat;
import posada.formats.files.FileOptions;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.light.LightFile;
import posada.formats.settings.SettingsJson;

/** {@code posada render}: a sequence from a scene. */
@Command(
    name = "render",
    description = "Renders frames of a scene to files.",
    mixinStandardHelpOptions = true)
final class RenderCommand implements Callable<Integer> {
  private static final int ROUND = 4;

  @Mixin private SceneOptions in;

  @Mixin private RenderOptions wanted;

  @Option(names = "--estimate", description = "say what a frame costs and render nothing")
  private boolean estimate;

  @Option(names = "--so-far", description = "a .png file that shows the frame as it grows")
  private Path soFar;

  @Option(
      names = "--format",
      description = "exr, png, png16, tiff, tiff16, tiff-float, tga, jpeg",
      defaultValue = "exr",
      split = ",")
  private List<String> format;

  @Option(
      names = "--name",
      description = "pattern of the files' names",
      defaultValue = "{camera}_{pass}.{frame:4}")
  private String name;

  @Option(names = "--out", description = "folder for the files")
  private Path out;

  @Option(names = "--overwrite", description = "replace files that are there")
  private boolean overwrite;

  @Option(names = "--json", description = "print one JSON object for each frame")
  private boolean json;

  @Option(names = "--light", description = "a file of baked light; see posada bake")
  private Path light;

  @Option(
      names = "--anyway",
      description = "use baked light though something is not as it was baked")
  private boolean anyway;

  @Override
  public Integer call() {
    return in.run(this::render);
  }

  private int render(SceneOptions.Open open) throws IOException {
    if (out == null && !estimate) {
      throw new IllegalArgumentException("a folder for the files is needed: --out FOLDER");
    }
    if (soFar != null && !soFar.toString().toLowerCase(Locale.ROOT).endsWith(".png")) {
      throw new IllegalArgumentException(
          "the picture so far is a PNG; end its name in .png (got " + soFar + ")");
    }
    int[] wh = open.wh();
    SettingsJson.Document document = wanted.over(open.document());
    RenderSettings settings = document.settings();
    RenderScene ready = lit(open, settings);
    if (estimate) {
      return estimate(ready, wh, settings);
    }
    FrameFiles files = files(open, settings, document.files());
    Progress progress = new Progress(open.range().size(), json);
    if (wanted.metered()) {
      settings = metered(open, ready, settings);
    }
    if (settings == null) {
      progress.stopped();
      return Main.STOPPED;
    }
    List<Moment> moments = open.moments();
    List<Crop> regions =
        ready.regions(open.camera(), moments, wh[0], wh[1], settings, open.workers(), open.stop());
    if (regions == null) {
      progress.stopped();
      return Main.STOPPED;
    }
    for (int i = 0; i < moments.size(); i++) {
      RenderSettings s = settings.with(regions.get(i));
      if (!one(open, ready, moments.get(i), s, files, progress)) {
        progress.stopped();
        return Main.STOPPED;
      }
    }
    progress.ended();
    return 0;
  }

  /** The scene with its baked light, if there is some and it fits. */
  private RenderScene lit(SceneOptions.Open open, RenderSettings settings) throws IOException {
    if (light == null) {
      if (settings.irradiance().use()) {
        throw new IllegalArgumentException(
            "the settings ask for baked light; bake it with posada bake and name it with --light");
      }
      return open.scene();
    }
    BakedLight baked = LightFile.read(light);
    List<String> wrong = open.scene().changes(baked, open.moments(), settings);
    if (!wrong.isEmpty()) {
      String why = light.getFileName() + " does not fit: " + BakeCommand.list(wrong);
      if (!anyway) {
        throw new IllegalArgumentException(
            why + "; bake it again, or use it as it is with --anyway");
      }
      System.err.println("posada: " + why);
    }
    return open.scene().withBakedLight(baked);
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

  private FrameFiles files(SceneOptions.Open open, RenderSettings s, FileOptions options) {
    List<FileFormat> formats =
        format.stream().map(f -> FileFormat.named(f.strip())).distinct().toList();
    NamePattern pattern = new NamePattern(name);
    pattern.check(open.range().size());
    FrameFiles files =
        new FrameFiles(
            out,
            pattern,
            formats,
            s.passes(),
            fields(open.input(), open.camera(), s.layer()),
            open.rate(),
            s.background(),
            options);
    refuseTaken(files, open.range());
    return files;
  }

  private boolean one(
      SceneOptions.Open open,
      RenderScene ready,
      Moment moment,
      RenderSettings settings,
      FrameFiles files,
      Progress progress)
      throws IOException {
    long start = System.nanoTime();
    int frame = moment.frame();
    FrameRenderer renderer =
        ready.frame(
            open.camera(),
            moment,
            open.wh()[0],
            open.wh()[1],
            settings,
            open.workers(),
            open.stop(),
            SceneOptions::freeBytes);
    FrameImage image =
        renderer == null
            ? null
            : renderer.render(
                ROUND,
                open.workers(),
                open.stop(),
                (done, total) -> {
                  progress.at(frame, done / (double) total);
                  show(renderer);
                },
                System::nanoTime);
    if (image == null) {
      return false;
    }
    double seconds = (System.nanoTime() - start) / 1e9;
    progress.looked(frame, Brightness.of(image));
    Map<String, String> texts = new LinkedHashMap<>();
    texts.put("posadaShot", open.camera());
    texts.put("posadaCamera", open.camera());
    texts.put("posadaLayer", settings.layer().name());
    texts.put(ExrHeader.FRAME, Integer.toString(frame));
    texts.put("posadaSamples", Integer.toString(renderer.film().samples()));
    texts.put("posadaSeconds", String.format(Locale.ROOT, "%.3f", seconds));
    texts.put(ExrHeader.EXPOSURE, Double.toString(settings.lens().exposure().at(moment.seconds())));
    if (settings.denoising().picture()) {
      texts.put(ExrHeader.DENOISED, Double.toString(settings.denoising().amount()));
    }
    texts.put(
        ExrHeader.FINGERPRINT,
        Fingerprint.of(
            in.scene.getFileName().toString(),
            Long.toString(in.scene.toFile().length()),
            open.camera(),
            in.size,
            settings.toString(),
            in.settingsFile == null ? "" : Files.readString(in.settingsFile),
            in.layerFile == null ? "" : Files.readString(in.layerFile),
            in.environment == null
                ? ""
                : in.environment.getFileName() + " " + Files.size(in.environment),
            light == null ? "" : light.getFileName() + " " + Files.size(light),
            Integer.toString(frame)));
    DeepImage deepPicture = renderer.film().deepImage();
    if (deepPicture != null) {
      System.err.printf(
          Locale.ROOT,
          "frame %d  deep: %,d samples, about %.1f MB%n",
          frame,
          deepPicture.samples(),
          DeepExr.estimate(deepPicture, files.options().compression()) / 1e6);
    }
    List<Path> written = files.write(frame, image, deepPicture, texts, overwrite, open.workers());
    progress.done(frame, seconds, renderer.report(), written);
    return true;
  }

  /** Writes the picture so far where it was asked for. */
  private void show(FrameRenderer renderer) {
    if (soFar == null) {
      return;
    }
    try {
      FrameImage image = renderer.film().image(Set.of(Pass.BEAUTY)).full();
      AtomicFile.publish(
          soFar, PngFile.encode(ViewTransform.beauty(image, 0, false), 8, Map.of()), true);
    } catch (IOException e) {
      System.err.println("posada: " + soFar + " cannot be written: " + FileTrouble.sentence(e));
      soFar = null;
    }
  }

  private Map<String, String> fields(SceneInput input, String cameraName, Layer layer) {
    return Map.of(
        "camera",
        cameraName,
        "shot",
        cameraName,
        "layer",
        layer.name(),
        "version",
        "1",
        "production",
        input.imported().scene().name(),
        "scene",
        input.imported().scene().name(),
        "date",
        LocalDate.now().toString());
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
