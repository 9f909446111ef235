package posada.formats.gltf;

import java.awt.image.BufferedImage;
import java.awt.image.ComponentColorModel;
import java.awt.image.Raster;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.Arrays;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import posada.core.image.TexelImage;

/**
 * Reads the images of textures: PNG, JPEG and WebP. Values are taken as they are stored: colour
 * profiles are ignored (glTF 2.0, section 3.8.2), and grey ones are not brightened as Java does it.
 */
final class TexelReader {
  private static final int MAX_SIDE = 16384;

  /**
   * Markers of JPEG (ITU-T T.81, table B.1): its start, application data 2, the start of a scan.
   */
  private static final int START = 0xffd8;

  private static final int PROFILE = 0xffe2;
  private static final int SCAN = 0xffda;

  /** An image cannot be read; the message ends a sentence that begins with it. */
  static final class UnreadableException extends Exception {
    private static final long serialVersionUID = 1;

    UnreadableException(String message) {
      super(message);
    }
  }

  private TexelReader() {}

  static TexelImage read(String name, byte[] bytes) throws UnreadableException {
    try (var in = ImageIO.createImageInputStream(new ByteArrayInputStream(bare(bytes)))) {
      var readers = ImageIO.getImageReaders(in);
      if (!readers.hasNext()) {
        throw new UnreadableException("is neither PNG nor JPEG nor WebP");
      }
      ImageReader reader = readers.next();
      try {
        reader.setInput(in, true, true);
        int w = reader.getWidth(0);
        int h = reader.getHeight(0);
        if (w > MAX_SIDE || h > MAX_SIDE) {
          throw new UnreadableException(
              "is "
                  + w
                  + " x "
                  + h
                  + " pixels large; at most "
                  + MAX_SIDE
                  + " on a side can be used");
        }
        return new TexelImage(name, w, h, texels(reader.read(0)));
      } finally {
        reader.dispose();
      }
    } catch (IOException | RuntimeException e) {
      throw new UnreadableException("is damaged");
    }
  }

  /**
   * Returns a JPEG without its colour profiles, which Java would apply; other files as they are.
   */
  private static byte[] bare(byte[] file) {
    ByteBuffer in = ByteBuffer.wrap(file);
    if (file.length < 4 || in.getShort(0) != (short) START) {
      return file;
    }
    ByteBuffer out = ByteBuffer.allocate(file.length);
    int at = 2;
    out.put(file, 0, at);
    // Segments: a marker, and a length that counts itself.
    while (at + 4 <= file.length && file[at] == -1 && in.getShort(at) != (short) SCAN) {
      int end = at + 2 + (in.getShort(at + 2) & 0xffff);
      if (end > file.length) {
        break;
      }
      if (in.getShort(at) != (short) PROFILE) {
        out.put(file, at, end - at);
      }
      at = end;
    }
    out.put(file, at, file.length - at);
    return Arrays.copyOf(out.array(), out.position());
  }

  private static int[] texels(BufferedImage image) {
    int w = image.getWidth();
    int h = image.getHeight();
    int[] argb = new int[w * h];
    Raster r = image.getRaster();
    int bands = r.getNumBands();
    boolean alpha = image.getColorModel().hasAlpha();
    boolean plain = image.getColorModel() instanceof ComponentColorModel;
    if (!plain || bands > (alpha ? 4 : 3)) {
      // Palettes, and inks, which only their profile explains.
      return image.getRGB(0, 0, w, h, argb, 0, w);
    }
    int shift = r.getSampleModel().getSampleSize(0) - 8;
    int green = bands >= 3 ? 1 : 0;
    int blue = bands >= 3 ? 2 : 0;
    int[] line = new int[w * bands];
    for (int y = 0; y < h; y++) {
      r.getPixels(0, y, w, 1, line);
      for (int x = 0, i = 0; x < w; x++, i += bands) {
        int a = alpha ? line[i + bands - 1] >> shift : 255;
        argb[y * w + x] =
            a << 24
                | line[i] >> shift << 16
                | line[i + green] >> shift << 8
                | line[i + blue] >> shift;
      }
    }
    return argb;
  }
}
