package posada.formats.display;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Map;
import javax.imageio.IIOImage;
import javax.imageio.ImageIO;
import javax.imageio.ImageTypeSpecifier;
import javax.imageio.ImageWriteParam;
import javax.imageio.ImageWriter;
import javax.imageio.metadata.IIOInvalidTreeException;
import javax.imageio.metadata.IIOMetadata;
import javax.imageio.metadata.IIOMetadataNode;
import org.w3c.dom.Element;
import posada.core.image.DisplayImage;

/** JPEG pictures (ITU-T T.81) with sRGB values; texts stand in a comment. */
public final class JpegFile {
  private static final String FORMAT = "javax_imageio_jpeg_image_1.0";

  private JpegFile() {}

  /** Returns a JPEG without texts. */
  public static byte[] encode(DisplayImage image, float quality) {
    return encode(image, quality, Map.of());
  }

  /**
   * Returns the complete file.
   *
   * @param quality 0 .. 1
   * @throws IllegalArgumentException if the picture has alpha
   */
  public static byte[] encode(DisplayImage image, float quality, Map<String, String> texts) {
    return encode(image, quality, texts, null);
  }

  /**
   * Likewise.
   *
   * @param icc colour profile; null for none
   */
  public static byte[] encode(
      DisplayImage image, float quality, Map<String, String> texts, byte[] icc) {
    if (image.components() == 4) {
      throw new IllegalArgumentException("JPEG has no alpha");
    }
    ImageWriter writer = Pictures.writer("jpeg");
    ImageWriteParam param = writer.getDefaultWriteParam();
    param.setCompressionMode(ImageWriteParam.MODE_EXPLICIT);
    param.setCompressionQuality(quality);
    var picture = Pictures.of(image, 8);
    IIOMetadata meta = null;
    if (!texts.isEmpty()) {
      meta = writer.getDefaultImageMetadata(new ImageTypeSpecifier(picture), param);
      try {
        IIOMetadataNode root = (IIOMetadataNode) meta.getAsTree(FORMAT);
        IIOMetadataNode comment = new IIOMetadataNode("com");
        comment.setAttribute("comment", TextLines.join(texts));
        root.getElementsByTagName("markerSequence").item(0).appendChild(comment);
        meta.setFromTree(FORMAT, root);
      } catch (IIOInvalidTreeException e) {
        throw new IllegalStateException(e);
      }
    }
    byte[] file = Pictures.write(writer, param, new IIOImage(picture, null, meta));
    return icc == null ? file : withProfile(file, icc);
  }

  /** Puts a profile in one marker segment behind the first (ICC.1:2022, annex B.4). */
  private static byte[] withProfile(byte[] file, byte[] icc) {
    byte[] name = "ICC_PROFILE\0".getBytes(StandardCharsets.US_ASCII);
    int at = 2 + 2 + ((file[4] & 0xff) << 8 | file[5] & 0xff);
    int length = 2 + name.length + 2 + icc.length;
    ByteBuffer out = ByteBuffer.allocate(file.length + 2 + length).put(file, 0, at);
    out.put((byte) 0xff).put((byte) 0xe2).putShort((short) length).put(name);
    return out.put((byte) 1).put((byte) 1).put(icc).put(file, at, file.length - at).array();
  }

  /** Returns the texts of a file of ours; none for others. */
  public static Map<String, String> texts(Path file) throws IOException {
    var reader = ImageIO.getImageReadersByFormatName("jpeg").next();
    try (var in = ImageIO.createImageInputStream(file.toFile())) {
      reader.setInput(in, true, false);
      var list =
          ((Element) reader.getImageMetadata(0).getAsTree(FORMAT)).getElementsByTagName("com");
      return list.getLength() == 0
          ? Map.of()
          : TextLines.split(((Element) list.item(0)).getAttribute("comment"));
    } finally {
      reader.dispose();
    }
  }
}
