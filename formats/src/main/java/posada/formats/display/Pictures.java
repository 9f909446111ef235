package posada.formats.display;

import java.awt.Transparency;
import java.awt.color.ColorSpace;
import java.awt.image.BufferedImage;
import java.awt.image.ComponentColorModel;
import java.awt.image.DataBuffer;
import java.awt.image.DataBufferByte;
import java.awt.image.DataBufferUShort;
import java.awt.image.Raster;
import java.awt.image.WritableRaster;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.stream.ImageOutputStream;
import posada.core.image.DisplayImage;

/** Pictures as the image library wants them. */
final class Pictures {
  static {
    ImageIO.setUseCache(false);
  }

  private Pictures() {}

  /** Returns the writer of a format's name in the library. */
  static ImageWriter writer(String format) {
    return ImageIO.getImageWritersByFormatName(format).next();
  }

  /** Returns the complete file. */
  static byte[] write(ImageWriter writer, ImageWriteParam param, IIOImage image) {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ImageOutputStream out = ImageIO.createImageOutputStream(bytes)) {
      writer.setOutput(out);
      writer.write(null, image, param);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } finally {
      writer.dispose();
    }
    return bytes.toByteArray();
  }

  /**
   * Returns a display picture with sRGB values and straight alpha.
   *
   * @param bits 8 or 16
   */
  static BufferedImage of(DisplayImage image, int bits) {
    int n = image.components();
    int type = bits == 8 ? DataBuffer.TYPE_BYTE : DataBuffer.TYPE_USHORT;
    WritableRaster raster = raster(type, image.width(), image.height(), n);
    short[] s = image.samples();
    if (bits == 8) {
      byte[] out = ((DataBufferByte) raster.getDataBuffer()).getData();
      for (int i = 0; i < s.length; i++) {
        out[i] = (byte) (((s[i] & 0xffff) * 255 + 32767) / 65535);
      }
    } else {
      System.arraycopy(s, 0, ((DataBufferUShort) raster.getDataBuffer()).getData(), 0, s.length);
    }
    ColorSpace space = ColorSpace.getInstance(n == 1 ? ColorSpace.CS_GRAY : ColorSpace.CS_sRGB);
    return new BufferedImage(model(space, n == 4, false, type), raster, false, null);
  }

  static WritableRaster raster(int type, int width, int height, int bands) {
    int[] offsets = new int[bands];
    for (int i = 0; i < bands; i++) {
      offsets[i] = i;
    }
    return type == DataBuffer.TYPE_FLOAT
        ? Raster.createWritableRaster(
            new java.awt.image.PixelInterleavedSampleModel(
                type, width, height, bands, width * bands, offsets),
            null)
        : Raster.createInterleavedRaster(type, width, height, width * bands, bands, offsets, null);
  }

  static ComponentColorModel model(
      ColorSpace space, boolean alpha, boolean premultiplied, int type) {
    int transparency = alpha ? Transparency.TRANSLUCENT : Transparency.OPAQUE;
    return new ComponentColorModel(space, alpha, premultiplied, transparency, type);
  }
}
