package posada.formats.display;

import java.awt.color.ColorSpace;
import java.awt.image.BufferedImage;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferFloat;
import java.awt.image.WritableRaster;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Map;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.plugins.tiff.BaselineTIFFTagSet;
import javax.imageio.plugins.tiff.TIFFDirectory;
import javax.imageio.plugins.tiff.TIFFField;
import javax.imageio.plugins.tiff.TIFFTag;
import posada.core.image.DisplayImage;

/**
 * TIFF 6.0 pictures: 8 or 16 bits with sRGB values and straight alpha, or floats as they are with
 * premultiplied alpha; packed by deflate, texts in the image description.
 */
public final class TiffFile {
  private TiffFile() {}

  /**
   * Returns the complete file of a display picture.
   *
   * @param bits 8 or 16
   */
  public static byte[] encode(DisplayImage image, int bits, Map<String, String> texts) {
    return encode(image, bits, texts, null);
  }

  /**
   * Likewise.
   *
   * @param icc colour profile; null for none
   */
  public static byte[] encode(DisplayImage image, int bits, Map<String, String> texts, byte[] icc) {
    return encode(Pictures.of(image, bits), texts, icc);
  }

  /**
   * Returns the complete file of plain numbers.
   *
   * @param planes 1, or 3 for colour, or 4 for colour with premultiplied alpha; two are written as
   *     three, the last of them 0
   */
  public static byte[] encode(int width, int height, float[][] planes, Map<String, String> texts) {
    int n = planes.length == 2 ? 3 : planes.length;
    WritableRaster raster = Pictures.raster(DataBuffer.TYPE_FLOAT, width, height, n);
    float[] out = ((DataBufferFloat) raster.getDataBuffer()).getData();
    for (int k = 0; k < planes.length; k++) {
      for (int i = 0; i < planes[k].length; i++) {
        out[i * n + k] = planes[k][i];
      }
    }
    ColorSpace space =
        ColorSpace.getInstance(n == 1 ? ColorSpace.CS_GRAY : ColorSpace.CS_LINEAR_RGB);
    var model = Pictures.model(space, n == 4, n == 4, DataBuffer.TYPE_FLOAT);
    return encode(new BufferedImage(model, raster, n == 4, null), texts, null);
  }

  private static byte[] encode(BufferedImage picture, Map<String, String> texts, byte[] icc) {
    ImageWriter writer = Pictures.writer("tiff");
    ImageWriteParam param = writer.getDefaultWriteParam();
    param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
    param.setCompressionType("Deflate");
    IIOMetadata meta = writer.getDefaultImageMetadata(new ImageTypeSpecifier(picture), param);
    if (!texts.isEmpty() || icc != null) {
      try {
        TIFFDirectory d = TIFFDirectory.createFromMetadata(meta);
        if (icc != null) {
          TIFFTag profile =
              BaselineTIFFTagSet.getInstance().getTag(BaselineTIFFTagSet.TAG_ICC_PROFILE);
          d.addTIFFField(new TIFFField(profile, TIFFTag.TIFF_UNDEFINED, icc.length, icc));
        }
        TIFFTag tag =
            BaselineTIFFTagSet.getInstance().getTag(BaselineTIFFTagSet.TAG_IMAGE_DESCRIPTION);
        // The library writes one byte for each letter; UTF-8 goes through as such bytes.
        byte[] utf8 = TextLines.join(texts).getBytes(StandardCharsets.UTF_8);
        String[] text = {new String(utf8, StandardCharsets.ISO_8859_1)};
        d.addTIFFField(new TIFFField(tag, TIFFTag.TIFF_ASCII, 1, text));
        meta = d.getAsMetadata();
      } catch (IOException e) {
        throw new IllegalStateException(e);
      }
    }
    return Pictures.write(writer, param, new IIOImage(picture, null, meta));
  }

  /** Returns the texts of a file of ours; none for others. */
  public static Map<String, String> texts(Path file) throws IOException {
    TiffGuard.check(file, DisplayFile.MOST_SHRUNK);
    var reader = ImageIO.getImageReadersByFormatName("tiff").next();
    try (var in = ImageIO.createImageInputStream(file.toFile())) {
      reader.setInput(in, true, false);
      TIFFField f =
          TIFFDirectory.createFromMetadata(reader.getImageMetadata(0))
              .getTIFFField(BaselineTIFFTagSet.TAG_IMAGE_DESCRIPTION);
      return f == null ? Map.of() : TextLines.split(f.getAsString(0));
    } finally {
      reader.dispose();
    }
  }
}
