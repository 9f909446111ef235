package posada.formats.settings;

import com.twelvemonkeys.imageio.plugins.hdr.HDRImageReadParam;
import com.twelvemonkeys.imageio.plugins.hdr.tonemap.NullToneMapper;
import java.awt.image.Raster;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import java.util.Set;
import javax.imageio.ImageIO;
import javax.imageio.ImageReader;
import javax.imageio.stream.ImageInputStream;
import posada.core.image.FrameImage;
import posada.core.image.Primaries;
import posada.core.image.RgbImage;
import posada.formats.exr.ExrReader;

/** Reads pictures of an environment: EXR, and HDR (shared exponent) files. */
public final class EnvironmentPicture {
  private static final long MOST_PIXELS = 1L << 27;

  /**
   * More pixels than a byte of an HDR file can stand for: runs of 127 take 2 bytes for each part.
   */
  private static final long PIXELS_FOR_A_BYTE = 32;

  private EnvironmentPicture() {}

  /**
   * Returns a picture's red, green and blue after BT.709; what is negative or no number becomes 0.
   *
   * @throws IOException naming the file if it is missing, damaged or of another kind
   */
  public static RgbImage read(Path file) throws IOException {
    if (!Files.isRegularFile(file)) {
      throw new IOException("the picture " + file + " is not there");
    }
    String name = file.getFileName().toString().toLowerCase(Locale.ROOT);
    if (name.endsWith(".exr")) {
      return exr(file);
    }
    if (name.endsWith(".hdr")) {
      return hdr(file);
    }
    throw new IOException("the picture " + file + " is neither .exr nor .hdr");
  }

  private static RgbImage exr(Path file) throws IOException {
    FrameImage image = ExrReader.read(file, Set.of("R", "G", "B")).full();
    float[][] planes = {image.find("R"), image.find("G"), image.find("B")};
    for (float[] p : planes) {
      if (p == null) {
        throw new IOException("the picture " + file + " lacks one of the channels R, G and B");
      }
    }
    Primaries primaries = ExrReader.primaries(file);
    boolean same = primaries.near(Primaries.BT709);
    double[] m = primaries.to(Primaries.BT709);
    float[] rgb = new float[3 * planes[0].length];
    for (int i = 0; i < planes[0].length; i++) {
      float r = planes[0][i], g = planes[1][i], b = planes[2][i];
      for (int k = 0; k < 3; k++) {
        double v = same ? planes[k][i] : m[3 * k] * r + m[3 * k + 1] * g + m[3 * k + 2] * b;
        rgb[3 * i + k] = clean((float) v);
      }
    }
    return new RgbImage(image.width(), image.height(), rgb);
  }

  private static RgbImage hdr(Path file) throws IOException {
    ImageIO.setUseCache(false);
    ImageReader reader = ImageIO.getImageReadersByFormatName("HDR").next();
    try (ImageInputStream in = ImageIO.createImageInputStream(file.toFile())) {
      reader.setInput(in, true, true);
      int w = reader.getWidth(0), h = reader.getHeight(0);
      if ((long) w * h > Math.min(MOST_PIXELS, PIXELS_FOR_A_BYTE * Files.size(file))) {
        throw new IOException("its " + w + " x " + h + " pixels are more than it can hold");
      }
      HDRImageReadParam p = (HDRImageReadParam) reader.getDefaultReadParam();
      p.setToneMapper(new NullToneMapper());
      Raster r = reader.read(0, p).getRaster();
      float[] rgb = r.getPixels(0, 0, w, h, (float[]) null);
      for (int i = 0; i < rgb.length; i++) {
        rgb[i] = clean(rgb[i]);
      }
      return new RgbImage(w, h, rgb);
    } catch (IOException | RuntimeException e) {
      String why = e.getMessage() == null ? "it ends too early" : e.getMessage();
      throw new IOException("the picture " + file + " is damaged: " + why, e);
    } finally {
      reader.dispose();
    }
  }

  private static float clean(float v) {
    return v > 0 && v < Float.POSITIVE_INFINITY ? v : 0;
  }
}
