package posada.formats.assembly;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.assembly.Assembler;
import posada.core.assembly.Corrections;
import posada.core.assembly.Input;
import posada.core.assembly.Operator;
import posada.core.assembly.Picture;
import posada.core.assembly.Reading;
import posada.core.assembly.Source;
import posada.core.assembly.Stack;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.review.Look;
import posada.core.settings.Pass;
import posada.formats.assembly.FilmDocument.Frame;
import posada.formats.assembly.FilmDocument.Segment;
import posada.formats.assembly.FilmOutput.Kind;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.review.Footage;
import posada.formats.settings.Documents;

/** Stacks of files, against Debian's oiiotool and ffprobe. */
class FilmMakerTest {
  private static final int W = 64, H = 48;
  @TempDir Path folder;
  private final Map<String, Integer> seeds = Map.of("below", 1, "above", 2);

  @BeforeEach
  void write() throws IOException {
    for (String name : seeds.keySet()) {
      for (int frame = 1; frame <= 6; frame++) {
        exr(name, frame, picture(seeds.get(name) * 100 + frame));
      }
    }
  }

  private Path file(String name, int frame) {
    return folder.resolve("%s.%04d.exr".formatted(name, frame));
  }

  private void exr(String name, int frame, FrameImage image) throws IOException {
    Files.write(
        file(name, frame),
        ExrWriter.encode(image, new ExrHeader(new FrameRate(24), frame, Map.of())));
  }

  /** Premultiplied, with alpha from 0 to 1 and light beyond 1; smooth enough for halves. */
  private static FrameImage picture(int seed) {
    Random r = new Random(seed);
    double[] k = r.doubles(8, 0.5, 2).toArray();
    Picture p = new Picture(W, H);
    for (int i = 0; i < W * H; i++) {
      double x = i % W / (double) W, y = i / W / (double) H;
      double a = Math.max(0, Math.min(1, 0.5 + Math.sin(6 * k[0] * x + 5 * k[1] * y)));
      for (int j = 0; j < 3; j++) {
        p.c()[j][i] = (float) (a * (0.6 + 0.6 * Math.sin(4 * k[2 + j] * x - 3 * k[5] * y)));
      }
      p.c()[3][i] = (float) a;
    }
    return p.image();
  }

  private FileShelf shelf() {
    return new FileShelf(
        name ->
            new FileShelf.Known(
                new Footage(
                    name,
                    IntStream.rangeClosed(1, 6).boxed().toList(),
                    f ->
                        List.of(
                            new FrameFiles.Part(
                                FileFormat.EXR, Set.of(Pass.BEAUTY), file(name, f)))),
                24.0),
        FileShelf.NOTHING,
        FileShelf.NOTHING,
        Workers.CALLER);
  }

  private static Input input(String footage, Operator o) {
    return Input.of(footage, footage, Source.of(footage, "beauty")).with(o, 1);
  }

  private static Stack stack(Input... topFirst) {
    return new Stack(W, H, 24, "1-6", List.of(topFirst));
  }

  private static String run(String... command) throws Exception {
    Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
    String out = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertEquals(0, p.waitFor(), () -> String.join(" ", command) + "\n" + out);
    return out;
  }

  private static void same(Path theirs, Picture ours, double within) throws IOException {
    FrameImage image = ExrReader.read(theirs, Set.of("R", "G", "B", "A")).full();
    String[] names = {"R", "G", "B", "A"};
    for (int j = 0; j < 4; j++) {
      float[] is = image.find(names[j]);
      for (int i = 0; i < is.length; i++) {
        assertEquals(is[i], ours.c()[j][i], within, names[j] + " at " + i);
      }
    }
  }

  private Picture frame(Stack s) {
    return new Assembler(shelf(), Assembler.NOTHING, Workers.CALLER)
        .frame(s, 1, W, H, null)
        .picture();
  }

