package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.denoise.Denoiser;
import posada.core.denoise.PreparedPicture;
import posada.core.image.FrameImage;
import posada.core.parallel.Workers;
import posada.core.trace.film.GuideChannels;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileTrouble;

/** {@code posada denoise}: cleans frames that were rendered with their guides. */
@Command(
    name = "denoise",
    description = "Takes the noise out of EXR files that hold the pass guides.",
    mixinStandardHelpOptions = true)
final class DenoiseCommand implements Callable<Integer> {
  @Parameters(paramLabel = "FILES", arity = "1..*", description = "frames of one sequence")
  private List<Path> files;

  @Option(names = "--out", required = true, description = "folder for the clean files")
  private Path out;

  @Option(names = "--neighbours", description = "use the frames before and after, too")
  private boolean neighbours;

  @Option(
      names = "--amount",
      description = "of the noise that is taken away, 0 .. 1",
      defaultValue = "1")
  private double amount;

  @Option(names = "--threads", description = "all processors if left out")
  private Integer threads;

  @Option(names = "--overwrite", description = "replace files that are there")
  private boolean overwrite;

  /** A frame that was read and looked at. */
  private record Frame(FrameImage image, GuideChannels.Read guides, PreparedPicture prepared) {}

  private final Map<Integer, Frame> open = new HashMap<>();

  @Override
  public Integer call() {
    try {
      return clean();
    } catch (IllegalArgumentException e) {
      System.err.println("posada: " + e.getMessage());
      return Main.USAGE;
    } catch (IOException e) {
      System.err.println("posada: " + FileTrouble.sentence(e));
      return Main.FAILED;
    }
  }

  private int clean() throws IOException {
    int count = SceneOptions.threads(threads);
    if (!(amount >= 0 && amount <= 1)) {
      throw new IllegalArgumentException("denoising amount must be 0 .. 1 (got " + amount + ")");
    }
    TreeMap<Integer, Path> frames = frames();
    List<Path> taken =
        frames.values().stream().map(this::target).filter(p -> p.toFile().exists()).toList();
    RenderCommand.refuseTaken(taken, overwrite);
    ExecutorService pool = Executors.newFixedThreadPool(count);
    try {
      Workers workers = new Workers(pool, count);
      for (Map.Entry<Integer, Path> e : frames.entrySet()) {
        one(e.getKey(), e.getValue(), frames, workers);
      }
      return 0;
    } finally {
      pool.shutdownNow();
    }
  }

  private Path target(Path file) {
    return out.resolve(file.getFileName());
  }

  /** The files by the number of their frame. */
  private TreeMap<Integer, Path> frames() throws IOException {
    TreeMap<Integer, Path> frames = new TreeMap<>();
    for (Path p : files) {
      Path other = frames.put(ExrReader.header(p).frame(), p);
      if (other != null) {
        throw new IllegalArgumentException(
            p.getFileName() + " and " + other.getFileName() + " are the same frame");
      }
    }
    return frames;
  }

  private void one(int frame, Path file, TreeMap<Integer, Path> frames, Workers workers)
      throws IOException {
    long start = System.nanoTime();
    open.keySet().removeIf(f -> f < frame - 1);
    Frame self = open(frame, frames, workers);
    List<Denoiser.Beside> beside = new ArrayList<>();
    for (int d = -1; neighbours && d <= 1; d += 2) {
      Frame other = open(frame + d, frames, workers);
      if (other != null && alike(self.image, other.image)) {
        beside.add(self.guides.beside(other.prepared, d > 0));
      }
    }
    FrameImage clean =
        GuideChannels.cleaned(self.image, Denoiser.clean(self.prepared, beside, amount, workers));
    ExrHeader read = ExrReader.header(file);
    Map<String, String> texts = new TreeMap<>(read.texts());
    texts.put(ExrHeader.DENOISED, Double.toString(amount));
    ExrHeader header = new ExrHeader(read.rate(), frame, texts);
    AtomicFile.publish(
        target(file), ExrWriter.encode(clean, header, ExrCompression.ZIP, workers), overwrite);
    System.err.printf(
        java.util.Locale.ROOT,
        "frame %d  %.1f s  with %d beside it%n",
        frame,
        (System.nanoTime() - start) / 1e9,
        beside.size());
  }

  private static boolean alike(FrameImage a, FrameImage b) {
    return a.width() == b.width() && a.height() == b.height() && names(a).equals(names(b));
  }

  private static List<String> names(FrameImage a) {
    return a.channels().stream().map(FrameImage.Channel::name).collect(Collectors.toList());
  }

  /** Returns a frame, read if it was not; null if there is no file of it. */
  private Frame open(int frame, Map<Integer, Path> frames, Workers workers) throws IOException {
    Path file = frames.get(frame);
    if (file == null || open.containsKey(frame)) {
      return open.get(frame);
    }
    FrameImage image = ExrReader.read(file);
    if (ExrReader.texts(file).containsKey(ExrHeader.DENOISED) && GuideChannels.apart(image)) {
      throw new IllegalArgumentException(
          file.getFileName()
              + ": its parts of the light are clean already; render with --denoise guides");
    }
    Frame f;
    try {
      GuideChannels.Read guides = GuideChannels.read(image);
      f = new Frame(image, guides, Denoiser.prepare(guides.picture(), workers));
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(file.getFileName() + ": " + e.getMessage(), e);
    }
    open.put(frame, f);
    return f;
  }
}
