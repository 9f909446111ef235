package posada.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.formats.display.JpegFile;

/** Renders views and writes what docs/performance.md shows. */
final class Pictures {
  private static final float QUALITY = 0.9f;

  /** By how much differences are shown larger than they are. */
  private static final float TIMES = 10;

  private Pictures() {}

  static FrameImage render(References.View v, RenderSettings s, Workers workers) {
    Moment at = new Moment(v.frame(), v.frame() / 24.0, 24);
    return v.scene()
        .frame(v.camera(), at, v.width(), v.height(), s, workers, Stop.NEVER, null)
        .render(1 << 16, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  /** Writes a picture as a screen shows it. */
  static void save(Path file, int width, int height, float[][] rgb) throws IOException {
    FrameImage image =
        new FrameImage(
            width,
            height,
            List.of(channel("R", rgb[0]), channel("G", rgb[1]), channel("B", rgb[2])));
    Files.createDirectories(file.toAbsolutePath().getParent());
    Files.write(
        file,
        JpegFile.encode(
            ViewTransform.display(image, List.of("R", "G", "B"), false, null), QUALITY));
  }

  /** Writes ten times how far two pictures are apart. */
  static void saveDifference(Path file, int width, int height, float[][] a, float[][] b)
      throws IOException {
    float[][] d = new float[3][a[0].length];
    for (int c = 0; c < 3; c++) {
      for (int i = 0; i < d[c].length; i++) {
        d[c][i] = TIMES * Math.abs(a[c][i] - b[c][i]);
      }
    }
    save(file, width, height, d);
  }

  private static FrameImage.Channel channel(String name, float[] data) {
    return new FrameImage.Channel(name, FrameImage.Precision.FLOAT, data);
  }
}
