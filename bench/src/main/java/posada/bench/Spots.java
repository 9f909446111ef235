package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Workers;
import posada.core.trace.RenderSettings;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;

/**
 * Small squares spread over a picture by chance, one in each field of a grid. They can be rendered
 * with far more samples than the whole of it.
 */
final class Spots {
  /** Pixels along each side of a spot. */
  static final int SIDE = 4;

  private static final int COLUMNS = 20;
  private static final int ROWS = 15;

  /** Spots of one picture. */
  static final int COUNT = COLUMNS * ROWS;

  private Spots() {}

  /** Returns the mean luminance of each spot, kept from the first time on. */
  static double[] kept(String name, References.View v, int samples, int seed, Workers workers)
      throws Exception {
    Path path =
        References.FOLDER.resolve(
            String.format(
                "%s-%s-%d-%dx%d-spots-%d-%d.exr",
                name, v.camera(), v.frame(), v.width(), v.height(), samples, seed));
    if (!Files.exists(path)) {
      System.err.println("rendering " + path.getFileName());
      float[] y = new float[COUNT];
      double[] means = of(v, samples, seed, workers);
      for (int i = 0; i < COUNT; i++) {
        y[i] = (float) means[i];
      }
      FrameImage image =
          new FrameImage(
              COLUMNS, ROWS, List.of(new FrameImage.Channel("Y", FrameImage.Precision.FLOAT, y)));
      Files.createDirectories(References.FOLDER);
      AtomicFile.publish(path, ExrWriter.encode(image, ExrHeader.NONE), false);
    }
    float[] y = ExrReader.read(path).find("Y");
    double[] means = new double[COUNT];
    for (int i = 0; i < COUNT; i++) {
      means[i] = y[i];
    }
    return means;
  }

  /** Returns the mean luminance of each spot. */
  static double[] of(References.View v, int samples, int seed, Workers workers) {
    double[] means = new double[COUNT];
    Random random = new Random(1);
    int[] x = new int[COUNT];
    int[] y = new int[COUNT];
    for (int i = 0; i < COUNT; i++) {
      x[i] = random.nextInt(v.width() / COLUMNS - SIDE) + i % COLUMNS * (v.width() / COLUMNS);
      y[i] = random.nextInt(v.height() / ROWS - SIDE) + i / COLUMNS * (v.height() / ROWS);
    }
    workers.each(
        COUNT,
        i -> {
          RenderSettings s =
              v.settings()
                  .with(samples, seed)
                  .with(new RenderSettings.Crop(x[i], y[i], SIDE, SIDE, true));
          FrameImage f = Pictures.render(v, s, Workers.CALLER);
          float[] r = f.find("R"), g = f.find("G"), b = f.find("B");
          for (int k = 0; k < r.length; k++) {
            means[i] += Luminance.of(r[k], g[k], b[k]) / r.length;
          }
        });
    return means;
  }
}