  @ParameterizedTest
  @CsvSource({"OVER,--over", "MULTIPLY,--mul"})
  void agreesWithOiiotool(Operator o, String theirs) throws Exception {
    Path out = folder.resolve("out.exr");
    if (o == Operator.MULTIPLY) {
      // Their product is that of opaque pictures.
      for (String name : seeds.keySet()) {
        FrameImage p = picture(seeds.get(name));
        java.util.Arrays.fill(p.find("A"), 1);
        exr(name, 1, p);
      }
    }
    run(
        "oiiotool",
        file("above", 1).toString(),
        file("below", 1).toString(),
        theirs,
        "-d",
        "float",
        "-o",
        out.toString());
    same(out, frame(stack(input("above", o), input("below", Operator.OVER))), 1e-3);
  }

  @Test
  void addAgreesWithOiiotool() throws Exception {
    Path out = folder.resolve("out.exr");
    run(
        "oiiotool",
        file("above", 1).toString(),
        file("below", 1).toString(),
        "--add",
        "--clamp:min=-1,-1,-1,0:max=100,100,100,1",
        "-d",
        "float",
        "-o",
        out.toString());
    same(out, frame(stack(input("above", Operator.ADD), input("below", Operator.OVER))), 1e-3);
  }

  /** Blurred with a kernel of ours that is a Gaussian, away from the edges, where they differ. */
  @Test
  void blurAgreesWithOiiotool() throws Exception {
    double sigma = 2.5;
    int r = 12, n = 2 * r + 1;
    float[] k = new float[n * n];
    for (int i = 0; i < k.length; i++) {
      int x = i % n - r, y = i / n - r;
      k[i] = (float) Math.exp(-(x * x + y * y) / (2 * sigma * sigma));
    }
    Path kernel = folder.resolve("kernel.exr"), out = folder.resolve("out.exr");
    FrameImage image =
        new FrameImage(n, n, List.of(new FrameImage.Channel("Y", FrameImage.Precision.FLOAT, k)));
    Files.write(kernel, ExrWriter.encode(image, ExrHeader.NONE));
    run(
        "oiiotool",
        file("below", 1).toString(),
        kernel.toString(),
        "--origin",
        "-12-12",
        "--convolve",
        "-d",
        "float",
        "-o",
        out.toString());
    Corrections c = Documents.read("{\"blur\": " + sigma + "}", Corrections.class);
    Picture ours = frame(stack(input("below", Operator.OVER).with(c)));
    FrameImage theirs = ExrReader.read(out, Set.of("R", "A")).full();
    for (int y = r; y < H - r; y++) {
      for (int x = r; x < W - r; x++) {
        int i = y * W + x;
        assertEquals(theirs.find("R")[i], ours.c()[0][i], 1e-3, x + ", " + y);
        assertEquals(theirs.find("A")[i], ours.c()[3][i], 1e-3, x + ", " + y);
      }
    }
  }

