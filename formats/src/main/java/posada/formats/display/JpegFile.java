package posada.formats.display;

import java.io.IOException;
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
    return Pictures.write(writer, param, new IIOImage(picture, null, meta));
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
