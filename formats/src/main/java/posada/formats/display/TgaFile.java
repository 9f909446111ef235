package posada.formats.display;

import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import javax.imageio.IIOImage;
import javax.imageio.ImageWriter;
import posada.core.image.DisplayImage;
import posada.formats.exr.ExrHeader;

/**
 * TGA pictures, 8 bits a value with sRGB values and straight alpha; the image ID holds the
 * fingerprint alone.
 *
 * <p>Source: Truevision TGA file format specification 2.0.
 */
public final class TgaFile {
  private static final int HEADER = 18;
  private static final int LONGEST_ID = 255;

  private TgaFile() {}

  /** Returns the complete file. */
  public static byte[] encode(DisplayImage image, Map<String, String> texts) {
    int type =
        switch (image.components()) {
          case 1 -> BufferedImage.TYPE_BYTE_GRAY;
          case 3 -> BufferedImage.TYPE_3BYTE_BGR;
          default -> BufferedImage.TYPE_4BYTE_ABGR;
        };
    BufferedImage picture = new BufferedImage(image.width(), image.height(), type);
    picture.getRaster().setRect(Pictures.of(image, 8).getRaster());
    ImageWriter writer = Pictures.writer("tga");
    byte[] plain =
        Pictures.write(writer, writer.getDefaultWriteParam(), new IIOImage(picture, null, null));
    Map<String, String> first = new TreeMap<>(texts);
    first.keySet().retainAll(Set.of(ExrHeader.FINGERPRINT));
    byte[] id = TextLines.join(first).getBytes(StandardCharsets.UTF_8);
    id = Arrays.copyOf(id, Math.min(id.length, LONGEST_ID));
    // The library leaves the ID out: its length is the first byte, it follows the header.
    byte[] out = new byte[plain.length + id.length];
    System.arraycopy(plain, 0, out, 0, HEADER);
    out[0] = (byte) id.length;
    System.arraycopy(id, 0, out, HEADER, id.length);
    System.arraycopy(plain, HEADER, out, HEADER + id.length, plain.length - HEADER);
    return out;
  }

  /** Returns the texts of a file of ours; none for others. */
  public static Map<String, String> texts(Path file) throws IOException {
    try (var in = Files.newInputStream(file)) {
      byte[] head = in.readNBytes(HEADER);
      if (head.length < HEADER) {
        throw new IOException(file.getFileName() + " is too short for a TGA file");
      }
      byte[] id = in.readNBytes(head[0] & 255);
      return TextLines.split(new String(id, StandardCharsets.UTF_8));
    }
  }
}
