package posada.formats.display;

import java.awt.image.BufferedImage;
import java.awt.image.DataBuffer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import javax.imageio.ImageIO;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.SrgbTransfer;

/** Reads the pictures that the writers of this package make. */
public final class DisplayFile {
  private DisplayFile() {}

  /** Returns the scene-linear picture behind a file of ours, alpha premultiplied. */
  public static FrameImage linear(Path file) throws IOException {
    BufferedImage in;
    try (var stream = Files.newInputStream(file)) {
      in = ImageIO.read(stream);
    } catch (RuntimeException e) {
      throw new IOException(file.getFileName() + " is damaged", e);
    }
    if (in == null) {
      throw new IOException(file.getFileName() + " is no picture that can be read");
    }
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