  @Test
  void straightAndDisplayFilesAreReadAsSomebodySays() throws IOException {
    Input in = input("below", Operator.OVER);
    Picture plain = frame(stack(in));
    Picture straight =
        frame(stack(in.with(new Reading(Reading.Light.FILE, Reading.Alpha.STRAIGHT, null))));
    Picture shown =
        frame(stack(in.with(new Reading(Reading.Light.DISPLAY, Reading.Alpha.NONE, null))));
    for (int i = 0; i < plain.pixels(); i += 17) {
      float a = plain.c()[3][i], v = plain.c()[0][i];
      assertEquals(v * a, straight.c()[0][i], 1e-6);
      double is = v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4);
      assertEquals(is, shown.c()[0][i], 1e-4);
      assertEquals(1, shown.c()[3][i]);
    }
    FileShelf.ReadAs told = shelf().readAs("below", "beauty");
    assertEquals(Reading.Alpha.PREMULTIPLIED, told.alpha());
    assertTrue(told.lightTold() && told.rateTold());
  }

  private FilmMaker film(Kind kind, int step, Segment... parts) {
    FilmOutput o = new FilmOutput(kind, 100, step, 90, Look.View.STANDARD, 0, Set.of(), null);
    FilmDocument d =
        new FilmDocument(
            FilmDocument.SCHEMA, "Larkspur Line", "cut", 1, 24, W, H, List.of(parts), o);
    return new FilmMaker(d, folder.resolve("film"), shelf());
  }

  private static int make(FilmMaker m) throws IOException {
    int made = 0;
    for (Frame f : m.frames()) {
      String print = m.fingerprint(f);
      if (!m.isFresh(f, print)) {
        assertEquals(List.of(), m.make(f, print, Workers.CALLER));
        made++;
      }
    }
    assertTrue(m.finish(Workers.CALLER, Stop.NEVER, x -> {}));
    return made;
  }

  @Test
  void onlyFramesWithOtherInputsAreMadeAgain() throws Exception {
    Segment all =
        new Segment(
            "cut",
            null,
            stack(input("above", Operator.OVER), input("below", Operator.OVER)),
            "1-6");
    FilmMaker m = film(Kind.MP4, 1, all);
    assertEquals(6, make(m));
    assertEquals(0, make(m));
    exr("above", 3, picture(999));
    assertEquals(1, make(m));
    String said =
        run(
            "ffprobe",
            "-v",
            "error",
            "-count_frames",
            "-show_entries",
            "stream=codec_name,avg_frame_rate,nb_read_frames",
            "-of",
            "csv=p=0",
            m.made().toString());
    assertEquals("h264,24/1,6", said.strip());
    // A name changes no picture, a strength does.
    Segment renamed =
        new Segment(
            "cut",
            null,
            stack(input("above", Operator.OVER).named("car"), input("below", Operator.OVER)),
            "1-6");
    Frame f = m.frames().get(0);
    assertEquals(m.fingerprint(f), film(Kind.MP4, 1, renamed).fingerprint(f));
    Segment weaker =
        new Segment(
            "cut",
            null,
            stack(
                input("above", Operator.OVER).with(Operator.OVER, 0.5),
                input("below", Operator.OVER)),
            "1-6");
    assertNotEquals(m.fingerprint(f), film(Kind.MP4, 1, weaker).fingerprint(f));
  }

  @ParameterizedTest
  @CsvSource({"EXR,6", "PNG,6", "TIFF,6", "JPEG,6"})
  void sequencesHaveAFileForEachFrame(Kind kind, int count) throws IOException {
    FilmMaker m =
        film(kind, 1, new Segment("cut", null, stack(input("below", Operator.OVER)), "1-6"));
    make(m);
    for (int f = 1; f <= count; f++) {
      assertTrue(Files.size(m.madeFile(f)) > 100, m.madeFile(f).toString());
    }
  }

  @Test
  void aCutCountsFromOneAndTakesItsFramesInOrder() throws IOException {
    Segment first = new Segment("a", null, stack(input("below", Operator.OVER)), "2-3");
    Segment second = new Segment("b", null, stack(input("above", Operator.OVER)), "5-6");
    FilmMaker m = film(Kind.EXR, 1, first, second);
    make(m);
    assertEquals(
        List.of(new Frame(1, 0, 2), new Frame(2, 0, 3), new Frame(3, 1, 5), new Frame(4, 1, 6)),
        m.frames());
    Map<Integer, String> of = new TreeMap<>(Map.of(1, "below.2", 3, "above.5"));
    for (var e : of.entrySet()) {
      String[] p = e.getValue().split("\\.");
      float[] is = ExrReader.read(file(p[0], Integer.parseInt(p[1])), Set.of("R")).find("R");
      float[] made = ExrReader.read(m.frameFile(e.getKey()), Set.of("R")).find("R");
      assertEquals(is[100], made[100], 1e-3);
    }
  }

  @Test
  void everyNthFrameTakesAsLong() throws Exception {
    FilmMaker m =
        film(Kind.MOV, 2, new Segment("cut", null, stack(input("below", Operator.OVER)), "1-6"));
    make(m);
    String said =
        run(
            "ffprobe",
            "-v",
            "error",
            "-count_frames",
            "-show_entries",
            "stream=avg_frame_rate,nb_read_frames",
            "-of",
            "csv=p=0",
            m.made().toString());
    assertEquals("12/1,3", said.strip());
    assertFalse(Files.exists(m.frameFile(2)));
  }
}
