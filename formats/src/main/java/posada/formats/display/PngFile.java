package posada.formats.display;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.DeflaterOutputStream;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOInvalidTreeException;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.metadata.IIOMetadataNode;
import posada.core.image.DisplayImage;

/** PNG pictures (ISO/IEC 15948) of 8 or 16 bits with the sRGB mark and straight alpha. */
public final class PngFile {
  private static final String FORMAT = "javax_imageio_png_1.0";

  private PngFile() {}

  /**
   * Returns the complete PNG file.
   *
   * @param bits 8 or 16
   * @param texts key words and values of text chunks
   */
  public static byte[] encode(DisplayImage image, int bits, Map<String, String> texts) {
    return encode(image, bits, texts, null);
  }

  /**
   * Likewise.
   *
   * @param icc colour profile in place of the sRGB mark; null for the mark
   */
  public static byte[] encode(DisplayImage image, int bits, Map<String, String> texts, byte[] icc) {
    if (bits != 8 && bits != 16) {
      throw new IllegalArgumentException("PNG has 8 or 16 bits (got " + bits + ")");
    }
    BufferedImage picture = Pictures.of(image, bits);
    ImageWriter writer = Pictures.writer("png");
    ImageWriteParam param = writer.getDefaultWriteParam();
    // Level 4 of 9: rendered noise hardly shrinks further.
    param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
    param.setCompressionQuality(0.55f);
    IIOMetadata meta = writer.getDefaultImageMetadata(new ImageTypeSpecifier(picture), param);
    try {
      IIOMetadataNode root = new IIOMetadataNode(FORMAT);
      if (icc == null) {
        IIOMetadataNode srgb = new IIOMetadataNode("sRGB");
        srgb.setAttribute("renderingIntent", "Perceptual");
        root.appendChild(srgb);
      } else {
        IIOMetadataNode profile = new IIOMetadataNode("iCCP");
        profile.setAttribute("profileName", "colours");
        profile.setAttribute("compressionMethod", "deflate");
        profile.setUserObject(deflated(icc));
        root.appendChild(profile);
      }
      if (!texts.isEmpty()) {
        root.appendChild(texts(texts));
      }
      meta.mergeTree(FORMAT, root);
    } catch (IIOInvalidTreeException e) {
      throw new IllegalStateException(e);
    }
    return Pictures.write(writer, param, new IIOImage(picture, null, meta));
  }

  private static byte[] deflated(byte[] plain) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (DeflaterOutputStream d = new DeflaterOutputStream(out)) {
      d.write(plain);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
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
