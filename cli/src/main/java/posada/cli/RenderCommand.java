package posada.cli;

import java.io.IOException;
import java.nio.file.Files;
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
import java.util.stream.IntStream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.image.SrgbTransfer;
import posada.core.image.ViewTransform;
import posada.core.parallel.Workers;
import posada.core.plan.Fingerprint;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.scene.Environment;
import posada.core.scene.Sky;
import posada.core.scene.Track;
import posada.core.trace.FrameFailure;
import posada.core.trace.FrameRenderer;
import posada.core.trace.Layer;
import posada.core.trace.Moment;
import posada.core.trace.Pass;
import posada.core.trace.RenderScene;
import posada.core.trace.RenderSettings;
import posada.formats.display.PngFile;
import posada.formats.exr.DeepExr;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileFormat;
import posada.formats.files.FileOptions;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.settings.EnvironmentPicture;
import posada.formats.settings.SettingsJson;

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

  @Option(names = "--samples", description = "for each pixel; 64 if nothing else is said")
  private Integer samples;

  @Option(
      names = "--settings",
      description = "a JSON file with everything else (docs/settings.md); options win over it")
  private Path settingsFile;

  @Option(
      names = "--layer",
      description = "a JSON file of what takes part and how (docs/layers.md)")
  private Path layerFile;

  @Option(
      names = "--noise",
      description = "adaptive: pixels are left alone once their noise is below this, such as 0.03")
  private Double noise;

  @Option(names = "--limit", description = "seconds after which a frame begins no more samples")
  private Double limit;

  @Option(names = "--crop", description = "a region alone: X,Y,WIDTHxHEIGHT in pixels")
  private String crop;

  @Option(
      names = "--clips",
      description = "names of the animations that play; all if left out",
      split = ",")
  private List<String> clips;

  @Option(names = "--environment", description = "an .exr or .hdr picture of all directions")
  private Path environment;

  @Option(names = "--estimate", description = "say what a frame costs and render nothing")
  private boolean estimate;

  @Option(names = "--so-far", description = "a .png file that shows the frame as it grows")
  private Path soFar;

  @Option(
      names = "--passes",
      description = "names of passes, or all parts of the light as 'light'; see posada passes",
      split = ",")
  private List<String> passes;

  @Option(
      names = "--denoise",
      description =
          "off; picture: write it clean; data: write the pass guides to clean it later (posada"
              + " denoise); both")
  private String denoise;

  @Option(
      names = "--deep",
      arity = "0..1",
      fallbackValue = "0.01",
      description =
          "a deep EXR too; depths that differ by less than this part of them are one (0.01)")
  private Double deep;

  @Option(
      names = "--format",
      description = "exr, png, png16, tiff, tiff16, tiff-float, tga, jpeg",
      defaultValue = "exr",
      split = ",")
  private List<String> format;

  @Option(names = "--compression", description = "of EXR: zip, zips, rle, none")
  private String compression;

  @Option(names = "--per-pass", description = "an EXR for each pass instead of one for all")
  private Boolean perPass;

  @Option(names = "--quality", description = "of JPEG, 1 .. 100; 92 if left out")
  private Integer quality;

  @Option(
      names = "--name",
      description = "pattern of the files' names",
      defaultValue = "{camera}_{pass}.{frame:4}")
  private String name;

  @Option(names = "--out", description = "folder for the files")
  private Path out;

  @Option(names = "--threads", description = "all processors if left out")
  private Integer threads;

  @Option(names = "--seed", description = "of the sampling pattern")
  private Integer seed;

  @Option(names = "--bounces", description = "how often light may be scattered or mirrored")
  private Integer bounces;

  @Option(names = "--fps", description = "frames per second", defaultValue = "24")
  private double fps;

  @Option(
      names = "--background",
      description = "sky, transparent, or a colour such as #405060 that fills display files")
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
    } catch (ImportException | IllegalArgumentException | FrameFailure e) {
      System.err.println("posada: " + e.getMessage());
      return Main.USAGE;
    } catch (IOException e) {
      System.err.println("posada: " + e.getMessage());
      return Main.FAILED;
    } finally {
      ended.countDown();
    }
  }

  /** Returns how many threads to use: all processors, unless it is said. */
  static int threads(Integer wanted) {
    int count = wanted == null ? Runtime.getRuntime().availableProcessors() : wanted;
    if (count < 1 || count > 1024) {
      throw new IllegalArgumentException("threads must be 1 .. 1024 (got " + count + ")");
    }
    return count;
  }

  private int render(SceneInput input) throws IOException {
    int count = threads(threads);
    if (out == null && !estimate) {
      throw new IllegalArgumentException("a folder for the files is needed: --out FOLDER");
    }
    FrameRate rate = new FrameRate(fps);
    FrameRange range = range(input, rate);
    int[] wh = size();
    SettingsJson.Document document = document();
    RenderSettings settings = document.settings();
    ExecutorService pool = Executors.newFixedThreadPool(count);
    try {
      Workers workers = new Workers(pool, count);
      RenderScene ready = scene(input, document, workers);
      String cameraName = ready.camera(camera);
      if (estimate) {
        return estimate(ready, wh, settings);
      }
      FrameFiles files = files(input, range, cameraName, rate, settings, document.files());
      Progress progress = new Progress(range.size(), json);
      List<Moment> moments =
          range.frames().stream()
              .map(f -> new Moment(f, rate.secondsOf(f), rate.perSecond()))
              .toList();
      List<RenderSettings.Crop> regions =
          ready.regions(cameraName, moments, wh[0], wh[1], settings, workers, () -> stopped);
      if (regions == null) {
        progress.stopped();
        return Main.STOPPED;
      }
      for (int i = 0; i < moments.size(); i++) {
        RenderSettings s = settings.with(regions.get(i));
        if (!one(ready, cameraName, moments.get(i), wh, s, files, workers, progress)) {
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

  /** The settings of the file, if there is one, with the options of the command line over them. */
  private SettingsJson.Document document() throws IOException {
    SettingsJson.Document d =
        settingsFile == null
            ? new SettingsJson.Document(RenderSettings.DEFAULT, null, FileOptions.DEFAULT)
            : SettingsJson.read(settingsFile);
    RenderSettings s = d.settings();
    if (layerFile != null) {
      s = SettingsJson.layer(layerFile, s);
    }
    RenderSettings.Sampling p = s.sampling();
    int most = samples == null ? p.most() : samples;
    s =
        s.with(
            new RenderSettings.Sampling(
                Math.min(p.least(), Math.max(1, most)),
                most,
                p.adaptive() || noise != null,
                noise == null ? p.noiseThreshold() : noise,
                limit == null ? p.seconds() : limit,
                seed == null ? p.seed() : seed,
                p.seedPerFrame(),
                p.pattern()));
    if (bounces != null) {
      s = s.withBounces(bounces, s.bounces().indirectClamp());
    }
    if (crop != null) {
      s = s.with(region());
    }
    if (background != null) {
      s = s.with(skyShown());
    }
    if (passes != null) {
      s = s.with(chosenPasses());
    }
    if (denoise != null) {
      s = denoised(s);
    }
    if (deep != null) {
      s = s.with(s.passes().withDeep(deep));
    }
    if (clips != null) {
      s = s.playing(new LinkedHashSet<>(clips));
    }
    return new SettingsJson.Document(s, d.environment(), fileOptions(d.files()));
  }

  private FileOptions fileOptions(FileOptions d) {
    return new FileOptions(
        compression == null ? d.compression() : ExrCompression.named(compression),
        perPass == null ? d.perPass() : perPass,
        quality == null ? d.quality() : quality,
        background != null && background.startsWith("#") ? colour() : d.fill());
  }

  /** The background as a scene-linear colour. */
  private List<Float> colour() {
    if (!background.matches("#[0-9a-fA-F]{6}")) {
      throw new IllegalArgumentException(
          "background \"" + background + "\" is no colour; write six digits such as #405060");
    }
    int rgb = Integer.parseInt(background.substring(1), 16);
    return IntStream.of(16, 8, 0)
        .mapToObj(shift -> (float) SrgbTransfer.decode((rgb >> shift & 255) / 255f))
        .toList();
  }

  private RenderSettings denoised(RenderSettings s) {
    if (!Set.of("off", "picture", "data", "both").contains(denoise)) {
      throw new IllegalArgumentException(
          "there is no way to denoise called \""
              + denoise
              + "\"; there are off, picture, data and both");
    }
    boolean picture = denoise.equals("picture") || denoise.equals("both");
    Set<Pass> wanted = new LinkedHashSet<>(s.passes().wanted());
    if (denoise.equals("data") || denoise.equals("both")) {
      wanted.add(Pass.GUIDES);
    }
    return s.with(new RenderSettings.Denoising(picture, s.denoising().amount())).with(wanted);
  }

  private Set<Pass> chosenPasses() {
    Set<Pass> chosen = new LinkedHashSet<>();
    for (String name : passes) {
      if (name.strip().equals("light")) {
        chosen.addAll(Pass.LIGHT_PARTS);
      } else {
        chosen.add(Pass.named(name.strip()));
      }
    }
    return chosen;
  }

  private RenderSettings.Crop region() {
    java.util.regex.Matcher m =
        java.util.regex.Pattern.compile("(\\d{1,5}),(\\d{1,5}),(\\d{1,5})[x×](\\d{1,5})")
            .matcher(crop);
    if (!m.matches()) {
      throw new IllegalArgumentException(
          "crop \"" + crop + "\" cannot be read; write X,Y,WIDTHxHEIGHT such as 100,50,320x180");
    }
    int[] v = new int[4];
    for (int k = 0; k < 4; k++) {
      v[k] = Integer.parseInt(m.group(k + 1));
    }
    return new RenderSettings.Crop(v[0], v[1], v[2], v[3], true);
  }

  private RenderScene scene(SceneInput input, SettingsJson.Document d, Workers workers)
      throws IOException {
    RenderScene ready = new RenderScene(input.imported().scene(), workers);
    if (environment != null) {
      Environment.Picture picture =
          new Environment.Picture(
              environment.getFileName().toString(),
              EnvironmentPicture.read(environment),
              Track.of(0),
              Track.of(1));
      return ready.in(new Environment(Sky.NONE, picture, null, new float[3]));
    }
    return d.environment() == null ? ready : ready.in(d.environment());
  }

  private int estimate(RenderScene ready, int[] wh, RenderSettings settings) {
    long frame = ready.frameBytes(wh[0], wh[1], settings);
    System.out.println(settings.rays().sentence());
    System.out.printf(
        java.util.Locale.ROOT,
        "memory: scene %.1f MB, frame %.1f MB%n",
        ready.bytes() / 1e6,
        frame / 1e6);
    return 0;
  }

  private FrameFiles files(
      SceneInput input,
      FrameRange range,
      String cameraName,
      FrameRate rate,
      RenderSettings s,
      FileOptions options) {
    List<FileFormat> formats =
        format.stream().map(f -> FileFormat.named(f.strip())).distinct().toList();
    NamePattern pattern = new NamePattern(name);
    pattern.check(range.size());
    FrameFiles files =
        new FrameFiles(
            out,
            pattern,
            formats,
            s.passes(),
            fields(input, cameraName, s.layer()),
            rate,
            s.background(),
            options);
    refuseTaken(files, range);
    return files;
  }

  private boolean one(
      RenderScene ready,
      String cameraName,
      Moment moment,
      int[] wh,
      RenderSettings settings,
      FrameFiles files,
      Workers workers,
      Progress progress)
      throws IOException {
    long start = System.nanoTime();
    int frame = moment.frame();
    FrameRenderer renderer =
        ready.frame(
            cameraName,
            moment,
            wh[0],
            wh[1],
            settings,
            workers,
            () -> stopped,
            RenderCommand::freeBytes);
    FrameImage image =
        renderer == null
            ? null
            : renderer.render(
                ROUND,
                workers,
                () -> stopped,
                (done, total) -> {
                  progress.at(frame, done / (double) total);
                  show(renderer);
                },
                System::nanoTime);
    if (image == null) {
      return false;
    }
    double seconds = (System.nanoTime() - start) / 1e9;
    Map<String, String> texts = new LinkedHashMap<>();
    texts.put("posadaShot", cameraName);
    texts.put("posadaCamera", cameraName);
    texts.put("posadaLayer", settings.layer().name());
    texts.put(ExrHeader.FRAME, Integer.toString(frame));
    texts.put("posadaSamples", Integer.toString(renderer.film().samples()));
    texts.put("posadaSeconds", String.format(java.util.Locale.ROOT, "%.3f", seconds));
    if (settings.denoising().picture()) {
      texts.put(ExrHeader.DENOISED, Double.toString(settings.denoising().amount()));
    }
    texts.put(
        ExrHeader.FINGERPRINT,
        Fingerprint.of(
            scene.getFileName().toString(),
            Long.toString(scene.toFile().length()),
            cameraName,
            size,
            settings.toString(),
            settingsFile == null ? "" : Files.readString(settingsFile),
            layerFile == null ? "" : Files.readString(layerFile),
            environment == null ? "" : environment.getFileName() + " " + Files.size(environment),
            Integer.toString(frame)));
    DeepImage deepPicture = renderer.film().deepImage();
    if (deepPicture != null) {
      System.err.printf(
          java.util.Locale.ROOT,
          "frame %d  deep: %,d samples, about %.1f MB%n",
          frame,
          deepPicture.samples(),
          DeepExr.estimate(deepPicture, files.options().compression()) / 1e6);
    }
    List<Path> written = files.write(frame, image, deepPicture, texts, overwrite, workers);
    progress.done(frame, seconds, renderer.report(), written);
    return true;
  }

  private static long freeBytes() {
    Runtime r = Runtime.getRuntime();
    return r.maxMemory() - r.totalMemory() + r.freeMemory();
  }

  /** Writes the picture so far where it was asked for. */
  private void show(FrameRenderer renderer) {
    if (soFar == null) {
      return;
    }
    try {
      FrameImage image = renderer.film().image(Set.of(Pass.BEAUTY)).full();
      AtomicFile.publish(
          soFar,
          PngFile.encode(ViewTransform.beauty(image, 0, false), 8, java.util.Map.of()),
          true);
    } catch (IOException e) {
      System.err.println("posada: " + soFar + " cannot be written: " + e.getMessage());
      soFar = null;
    }
  }

  private boolean skyShown() {
    if (background.startsWith("#")) {
      return false;
    }
    return switch (background) {
      case "sky" -> true;
      case "transparent" -> false;
      default ->
          throw new IllegalArgumentException(
              "there is no background \""
                  + background
                  + "\"; there are sky, transparent and colours such as #405060");
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
