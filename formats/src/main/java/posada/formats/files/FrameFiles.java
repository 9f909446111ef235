package posada.formats.files;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.trace.Pass;
import posada.formats.display.PngFile;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;

/**
 * The files of one sequence: where each frame goes and how it is written.
 *
 * @param folder under which the pattern's names lie
 * @param pattern name without extension
 * @param formats at least one
 * @param passes at least one; display formats hold the beauty alone
 * @param fields values of the pattern's fields, but for frame and pass
 * @param rate frame rate for the headers
 * @param skyShown true if the picture's background is filled, so that display files need no alpha
 */
public record FrameFiles(
    Path folder,
    NamePattern pattern,
    List<FileFormat> formats,
    Set<Pass> passes,
    Map<String, String> fields,
    FrameRate rate,
    boolean skyShown) {
  /** Value of the field {@code pass} for a file that holds all passes. */
  public static final String ALL_PASSES = "all";

  public FrameFiles {
    if (formats.isEmpty() || passes.isEmpty()) {
      throw new IllegalArgumentException("at least one format and one pass are needed");
    }
    if (formats.contains(FileFormat.PNG8) && formats.contains(FileFormat.PNG16)) {
      throw new IllegalArgumentException(
          "png and png16 would share one name; choose one of the two");
    }
    if (!formats.contains(FileFormat.EXR) && !passes.equals(Set.of(Pass.BEAUTY))) {
      throw new IllegalArgumentException(
          "PNG holds the beauty only; add the format exr for "
              + passes.stream().filter(p -> p != Pass.BEAUTY).map(Pass::label).sorted().toList());
    }
    if (!passes.contains(Pass.BEAUTY) && formats.stream().anyMatch(f -> f != FileFormat.EXR)) {
      throw new IllegalArgumentException("PNG holds the beauty; add the pass beauty");
    }
  }

  /** Returns each format's file for a frame. */
  public Map<FileFormat, Path> paths(int frame) {
    Map<FileFormat, Path> paths = new LinkedHashMap<>();
    for (FileFormat f : formats) {
      Map<String, String> values = new TreeMap<>(fields);
      values.put("frame", Integer.toString(frame));
      boolean all = f == FileFormat.EXR && passes.size() > 1;
      values.put("pass", all ? ALL_PASSES : passes.iterator().next().label());
      if (f != FileFormat.EXR) {
        values.put("pass", Pass.BEAUTY.label());
      }
      paths.put(f, folder.resolve(pattern.fill(values) + "." + f.extension()));
    }
    return paths;
  }

  /**
   * Writes a frame's files, each atomically.
   *
   * @param texts what the headers say beside the picture
   * @return the files written
   */
  public List<Path> write(int frame, FrameImage image, Map<String, String> texts, boolean overwrite)
      throws IOException {
    List<Path> written = new ArrayList<>();
    for (Map.Entry<FileFormat, Path> e : paths(frame).entrySet()) {
      byte[] bytes =
          switch (e.getKey()) {
            case EXR -> ExrWriter.encode(image, new ExrHeader(rate, frame, texts));
            case PNG8 -> PngFile.encode(ViewTransform.beauty(image.full(), 0, !skyShown), 8, texts);
            case PNG16 ->
                PngFile.encode(ViewTransform.beauty(image.full(), 0, !skyShown), 16, texts);
          };
      AtomicFile.publish(e.getValue(), bytes, overwrite);
      written.add(e.getValue());
    }
    return written;
  }

  /** Returns true if all of a frame's files are there and were made from this fingerprint. */
  public boolean complete(int frame, String fingerprint) {
    for (Map.Entry<FileFormat, Path> e : paths(frame).entrySet()) {
      if (!Files.isRegularFile(e.getValue())) {
        return false;
      }
      try {
        Map<String, String> texts =
            e.getKey() == FileFormat.EXR
                ? ExrReader.texts(e.getValue())
                : PngFile.texts(e.getValue());
        if (!fingerprint.equals(texts.get(ExrHeader.FINGERPRINT))) {
          return false;
        }
      } catch (IOException unreadable) {
        return false;
      }
    }
    return true;
  }
}
