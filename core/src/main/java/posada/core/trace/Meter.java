package posada.core.trace;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Track;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;

/**
 * Meters light as a camera does: finds the exposure at which the pictures' average is as bright as
 * a grey card.
 */
public final class Meter {
  /** What a grey card scatters of the light on it, and where the average is put. */
  static final double GREY = 0.18;

  /** Pixels of the longer side, and samples of each: enough for an average. */
  private static final int SIDE = 96;

  private static final int SAMPLES = 8;

  /** Pixels on each side of the squares that are averaged before logarithms are taken. */
  private static final int SQUARE = 3;

  /** Part of the median below which a square counts as empty: it would rule a geometric mean. */
  private static final double EMPTY = 1e-4;

  private Meter() {}

  /**
   * Returns the exposure, in tenths of a stop, that brings the geometric mean of the luminance of
   * the first, the middle and the last picture of a sequence to 0.18 (the log-average of Reinhard
   * et al., "Photographic Tone Reproduction for Digital Images", 2002, equation 1, and its usual
   * key). Nothing is limited meanwhile, and what is empty does not count.
   *
   * @param moments of the sequence
   * @param width of the picture that is to be rendered, pixels; height likewise
   * @return NaN if it was stopped
   * @throws IllegalArgumentException if there is no light to be measured
   */
  public static double stops(
      RenderScene scene,
      String camera,
      List<Moment> moments,
      int width,
      int height,
      RenderSettings settings,
      Workers workers,
      Stop stop) {
    double fit = Math.min(1, SIDE / (double) Math.max(width, height));
    int w = Math.max(1, (int) Math.round(width * fit));
    int h = Math.max(1, (int) Math.round(height * fit));
    RenderSettings plain = plain(settings);
    List<FrameImage> pictures = new ArrayList<>();
    for (int i : IntStream.of(0, moments.size() / 2, moments.size() - 1).distinct().toArray()) {
      FrameRenderer r = scene.frame(camera, moments.get(i), w, h, plain, workers, stop, null);
      FrameImage image =
          r == null ? null : r.render(SAMPLES, workers, stop, FrameRenderer.Progress.NONE);
      if (image == null) {
        return Double.NaN;
      }
      pictures.add(image);
    }
    double stops = stops(pictures);
    if (Double.isNaN(stops)) {
      throw new IllegalArgumentException(
          "camera \"" + camera + "\" sees no light that an exposure could be taken from");
    }
    return stops;
  }

  /**
   * Returns the exposure that these pictures together ask for; NaN if there is no light in them.
   */
  public static double stops(List<FrameImage> pictures) {
    List<Double> squares = new ArrayList<>();
    pictures.forEach(p -> add(p, squares));
    double[] lit = squares.stream().mapToDouble(y -> y).filter(y -> y > 0).sorted().toArray();
    if (lit.length == 0) {
      return Double.NaN;
    }
    double least = EMPTY * lit[lit.length / 2];
    double log =
        Arrays.stream(lit).filter(y -> y > least).map(StrictMath::log).average().orElseThrow();
    double stops = (StrictMath.log(GREY) - log) / StrictMath.log(2);
    return Math.max(-Lens.MOST_STOPS, Math.min(Lens.MOST_STOPS, Math.rint(10 * stops) / 10));
  }

  private static RenderSettings plain(RenderSettings s) {
    return s.with(s.lens().exposed(Track.of(0)))
        .with(new Sampling(SAMPLES, SAMPLES, false, 1, 0, 0, false))
        .with(s.bounces().clampedAt(0))
        .with((Crop) null)
        .with(PassSettings.BEAUTY)
        .with(Denoising.OFF);
  }

  /** Adds the mean luminance of each square of a picture. */
  private static void add(FrameImage image, List<Double> squares) {
    float[] r = image.find("R"), g = image.find("G"), b = image.find("B");
    int w = image.width(), h = image.height();
    for (int y = 0; y < h; y += SQUARE) {
      for (int x = 0; x < w; x += SQUARE) {
        double sum = 0;
        int n = 0;
        for (int j = y; j < Math.min(h, y + SQUARE); j++) {
          for (int i = x; i < Math.min(w, x + SQUARE); i++, n++) {
            int at = j * w + i;
            sum += Luminance.of(r[at], g[at], b[at]);
          }
        }
        squares.add(sum / n);
      }
    }
  }
}
