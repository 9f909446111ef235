package posada.formats.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import posada.core.image.DeepImage;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.ViewTransform;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.display.JpegFile;
import posada.formats.display.PngFile;
import posada.formats.display.TgaFile;
import posada.formats.display.TiffFile;
import posada.formats.exr.DeepExr;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;

/**
 * The files of one sequence: where each frame goes and how it is written. Without EXR each format
 * has a file for each pass; beside EXR, which then holds all passes, the others hold the beauty
 * alone.
 *
 * @param folder under which the pattern's names lie
 * @param delivery how they are written; its pattern's names are without extension
 * @param passes what the picture was taken apart into
 * @param fields values of the pattern's fields, but for frame and pass
 * @param rate frame rate for the headers
 * @param skyShown true if the picture's background is filled, so that files need no alpha
 */
public record FrameFiles(
    Path folder,
    Delivery delivery,
    PassSettings passes,
    Map<String, String> fields,
    FrameRate rate,
    boolean skyShown) {
  /** Value of the field {@code pass} for a file that holds all passes. */
  public static final String ALL_PASSES = "all";

  /** Values of that field where light and the rest have a file each. */
  public static final String LIGHT = "light", DATA = "data";

  /** Value of the field {@code pass} for the deep picture. */
  public static final String DEEP = "deep";

  /**
   * One file of a frame.
   *
   * @param passes that are in it; none for the deep picture
   */
  public record Part(FileFormat format, Set<Pass> passes, Path path) {
    boolean deep() {
      return passes.isEmpty();
    }
  }

  public FrameFiles {
    List<FileFormat> formats = delivery.formats();
    if (passes.deep() && !formats.contains(FileFormat.EXR)) {
      throw new IllegalArgumentException("only exr can hold a deep picture; add it to the formats");
    }
    if (formats.size() > 1
        && formats.contains(FileFormat.EXR)
        && !passes.wanted().contains(Pass.BEAUTY)) {
      throw new IllegalArgumentException(
          "beside exr the other formats hold the beauty; add the pass beauty, or choose exr alone");
    }
    boolean transparent = !skyShown && delivery.fill() == null && delivery.alpha();
    for (Extra e : delivery.extras()) {
      if (e.shows() && !passes.wanted().contains(Pass.BEAUTY)) {
        throw new IllegalArgumentException(
            e.title() + " shows the beauty; add the pass beauty, or leave it out");
      }
    }
    checkColours(delivery, passes);
    Set<Path> taken = new HashSet<>();
    for (Part p : parts(0, folder, delivery, passes, fields)) {
      for (Pass pass : p.passes) {
        p.format.check(pass, passes, transparent);
      }
      if (!taken.add(p.path)) {
        throw new IllegalArgumentException(
            "two files would share the name "
                + p.path.getFileName()
                + "; choose formats with different endings, or a name with {pass}");
      }
    }
  }

  private static void checkColours(Delivery d, PassSettings passes) {
    if (!d.formats().contains(FileFormat.EXR)) {
      return;
    }
    for (Pass p : passes.wanted()) {
      if (p.matte() && d.depth() == Delivery.ExrDepth.HALF) {
        throw new IllegalArgumentException(
            "half cannot hold the pass " + p.label() + ": its names need all bits of a float");
      }
      if (p == Pass.GUIDES && d.color().primaries() != DeliveryColor.Space.REC709) {
        throw new IllegalArgumentException(
            "the pass guides is in rec709; take those primaries, or leave the pass out");
      }
    }
  }

  /** Returns a frame's files. */
  public List<Part> parts(int frame) {
    return parts(frame, folder, delivery, passes, fields);
  }

  private static List<Part> parts(
      int frame, Path folder, Delivery delivery, PassSettings passes, Map<String, String> fields) {
    List<FileFormat> formats = delivery.formats();
    NamePattern pattern = new NamePattern(delivery.pattern());
    Set<Pass> wanted = passes.wanted();
    List<Part> parts = new ArrayList<>();
    for (FileFormat f : formats) {
      List<Set<Pass>> files = new ArrayList<>();
      if (f == FileFormat.EXR && !delivery.perPass()) {
        Set<Pass> data = delivery.dataApart() ? data(wanted) : Set.of();
        if (data.isEmpty() || data.equals(wanted)) {
          files.add(wanted);
        } else {
          files.add(light(wanted));
          files.add(data);
        }
      } else if (f != FileFormat.EXR && formats.contains(FileFormat.EXR)) {
        files.add(Set.of(Pass.BEAUTY));
      } else {
        wanted.forEach(p -> files.add(Set.of(p)));
      }
      if (f == FileFormat.EXR && passes.deep()) {
        files.add(Set.of());
      }
      for (Set<Pass> in : files) {
        Map<String, String> values = new TreeMap<>(fields);
        values.put("frame", Integer.toString(frame));
        values.put(
            "pass",
            in.isEmpty()
                ? DEEP
                : in.size() == 1
                    ? in.iterator().next().label()
                    : in.equals(wanted) ? ALL_PASSES : in.iterator().next().color() ? LIGHT : DATA);
        parts.add(new Part(f, in, folder.resolve(pattern.fill(values) + "." + f.extension())));
      }
    }
    return parts;
  }

  private static Set<Pass> data(Set<Pass> wanted) {
    Set<Pass> some = new TreeSet<>(wanted);
    some.removeIf(Pass::color);
    return some;
  }

  private static Set<Pass> light(Set<Pass> wanted) {
    Set<Pass> some = new TreeSet<>(wanted);
    some.removeIf(p -> !p.color());
    return some;
  }

  /** Returns the paths of a frame's files. */
  public List<Path> paths(int frame) {
    return parts(frame).stream().map(Part::path).toList();
  }

  /**
   * Writes a frame's files, each atomically.
   *
   * @param deep the deep picture; null if the passes ask for none
   * @param texts what the headers say beside the picture
   * @return the files written
   */
  public List<Path> write(
      int frame,
      FrameImage image,
      DeepImage deep,
      Map<String, String> texts,
      boolean overwrite,
      Workers workers)
      throws IOException {
    List<Path> written = new ArrayList<>();
    for (Part p : parts(frame)) {
      byte[] bytes =
          p.deep()
              ? DeepExr.encode(
                  deep, new ExrHeader(rate, frame, texts), delivery.compression(), workers)
              : bytes(p, frame, image, texts, workers);
      AtomicFile.publish(p.path, bytes, overwrite);
      written.add(p.path);
    }
    return written;
  }

  /**
   * What is put into a picture that is there.
   *
   * @param image that was rendered: a box of the picture, or the mean of further samples
   * @param samples that each pixel has already; 0 if a box is put in
   * @param more samples that the picture is the mean of; 0 likewise
   */
  public record Addition(FrameImage image, int samples, int more) {}

  /**
   * Writes a frame's files as those that are there with an addition, each atomically: EXR from EXR,
   * other formats from the beauty that comes of it.
   *
   * @param before the files that are there
   * @param texts what the headers say beside the picture
   * @throws IllegalArgumentException if what is there cannot take it, saying what would do
   */
  public List<Path> add(
      int frame, FrameFiles before, Addition a, Map<String, String> texts, Workers workers)
      throws IOException {
    List<Part> old = before.parts(frame), parts = parts(frame);
    checkAddition(before);
    List<Path> written = new ArrayList<>();
    for (int i = 0; i < parts.size(); i++) {
      Part p = parts.get(i);
      if (p.format == FileFormat.EXR) {
        FrameImage in = FileColors.converted(only(a.image, p.passes), p, passes, delivery);
        FrameImage there = ExrReader.read(old.get(i).path);
        FrameImage joined =
            a.more == 0
                ? Joined.box(there, in)
                : Joined.more(there, a.samples, in, a.more, means(), counts());
        AtomicFile.publish(
            p.path,
            ExrWriter.encode(
                joined,
                FileColors.header(rate, frame, texts, delivery.color()),
                delivery.compression(),
                workers),
            true);
        written.add(p.path);
      }
    }
    for (Part p : parts) {
      if (p.format != FileFormat.EXR) {
        Part exr = WrittenPicture.of(this, frame, Pass.BEAUTY).orElseThrow();
        FrameImage beauty = WrittenPicture.read(exr, Set.of("R", "G", "B", "A"));
        AtomicFile.publish(p.path, bytes(p, frame, beauty, texts, workers), true);
        written.add(p.path);
      }
    }
    return written;
  }

  /**
   * Refuses files that cannot take a box or more samples.
   *
   * @param before the files that are there
   */
  public void checkAddition(FrameFiles before) {
    if (!delivery.formats().contains(FileFormat.EXR)) {
      throw new IllegalArgumentException(
          "only EXR files can be added to; render the frames again as a whole");
    }
    if (passes.deep()) {
      throw new IllegalArgumentException(
          "a deep picture cannot be added to; render the frames again as a whole");
    }
    if (!before.delivery.equals(delivery) || !before.passes.equals(passes)) {
      throw new IllegalArgumentException(
          "the files were written with other passes or another delivery; render the frames again"
              + " as a whole");
    }
  }

  private Set<String> means() {
    Set<String> names = new HashSet<>();
    for (Pass p : passes.wanted()) {
      if (p.mean()) {
        names.addAll(p.channels(passes));
      }
    }
    return names;
  }

  private Set<String> counts() {
    return Set.copyOf(Pass.SAMPLES.channels(passes));
  }

  private byte[] bytes(
      Part p, int frame, FrameImage image, Map<String, String> texts, Workers workers) {
    FrameImage part = p.passes.equals(passes.wanted()) ? image : only(image, p.passes);
    FrameImage in = FileColors.converted(part, p, passes, delivery);
    byte[] icc = FileColors.profile(delivery.color().space(p.format));
    return switch (p.format) {
      case EXR ->
          ExrWriter.encode(
              in,
              FileColors.header(rate, frame, texts, delivery.color()),
              delivery.compression(),
              workers);
      case PNG8 -> PngFile.encode(shown(in, p), 8, texts, icc);
      case PNG16 -> PngFile.encode(shown(in, p), 16, texts, icc);
      case TIFF8 -> TiffFile.encode(shown(in, p), 8, texts, icc);
      case TIFF16 -> TiffFile.encode(shown(in, p), 16, texts, icc);
      case TIFF_FLOAT -> {
        FrameImage full = in.full();
        float[][] planes = full.channels().stream().map(Channel::data).toArray(float[][]::new);
        yield TiffFile.encode(full.width(), full.height(), planes, texts);
      }
      case TGA -> TgaFile.encode(shown(in, p), texts);
      case JPEG -> JpegFile.encode(shown(in, p), delivery.quality() / 100f, texts, icc);
    };
  }

  /** The picture with the channels of some passes alone. */
  private FrameImage only(FrameImage image, Set<Pass> some) {
    Set<String> names = new TreeSet<>();
    some.forEach(p -> names.addAll(p.channels(passes)));
    return new FrameImage(
        image.width(),
        image.height(),
        image.window(),
        image.channels().stream().filter(c -> names.contains(c.name())).toList(),
        some.stream().anyMatch(Pass::matte) ? image.texts() : Map.of());
  }

  private DisplayImage shown(FrameImage image, Part p) {
    Pass pass = p.passes.iterator().next();
    List<String> names = pass.channels(passes);
    boolean beauty = pass == Pass.BEAUTY;
    float[] fill = null;
    if (beauty && !skyShown && delivery.fill() != null) {
      fill = FileColors.colour(delivery.fill(), delivery.color().space(p.format));
    }
    boolean alpha = beauty && !skyShown && fill == null && delivery.alpha();
    double stops = pass.color() ? delivery.color().exposure() : 0;
    return ViewTransform.display(image.full(), names, alpha, fill, stops);
  }

  /** Returns bytes that a frame's files have at the most, but for a deep picture: unpacked. */
  public long mostBytes(int width, int height) {
    long values = 0;
    for (Part p : parts(0)) {
      values += p.passes.stream().mapToLong(pass -> pass.channels(passes).size()).sum();
    }
    return values * Float.BYTES * width * height;
  }

  /** Returns how many bytes a frame's files have. */
  public long bytes(int frame) throws IOException {
    long bytes = 0;
    for (Path p : paths(frame)) {
      bytes += Files.size(p);
    }
    return bytes;
  }

  /**
   * Refuses a frame whose files could not be written, before it is rendered in vain.
   *
   * @throws IOException naming the folder
   */
  public void checkWritable(int frame) throws IOException {
    for (Path p : paths(frame)) {
      Path folder = p.toAbsolutePath().getParent();
      while (!Files.exists(folder)) {
        folder = folder.getParent();
      }
      if (!Files.isWritable(folder)) {
        throw new IOException(
            "The folder " + folder + " cannot be written in. Allow that, then go on.");
      }
    }
  }

  /** Removes what an attempt at a frame left behind that was cut off. */
  public void removeParts(int frame) throws IOException {
    for (Path p : paths(frame)) {
      AtomicFile.removeParts(p);
    }
  }

  /** Returns true if all of a frame's files are there and were made from this fingerprint. */
  public boolean complete(int frame, String fingerprint) {
    for (Part p : parts(frame)) {
      if (!Files.isRegularFile(p.path)) {
        return false;
      }
      try {
        if (!fingerprint.equals(texts(p).get(ExrHeader.FINGERPRINT))) {
          return false;
        }
      } catch (IOException | RuntimeException unreadable) {
        return false;
      }
    }
    return true;
  }

  /** Returns what Posada has written into the headers of a frame's first file. */
  public Map<String, String> texts(int frame) throws IOException {
    Map<String, String> all = new TreeMap<>(texts(parts(frame).get(0)));
    all.keySet().removeIf(k -> !k.startsWith("posada") || k.equals(ExrHeader.DISPLAY));
    return all;
  }

  private static Map<String, String> texts(Part p) throws IOException {
    return switch (p.format) {
      case EXR -> ExrReader.texts(p.path);
      case PNG8, PNG16 -> PngFile.texts(p.path);
      case TIFF8, TIFF16, TIFF_FLOAT -> TiffFile.texts(p.path);
      case TGA -> TgaFile.texts(p.path);
      case JPEG -> JpegFile.texts(p.path);
    };
  }
}
