package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.image.FrameImage;
import posada.core.parallel.Workers;
import posada.core.plan.Fingerprint;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.trace.FrameRenderer;
import posada.core.trace.Pass;
import posada.core.trace.RenderScene;
import posada.core.trace.RenderSettings;
import posada.formats.exr.ExrHeader;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;

/** {@code posada render}: a sequence from a scene. */
@Command(
    name = "render",
    description = "Renders frames of a scene to files.",
    mixinStandardHelpOptions = true)
final class RenderCommand implements Callable<Integer> {
  private static final int ROUND = 4;

  @Parameters(paramLabel = "SCENE", description = "a .glb, .gltf or .zip file")
  private Path scene;

  @Option(names = "--camera", description = "may be left out when there is one camera or none")
  private String camera;

  @Option(
      names = "--frames",
      description = "1-48, 1-96x4 or 1,10,20-30; the animation's own length if left out")
  private String frames;

  @Option(names = "--size", description = "width x height in pixels", defaultValue = "1280x720")
  private String size;

  @Option(names = "--samples", description = "for each pixel", defaultValue = "64")
  private int samples;

  @Option(
      names = "--passes",
      description = "beauty, depth, normal, albedo",
      defaultValue = "beauty",
      split = ",")
  private List<String> passes;

  @Option(names = "--format", description = "exr, png, png16", defaultValue = "exr", split = ",")
  private List<String> format;

  @Option(
      names = "--name",
      description = "pattern of the files' names",
      defaultValue = "{camera}_{pass}.{frame:4}")
  private String name;

  @Option(names = "--out", description = "folder for the files", required = true)
  private Path out;

  @Option(names = "--threads", description = "all processors if left out")
  private Integer threads;

  @Option(names = "--seed", description = "of the sampling pattern", defaultValue = "0")
  private int seed;

  @Option(names = "--bounces", description = "how often light may be scattered", defaultValue = "5")
  private int bounces;

  @Option(names = "--fps", description = "frames per second", defaultValue = "24")
  private double fps;

  @Option(names = "--background", description = "sky or transparent", defaultValue = "sky")
  private String background;

  @Option(names = "--overwrite", description = "replace files that are there")
  private boolean overwrite;

  @Option(names = "--json", description = "print one JSON object for each frame")
  private boolean json;

  private volatile boolean stopped;

