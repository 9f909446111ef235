package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import posada.core.image.FrameImage;
import posada.core.parallel.Workers;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;

/**
 * Pictures that take long, rendered once and kept under {@code bench/target/references}: several
 * with seeds of their own for each view, half of which make up each half of a reference.
 */
final class References {
  static final Path FOLDER = Path.of("bench/target/references");

  private References() {}

  /** Returns the reference of a view from {@code count} pictures, an even number. */
  static Quality of(String name, View view, int samples, int count, Workers workers)
      throws Exception {
    float[][][] halves = new float[2][3][view.width * view.height];
    for (int k = 0; k < count; k++) {
      float[][] rgb = Quality.rgb(picture(name, view, samples, 1001 + k, workers));
      for (int c = 0; c < 3; c++) {
        for (int i = 0; i < rgb[c].length; i++) {
          halves[k % 2][c][i] += rgb[c][i] * 2 / count;
        }
      }
    }
    return new Quality(view.width, view.height, halves[0], halves[1]);
  }

  /** What is seen, without samples and seed. */
  record View(
      RenderScene scene, String camera, int frame, int width, int height, RenderSettings settings) {

    FrameImage render(int samples, int seed, Workers workers) {
      return Pictures.render(this, settings.with(samples, seed), workers);
    }
  }

  /** Returns one picture of many samples. */
  private static FrameImage picture(String name, View view, int samples, int seed, Workers workers)
      throws Exception {
    String file =
        String.format(
            "%s-%s-%d-%dx%d-%d-%d.exr",
            name, view.camera, view.frame, view.width, view.height, samples, seed);
    Path path = FOLDER.resolve(file);
    if (!Files.exists(path)) {
      System.err.println("rendering " + file);
      FrameImage image = view.render(samples, seed, workers);
      Files.createDirectories(FOLDER);
      AtomicFile.publish(path, ExrWriter.encode(image, ExrHeader.NONE), false);
    }
    return ExrReader.read(path);
  }
}
