package posada.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.BiFunction;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.assembly.Assembler;
import posada.core.assembly.Corrections;
import posada.core.assembly.Input;
import posada.core.assembly.Mask;
import posada.core.assembly.Operator;
import posada.core.assembly.Picture;
import posada.core.assembly.Source;
import posada.core.assembly.Stack;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.review.Look;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.assembly.FileShelf;
import posada.formats.assembly.FilmDocument;
import posada.formats.assembly.FilmDocument.Frame;
import posada.formats.assembly.FilmDocument.Segment;
import posada.formats.assembly.FilmMaker;
import posada.formats.assembly.FilmOutput;
import posada.formats.display.JpegFile;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.review.Footage;
import posada.formats.settings.Documents;

/** How fast pictures are put together. */
@Command(name = "assembly", description = "Films of stacks, and pictures while a control moves.")
final class AssemblyCommand {
  private static final Set<Pass> PASSES =
      EnumSet.of(
          Pass.BEAUTY,
          Pass.DIFFUSE_DIRECT,
          Pass.DIFFUSE_INDIRECT,
          Pass.SPECULAR_DIRECT,
          Pass.SPECULAR_INDIRECT,
          Pass.EMISSION,
          Pass.ENVIRONMENT,
          Pass.AMBIENT_OCCLUSION);

  private static final int W = 1280, H = 720;
  private final ExecutorService pool =
      Executors.newCachedThreadPool(
          r -> {
            Thread t = new Thread(r);
            t.setDaemon(true);
            return t;
          });
  private final Workers workers = new Workers(pool, Runtime.getRuntime().availableProcessors());