  @Override
  public Integer call() throws Exception {
    CountDownLatch ended = new CountDownLatch(1);
    Thread hook =
        new Thread(
            () -> {
              stopped = true;
              try {
                ended.await();
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            });
    Runtime.getRuntime().addShutdownHook(hook);
    System.err.println("reading " + scene.getFileName());
    try (SceneInput input = SceneInput.open(scene)) {
      return render(input);
    } catch (ImportException | IllegalArgumentException e) {
      System.err.println("posada: " + e.getMessage());
      return Main.USAGE;
    } catch (IOException e) {
      System.err.println("posada: " + e.getMessage());
      return Main.FAILED;
    } finally {
      ended.countDown();
    }
  }

  private int render(SceneInput input) throws IOException {
    int count = threads == null ? Runtime.getRuntime().availableProcessors() : threads;
    if (count < 1 || count > 1024) {
      throw new IllegalArgumentException("threads must be 1 .. 1024 (got " + count + ")");
    }
    FrameRate rate = new FrameRate(fps);
    FrameRange range = range(input, rate);
    int[] wh = size();
    RenderSettings settings =
        new RenderSettings(
            samples, bounces, RenderSettings.DEFAULT_INDIRECT_LIMIT, seed, skyShown());
    Set<Pass> chosen = new LinkedHashSet<>();
    passes.forEach(p -> chosen.add(Pass.named(p.strip())));
    List<FileFormat> formats =
        format.stream().map(f -> FileFormat.named(f.strip())).distinct().toList();
    NamePattern pattern = new NamePattern(name);
    pattern.check(range.size());
    ExecutorService pool = Executors.newFixedThreadPool(count);
    try {
      Workers workers = new Workers(pool, count);
      RenderScene ready = new RenderScene(input.imported().scene(), workers);
      String cameraName = ready.camera(camera);
      FrameFiles files =
          new FrameFiles(
              out, pattern, formats, chosen, fields(input, cameraName), rate, skyShown());
      refuseTaken(files, range);
      Progress progress = new Progress(range.size(), json);
      for (int frame : range.frames()) {
        if (!one(ready, cameraName, frame, rate, wh, settings, files, workers, progress)) {
          progress.stopped();
          return Main.STOPPED;
        }
      }
      progress.ended();
      return 0;
    } finally {
      pool.shutdownNow();
    }
  }

  private boolean one(
      RenderScene ready,
      String cameraName,
      int frame,
      FrameRate rate,
      int[] wh,
      RenderSettings settings,
      FrameFiles files,
      Workers workers,
      Progress progress)
      throws IOException {
    long start = System.nanoTime();
    FrameRenderer renderer = ready.frame(cameraName, rate.secondsOf(frame), wh[0], wh[1], settings);
    FrameImage image =
        renderer.render(
            files.passes(),
            ROUND,
            workers,
            () -> stopped,
            (done, total) -> progress.at(frame, done / (double) total));
    if (image == null) {
      return false;
    }
    double seconds = (System.nanoTime() - start) / 1e9;
    Map<String, String> texts = new LinkedHashMap<>();
    texts.put("posadaCamera", cameraName);
    texts.put("posadaFrame", Integer.toString(frame));
    texts.put("posadaSamples", Integer.toString(settings.samples()));
    texts.put("posadaSeconds", String.format(java.util.Locale.ROOT, "%.3f", seconds));
    texts.put(
        ExrHeader.FINGERPRINT,
        Fingerprint.of(
            scene.getFileName().toString(),
            Long.toString(scene.toFile().length()),
            cameraName,
            size,
            settings.toString(),
            Integer.toString(frame)));
    progress.done(
        frame, seconds, renderer.film().noise(), files.write(frame, image, texts, overwrite));
    return true;
  }

  private boolean skyShown() {
    return switch (background) {
      case "sky" -> true;
      case "transparent" -> false;
      default ->
          throw new IllegalArgumentException(
              "there is no background \"" + background + "\"; there are sky, transparent");
    };
  }

  private FrameRange range(SceneInput input, FrameRate rate) {
    if (frames != null) {
      return FrameRange.parse(frames);
    }
    var all = input.imported().scene().animations();
    if (all.isEmpty()) {
      return FrameRange.parse("1");
    }
    double start = all.stream().mapToDouble(a -> a.start()).min().orElse(0);
    double end = all.stream().mapToDouble(a -> a.end()).max().orElse(0);
    return FrameRange.ofAnimation(start, end, rate.perSecond());
  }

  private int[] size() {
    String[] parts = size.toLowerCase(java.util.Locale.ROOT).split("[x×]");
    try {
      if (parts.length == 2) {
        return new int[] {Integer.parseInt(parts[0].strip()), Integer.parseInt(parts[1].strip())};
      }
    } catch (NumberFormatException e) {
      // Falls through to the one error for everything that is no size.
    }
    throw new IllegalArgumentException("size \"" + size + "\" cannot be read; write 1280x720");
  }

  private Map<String, String> fields(SceneInput input, String cameraName) {
    return Map.of(
        "camera",
        cameraName,
        "shot",
        cameraName,
        "layer",
        "main",
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
      files.paths(f).values().stream().filter(p -> p.toFile().exists()).forEach(taken::add);
    }
    if (!taken.isEmpty() && !overwrite) {
      throw new IllegalArgumentException(
          taken.size()
              + " of the files are there already ("
              + taken.get(0)
              + "); choose another folder, or add --overwrite");
    }
  }
}
