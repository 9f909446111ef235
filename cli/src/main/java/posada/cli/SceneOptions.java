package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.UnfitNames;
import posada.core.scene.Environment;
import posada.core.scene.Sky;
import posada.core.scene.Track;
import posada.core.settings.Moment;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.Documents;
import posada.formats.settings.EnvironmentPicture;
import posada.formats.settings.RenderDocument;
import tools.jackson.databind.node.ObjectNode;

/** What all commands that look at a scene through a camera are told, and how they begin and end. */
final class SceneOptions {
  @Parameters(paramLabel = "SCENE", description = "a .glb, .gltf or .zip file")
  Path scene;

  @Option(names = "--camera", description = "may be left out when there is one camera or none")
  String camera;

  @Option(
      names = "--frames",
      description = "1-48, 1-96x4 or 1,10,20-30; the animation's own length if left out")
  String frames;

  @Option(names = "--size", description = "width x height in pixels", defaultValue = "1280x720")
  String size;

  @Option(
      names = "--settings",
      description = "a JSON file with everything else (docs/settings.md); options win over it")
  Path settingsFile;

  @Option(
      names = "--layer",
      description =
          "another such file, of what takes part and how (docs/layers.md); over the first")
  Path layerFile;

  @Option(
      names = "--clips",
      description = "names of the animations that play; all if left out",
      split = ",")
  List<String> clips;

  @Option(names = "--environment", description = "an .exr or .hdr picture of all directions")
  Path environment;

  @Option(names = "--threads", description = "all processors if left out")
  Integer threads;

  @Option(names = "--fps", description = "frames per second", defaultValue = "24")
  double fps;

  /** Names of files if nothing else is said. */
  private static final String PATTERN = "{camera}_{pass}.{frame:4}";

  /**
   * A scene that is open.
   *
   * @param document settings of the files, without further options
   * @param wh width and height in pixels
   */
  record Open(
      SceneInput input,
      RenderDocument document,
      FrameRate rate,
      FrameRange range,
      int[] wh,
      RenderScene scene,
      String camera,
      Workers workers,
      Stop stop) {
    List<Moment> moments() {
      return range.frames().stream().map(rate::moment).toList();
    }
  }

  /** What is done with an open scene; returns the exit code. */
  interface Work {
    int with(Open open) throws IOException, ImportException;
  }

  /** Opens the scene, does the work until Ctrl-C, and says what went wrong. */
  int run(Work work) {
    return Interruptible.run(
        stop -> {
          System.err.println("reading " + scene.getFileName());
          try (SceneInput input = SceneInput.open(scene)) {
            return run(work, input, stop);
          }
        });
  }

  private int run(Work work, SceneInput input, Stop stop) throws IOException, ImportException {
    int count = threads(threads);
    FrameRate rate = new FrameRate(fps);
    FrameRange range = range(input, rate);
    int[] wh = pixels();
    RenderDocument d = document();
    ExecutorService pool = Executors.newFixedThreadPool(count);
    try {
      Workers workers = new Workers(pool, count);
      RenderScene ready = scene(input, d, workers);
      UnfitNames.refuse(ready.scene(), d.settings());
      return work.with(
          new Open(input, d, rate, range, wh, ready, ready.camera(camera), workers, stop));
    } finally {
      pool.shutdownNow();
    }
  }

  /** What the files say, the layer's over the settings', and the options over both. */
  private RenderDocument document() throws IOException {
    ObjectNode said = Documents.object("{\"delivery\": {\"pattern\": \"" + PATTERN + "\"}}");
    for (Path file : Arrays.asList(settingsFile, layerFile)) {
      if (file != null) {
        Documents.read(file, RenderDocument.class); // Refuses it by its name.
        said = Documents.over(said, Documents.object(file));
      }
    }
    RenderDocument d = Documents.read(said, RenderDocument.class);
    return clips == null ? d : d.with(d.settings().playing(new LinkedHashSet<>(clips)));
  }

  /** Returns how many threads to use: all processors, unless it is said. */
  static int threads(Integer wanted) {
    int count = wanted == null ? Runtime.getRuntime().availableProcessors() : wanted;
    if (count < 1 || count > 1024) {
      throw new IllegalArgumentException("threads must be 1 .. 1024 (got " + count + ")");
    }
    return count;
  }

  private RenderScene scene(SceneInput input, RenderDocument d, Workers workers)
      throws IOException {
    RenderScene ready = new RenderScene(input.imported().scene(), workers);
    if (environment != null) {
      Environment.Picture picture =
          new Environment.Picture(
              environment.getFileName().toString(),
              EnvironmentPicture.read(environment),
              Track.of(0),
              Track.of(1));
      return d.changed(ready, null, workers)
          .withEnvironment(new Environment(Sky.NONE, picture, null, new float[3]));
    }
    Path beside = settingsFile == null ? layerFile : settingsFile;
    return d.changed(ready, beside == null ? null : beside.toAbsolutePath().getParent(), workers);
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

  private int[] pixels() {
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

  static long freeBytes() {
    Runtime r = Runtime.getRuntime();
    return r.maxMemory() - r.totalMemory() + r.freeMemory();
  }
}
