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
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.metadata.IIOMetadataNode;
import javax.imageio.stream.ImageOutputStream;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.SrgbTransfer;

/** PNG (ISO/IEC 15948) and JPEG pictures of 8 or 16 bits with the sRGB mark. */
public final class PngFile {
  private static final String FORMAT = "javax_imageio_png_1.0";

  static {
    ImageIO.setUseCache(false);
  }

  private PngFile() {}

  /**
   * Returns the complete PNG file.
   *
   * @param bits 8 or 16
   * @param texts key words and values of text chunks
   */
  public static byte[] encode(DisplayImage image, int bits, Map<String, String> texts) {
    if (bits != 8 && bits != 16) {
      throw new IllegalArgumentException("PNG has 8 or 16 bits (got " + bits + ")");
    }
    BufferedImage picture = picture(image, bits);
    ImageWriter writer = ImageIO.getImageWritersByFormatName("png").next();
    ImageWriteParam param = writer.getDefaultWriteParam();
    // Level 4 of 9: rendered noise hardly shrinks further.
    param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
    param.setCompressionQuality(0.55f);
    IIOMetadata meta = writer.getDefaultImageMetadata(new ImageTypeSpecifier(picture), param);
    try {
      IIOMetadataNode root = new IIOMetadataNode(FORMAT);
      IIOMetadataNode srgb = new IIOMetadataNode("sRGB");
      srgb.setAttribute("renderingIntent", "Perceptual");
      root.appendChild(srgb);
      if (!texts.isEmpty()) {
        root.appendChild(texts(texts));
      }
      meta.mergeTree(FORMAT, root);
      return write(writer, param, new IIOImage(picture, null, meta));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * Returns a JPEG for the screen.
   *
   * @param quality 0 .. 1
   */
  public static byte[] jpeg(DisplayImage image, float quality) {
    ImageWriter writer = ImageIO.getImageWritersByFormatName("jpeg").next();
    ImageWriteParam param = writer.getDefaultWriteParam();
    param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
    param.setCompressionQuality(quality);
    try {
      return write(writer, param, new IIOImage(picture(image, 8), null, null));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static byte[] write(ImageWriter writer, ImageWriteParam param, IIOImage image)
      throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    try (ImageOutputStream out = ImageIO.createImageOutputStream(bytes)) {
      writer.setOutput(out);
      writer.write(null, image, param);
    } finally {
      writer.dispose();
    }
    return bytes.toByteArray();
  }

  private static IIOMetadataNode texts(Map<String, String> texts) {
    IIOMetadataNode node = new IIOMetadataNode("iTXt");
    for (Map.Entry<String, String> e : new TreeMap<>(texts).entrySet()) {
      IIOMetadataNode entry = new IIOMetadataNode("iTXtEntry");
      entry.setAttribute("keyword", e.getKey());
      entry.setAttribute("compressionFlag", "FALSE");
      entry.setAttribute("compressionMethod", "0");
      entry.setAttribute("languageTag", "");
      entry.setAttribute("translatedKeyword", "");
      entry.setAttribute("text", e.getValue());
      node.appendChild(entry);
    }
    return node;
  }

  private static BufferedImage picture(DisplayImage image, int bits) {
    int n = image.components();
    int type = bits == 8 ? DataBuffer.TYPE_BYTE : DataBuffer.TYPE_USHORT;
    int[] offsets = new int[n];
    for (int i = 0; i < n; i++) {
      offsets[i] = i;
    }
    WritableRaster raster =
        Raster.createInterleavedRaster(
            type, image.width(), image.height(), image.width() * n, n, offsets, null);
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
    boolean alpha = n == 4;
    ComponentColorModel model =
        new ComponentColorModel(
            space, alpha, false, alpha ? Transparency.TRANSLUCENT : Transparency.OPAQUE, type);
    return new BufferedImage(model, raster, false, null);
  }

  /** Returns the scene-linear picture behind a PNG of ours, alpha premultiplied. */
  public static FrameImage linear(Path file) throws IOException {
    BufferedImage in;
    try (var stream = Files.newInputStream(file)) {
      in = ImageIO.read(stream);
    }
    if (in == null) {
      throw new IOException(file.getFileName() + " is not a PNG that can be read");
    }
    int w = in.getWidth();
    int h = in.getHeight();
    float most = in.getSampleModel().getSampleSize(0) == 16 ? 65535 : 255;
    int bands = in.getRaster().getNumBands();
    float[][] planes = new float[4][w * h];
    float[] pixel = new float[bands];
    for (int i = 0; i < w * h; i++) {
      in.getRaster().getPixel(i % w, i / w, pixel);
      planes[3][i] = bands == 4 ? pixel[3] / most : 1;
      for (int k = 0; k < 3; k++) {
        planes[k][i] = (float) SrgbTransfer.decode(pixel[k] / most) * planes[3][i];
      }
    }
    return new FrameImage(
        w,
        h,
        List.of(
            new FrameImage.Channel("R", FrameImage.Precision.HALF, planes[0]),
            new FrameImage.Channel("G", FrameImage.Precision.HALF, planes[1]),
            new FrameImage.Channel("B", FrameImage.Precision.HALF, planes[2]),
            new FrameImage.Channel("A", FrameImage.Precision.HALF, planes[3])));
  }

  /** Returns the text chunks of a PNG file by key word. */
  public static Map<String, String> texts(Path file) throws IOException {
    var readers = ImageIO.getImageReadersByFormatName("png");
    var reader = readers.next();
    try (var in = ImageIO.createImageInputStream(file.toFile())) {
      reader.setInput(in, true, false);
      Map<String, String> texts = new TreeMap<>();
      var root = reader.getImageMetadata(0).getAsTree(FORMAT);
      var lists = ((org.w3c.dom.Element) root).getElementsByTagName("iTXtEntry");
      for (int i = 0; i < lists.getLength(); i++) {
        var entry = (org.w3c.dom.Element) lists.item(i);
        texts.put(entry.getAttribute("keyword"), entry.getAttribute("text"));
      }
      return texts;
    } finally {
      reader.dispose();
    }
  }
}