  /** A rendered frame of eight passes under the name of each of some frames. */
  private Path files(int frames) throws Exception {
    DemoScenes.Demo d = DemoScenes.all().get(0);
    RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
    RenderSettings s = RenderSettings.of(2, 1).with(PASSES);
    String camera = scene.scene().cameras().get(0).name();
    FrameImage image =
        scene
            .frame(camera, new Moment(20, 20 / 24.0, 24), W, H, s, workers, Stop.NEVER, null)
            .render(2, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
    Path folder = Files.createTempDirectory("assembly");
    write(folder, TOGETHER, image, frames);
    for (Pass p : PASSES) {
      List<FrameImage.Channel> own = new ArrayList<>();
      for (FrameImage.Channel c : image.channels()) {
        if (c.name().startsWith(p.label() + ".")) {
          String part = c.name().substring(c.name().length() - 1);
          own.add(new FrameImage.Channel(part, c.precision(), c.data()));
        }
      }
      if (own.size() == 3) {
        write(folder, p.label(), new FrameImage(W, H, own), frames);
      }
    }
    return folder;
  }

  private void write(Path folder, String name, FrameImage image, int frames) throws IOException {
    byte[] exr = ExrWriter.encode(image, ExrHeader.NONE, ExrCompression.ZIP, workers);
    for (int f = 1; f <= frames; f++) {
      Files.write(file(folder, name, f), exr);
    }
  }

  private static Path file(Path folder, String name, int frame) {
    return folder.resolve("%s.%04d.exr".formatted(name, frame));
  }

  /** The name of files that have all passes. */
  private static final String TOGETHER = "pass-wide";

  private FileShelf shelf(Path folder, int frames, FileShelf.Cache read) {
    Map<Object, Object> last = new ConcurrentHashMap<>();
    return new FileShelf(
        name ->
            new FileShelf.Known(
                new Footage(
                    name,
                    IntStream.rangeClosed(1, frames).boxed().toList(),
                    f ->
                        List.of(
                            new FrameFiles.Part(
                                FileFormat.EXR, Set.of(Pass.BEAUTY), file(folder, name, f)))),
                24.0),
        read,
        (key, make) -> {
          // The files of one frame, as a film reads them.
          if (last.size() > 4) {
            last.clear();
          }
          return last.computeIfAbsent(key, k -> make.get());
        },
        workers);
  }

  private static Input input(String pass, Operator o) {
    return Input.of(pass, pass, Source.of(TOGETHER, pass)).with(o, 1);
  }

  /** A pass in a file of its own. */
  private static Input alone(String pass, Operator o) {
    return Input.of(pass, pass, Source.of(pass, "beauty")).with(o, 1);
  }

  private static Input blurred(Input in, double pixels) {
    return in.with(Documents.read("{\"blur\": " + pixels + "}", Corrections.class));
  }

  @Command(
      description =
          "A film of 1280 x 720, four inputs, one of them blurred: frames for each second, and"
              + " memory with few and with many frames.")
  int film(
      @Option(names = "--frames", defaultValue = "48", description = "of the longer film")
          int frames)
      throws Exception {
    Path folder = files(frames);
    try {
      for (int n : new int[] {frames / 4, frames}) {
        film(folder, n, n, true, false);
        film(folder, n, n + frames, false, false);
        film(folder, n, n + 2 * frames, true, true);
      }
    } finally {
      remove(folder);
    }
    return 0;
  }

  /** Makes a film; its speed is measured, or its memory, which slows it down. */
  private void film(Path folder, int frames, int version, boolean apart, boolean memory)
      throws IOException {
    BiFunction<String, Operator, Input> of =
        apart ? AssemblyCommand::alone : AssemblyCommand::input;
    Stack s =
        new Stack(
            W,
            H,
            24,
            "1-" + frames,
            List.of(
                blurred(of.apply("emission", Operator.ADD), 12),
                of.apply("environment", Operator.ADD),
                of.apply("specular-direct", Operator.ADD),
                of.apply("diffuse-direct", Operator.OVER)));
    FilmDocument d =
        new FilmDocument(
            1,
            "bench",
            "film",
            version,
            24,
            W,
            H,
            List.of(new Segment("film", null, s, "1-" + frames)),
            FilmOutput.DEFAULT);
    FilmMaker maker =
        new FilmMaker(d, folder.resolve("film"), shelf(folder, frames, FileShelf.NOTHING));
    System.gc();
    Heap heap = new Heap(memory);
    long start = System.nanoTime();
    for (Frame f : maker.frames()) {
      maker.make(f, maker.fingerprint(f), workers);
      heap.look();
    }
    double made = (System.nanoTime() - start) / 1e9;
    maker.finish(workers, Stop.NEVER, x -> heap.look());
    double all = (System.nanoTime() - start) / 1e9;
    if (memory) {
      System.out.printf(
          Locale.ROOT, "%d frames: live memory up to %.0f MB%n", frames, heap.most / 1e6);
    } else {
      System.out.printf(
          Locale.ROOT,
          "%d frames, %s: %.2f frames a second put together, %.2f with the MP4%n",
          frames,
          apart ? "four files" : "four passes of a file of eight",
          frames / made,
          frames / all);
    }
  }

  /** What is in use after the collector has run, at the most. */
  private static final class Heap {
    private final boolean on;
    private long most;
    private int looks;

    private Heap(boolean on) {
      this.on = on;
    }

    private void look() {
      if (on && looks++ % 8 == 0) {
        System.gc();
        Runtime r = Runtime.getRuntime();
        most = Math.max(most, r.totalMemory() - r.freeMemory());
      }
    }
  }

  @Command(
      description =
          "Pictures of 640 x 360 with eight inputs, as JPEGs, while a strength and while a blur"
              + " moves: pictures for each second.")
  int live(@Option(names = "--pictures", defaultValue = "60") int pictures) throws Exception {
    Path folder = files(1);
    try {
      Map<Object, Object> read = new ConcurrentHashMap<>(), ready = new ConcurrentHashMap<>();
      FileShelf shelf = shelf(folder, 1, (key, make) -> read.computeIfAbsent(key, k -> make.get()));
      Assembler a =
          new Assembler(shelf, (key, make) -> ready.computeIfAbsent(key, k -> make.get()), workers);
      for (String moves : List.of("nothing", "a strength", "a blur")) {
        double[] seconds = new double[pictures];
        for (int i = 0; i < pictures; i++) {
          double at = (i % 40) / 40.0;
          List<Input> inputs = new ArrayList<>();
          for (Pass p : PASSES) {
            boolean occlusion = p == Pass.AMBIENT_OCCLUSION;
            inputs.add(input(p.label(), occlusion ? Operator.MULTIPLY : Operator.ADD));
          }
          if (moves.equals("a strength")) {
            inputs.set(3, inputs.get(3).with(Operator.ADD, at));
          } else if (moves.equals("a blur")) {
            inputs.set(3, blurred(inputs.get(3), 1 + i * 0.25));
          }
          Stack s = new Stack(W, H, 24, "1", inputs);
          long start = System.nanoTime();
          var picture = a.frame(s, 1, 640, 360, null).picture();
          JpegFile.encode(Look.STANDARD.of(picture.image()), 0.9f);
          seconds[i] = (System.nanoTime() - start) / 1e9;
        }
        java.util.Arrays.sort(seconds);
        System.out.printf(
            Locale.ROOT,
            "%s moves: %.1f pictures a second in the middle, %.1f at the slowest but one%n",
            moves,
            1 / seconds[pictures / 2],
            1 / seconds[pictures - 2]);
      }
    } finally {
      remove(folder);
    }
    return 0;
  }

  /** Pictures for the documents: a gradient in an ellipse, put onto a rendered frame. */
  @Command(description = "Writes a picture of each operator into a folder, for docs/assembly.md.")
  int pictures(@Option(names = "--out", required = true) Path out) throws Exception {
    DemoScenes.Demo d = DemoScenes.all().get(0);
    RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
    RenderSettings s = RenderSettings.of(DOC_SAMPLES, 1).with(EnumSet.of(Pass.BEAUTY));
    String camera = scene.scene().cameras().get(0).name();
    int w = 240, h = 135;
    FrameImage below =
        scene
            .frame(camera, new Moment(20, 20 / 24.0, 24), w, h, s, workers, Stop.NEVER, null)
            .render(DOC_SAMPLES, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
    Picture rendered = Picture.of(below);
    java.util.Arrays.fill(rendered.c()[3], 1);
    Source gradient =
        Documents.read(
            "{\"kind\":\"gradient\",\"colour\":[0.02,0.05,0.2,1],\"second\":[1,0.7,0.2,1]}",
            Source.class);
    Mask ellipse =
        Documents.read(
            "{\"kind\":\"ellipse\",\"points\":[[0.15,0.12],[0.85,0.88]],\"soft\":30}", Mask.class);
    Assembler none = new Assembler(null, Assembler.NOTHING, workers);
    Stack one =
        new Stack(w, h, 24, "1", List.of(Input.of("1", "gradient", gradient).with(ellipse)));
    Picture above = none.frame(one, 1, w, h, null).picture();
    Files.createDirectories(out);
    for (Operator o : Operator.values()) {
      Picture p = rendered.copy();
      o.apply(p, above, true, 1, null, workers);
      String name = o.name().toLowerCase(Locale.ROOT).replace('_', '-');
      Files.write(out.resolve(name + ".jpg"), JpegFile.encode(Look.STANDARD.of(p.image()), 0.88f));
    }
    return 0;
  }

  private static final int DOC_SAMPLES = 64;

  private static void remove(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.delete(p);
      }
    }
  }
}
