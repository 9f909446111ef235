package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import java.util.Random;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Workers;
import posada.core.settings.Crop;
import posada.core.settings.RenderSettings;
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

  /** How far a spot of a reference may be off, over its luminance: half of what its halves are. */
  private static final double SURE = 0.015;

  /** How often spots that are off by more are rendered again. */
  private static final int AGAIN = 4;

  /** Seed of a reference's first picture. */
  private static final int SEED = 2001;

  private Spots() {}

  /**
   * Returns the mean luminance of each spot in two halves of a reference, rendered with seeds of
   * their own. Spots whose halves lie too far apart get more samples. What was rendered is kept.
   *
   * @param samples for each spot of each half to begin with
   */
  static double[][] reference(String name, References.View v, int samples, Workers workers)
      throws Exception {
    double[][] halves = new double[2][COUNT];
    double[] spent = new double[COUNT];
    BitSet wanted = new BitSet();
    wanted.set(0, COUNT);
    for (int round = 0; round <= AGAIN && !wanted.isEmpty(); round++) {
      int n = round == 0 ? samples : RenderSettings.MOST_SAMPLES;
      for (int half = 0; half < 2; half++) {
        int seed = SEED + 2 * round + half;
        // Which spots are in it follows from how many samples there were to begin with.
        Path path =
            References.FOLDER.resolve(
                String.format(
                    "%s-%s-%d-%dx%d-spots-%d-%d.exr",
                    name, v.camera(), v.frame(), v.width(), v.height(), samples, seed));
        double[] more = kept(path, v, n, seed, wanted, workers);
        for (int i : wanted.stream().toArray()) {
          halves[half][i] += (more[i] - halves[half][i]) * n / (spent[i] + n);
        }
      }
      for (int i : wanted.stream().toArray()) {
        spent[i] += n;
        wanted.set(i, apart(halves[0][i], halves[1][i]) / 2 > SURE);
      }
    }
    return halves;
  }

  /** Returns how far two spots are apart, over the second's luminance; dark ones against 0.05. */
  static double apart(double a, double b) {
    return Math.abs(a - b) / (b + 0.05);
  }

  private static double[] kept(
      Path path, References.View v, int samples, int seed, BitSet wanted, Workers workers)
      throws Exception {
    if (!Files.exists(path)) {
      System.err.println("rendering " + path.getFileName());
      float[] y = new float[COUNT];
      double[] means = of(v, samples, seed, wanted, workers);
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
    BitSet all = new BitSet();
    all.set(0, COUNT);
    return of(v, samples, seed, all, workers);
  }

  private static double[] of(
      References.View v, int samples, int seed, BitSet wanted, Workers workers) {
    double[] means = new double[COUNT];
    Random random = new Random(1);
    int[] x = new int[COUNT];
    int[] y = new int[COUNT];
    for (int i = 0; i < COUNT; i++) {
      x[i] = random.nextInt(v.width() / COLUMNS - SIDE) + i % COLUMNS * (v.width() / COLUMNS);
      y[i] = random.nextInt(v.height() / ROWS - SIDE) + i / COLUMNS * (v.height() / ROWS);
    }
    int[] spots = wanted.stream().toArray();
    workers.each(
        spots.length,
        k -> {
          int i = spots[k];
          Crop crop = new Crop(x[i], y[i], SIDE, SIDE, true);
          RenderSettings s = v.settings().with(samples, seed).with(crop);
          FrameImage f = Pictures.render(v, s, Workers.CALLER);
          float[] r = f.find("R"), g = f.find("G"), b = f.find("B");
          for (int p = 0; p < r.length; p++) {
            means[i] += Luminance.of(r[p], g[p], b[p]) / r.length;
          }
        });
    return means;
  }
}
