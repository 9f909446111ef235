package posada.formats.display;

import java.awt.image.BufferedImage;
import java.awt.image.DataBuffer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import javax.imageio.ImageIO;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.SrgbTransfer;

/** Reads the pictures that the writers of this package make. */
public final class DisplayFile {
  /** Pixels for each byte of a file: deflate shrinks by at most 1,032, and a pixel has 3 bytes. */
  static final long MOST_SHRUNK = 350;

  private DisplayFile() {}

  private static BufferedImage read(Path file) throws IOException {
    try (var bytes = Files.newInputStream(file);
        var stream = ImageIO.createImageInputStream(bytes)) {
      var readers = ImageIO.getImageReaders(stream);
      if (!readers.hasNext()) {
        throw new IOException("it is no picture");
      }
      var reader = readers.next();
      if (file.toString().endsWith(".tif")) {
        TiffGuard.check(file, MOST_SHRUNK);
      }
      try {
        reader.setInput(stream, true, true);
        long pixels = (long) reader.getWidth(0) * reader.getHeight(0);
        if (pixels > MOST_SHRUNK * Files.size(file)) {
          throw new IOException("it is too short for its " + pixels + " pixels");
        }
        return reader.read(0);
      } finally {
        reader.dispose();
      }
    } catch (NoSuchFileException e) {
      throw e;
    } catch (IOException | RuntimeException e) {
      throw new IOException(file.getFileName() + " cannot be read: " + e.getMessage(), e);
    }
  }

  /** Returns the width and height of a picture, pixels, without reading it. */
  public static int[] size(Path file) throws IOException {
    try (var stream = ImageIO.createImageInputStream(file.toFile())) {
      var readers = stream == null ? null : ImageIO.getImageReaders(stream);
      if (readers == null || !readers.hasNext()) {
        throw new IOException(file.getFileName() + " is no picture");
      }
      var reader = readers.next();
      try {
        reader.setInput(stream, true, true);
        return new int[] {reader.getWidth(0), reader.getHeight(0)};
      } finally {
        reader.dispose();
      }
    } catch (RuntimeException e) {
      throw new IOException(file.getFileName() + " cannot be read: " + e.getMessage(), e);
    }
  }

  /** Returns the scene-linear picture behind a file of ours, alpha premultiplied. */
  public static FrameImage linear(Path file) throws IOException {
    BufferedImage in = read(file);
    int w = in.getWidth();
    int h = in.getHeight();
    boolean linear = in.getSampleModel().getDataType() == DataBuffer.TYPE_FLOAT;
    float most = linear ? 1 : in.getSampleModel().getSampleSize(0) == 16 ? 65535 : 255;
    int bands = in.getRaster().getNumBands();
    float[][] planes = new float[4][w * h];
    float[] pixel = new float[bands];
    for (int i = 0; i < w * h; i++) {
      in.getRaster().getPixel(i % w, i / w, pixel);
      planes[3][i] = bands == 4 ? pixel[3] / most : 1;
      for (int k = 0; k < 3; k++) {
        float v = pixel[bands < 3 ? 0 : k];
        planes[k][i] = linear ? v : (float) SrgbTransfer.decode(v / most) * planes[3][i];
      }
    }
    return new FrameImage(
        w,
        h,
        List.of(
            new Channel("R", Precision.HALF, planes[0]),
            new Channel("G", Precision.HALF, planes[1]),
            new Channel("B", Precision.HALF, planes[2]),
            new Channel("A", Precision.HALF, planes[3])));
  }
}
