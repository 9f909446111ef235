package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static posada.formats.Tools.run;

import java.awt.color.ColorSpace;
import java.awt.color.ICC_Profile;
import java.io.ByteArrayOutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.TexelImage;

/** Images as Debian's oiiotool writes them: what is stored is what is read. */
class TexelReaderTest {
  @TempDir Path folder;

  /** Returns a picture of one colour, 16 by 16. */
  private byte[] made(String file, String colour, String bits) throws Exception {
    Path out = folder.resolve(file);
    int channels = colour.split(",").length;
    String[] names = {"Y", "Y,A", "R,G,B", "R,G,B,A"};
    run(
        "oiiotool",
        "--pattern",
        "constant:color=" + colour,
        "16x16",
        String.valueOf(channels),
        "--chnames",
        names[channels - 1],
        "-d",
        bits,
        "--compression",
        file.endsWith("png") ? "zip" : "jpeg:100",
        "-o",
        out.toString());
    return Files.readAllBytes(out);
  }

  private static void holds(int red, int green, int blue, int alpha, byte[] file, int slack)
      throws Exception {
    TexelImage image = TexelReader.read("x", file);
    assertEquals(16, image.width());
    assertEquals(16, image.height());
    int[] want = {alpha, red, green, blue};
    for (int t : image.rgba()) {
      for (int k = 0; k < 4; k++) {
        assertEquals(want[k], t >>> 24 - 8 * k & 255, slack, Integer.toHexString(t));
      }
    }
  }

  @ParameterizedTest
  @CsvSource({
    "g.png, uint8, 0",
    "g.png, uint16, 0",
    "g.jpg, uint8, 0",
  })
  void greyIsNotMadeBrighter(String file, String bits, int slack) throws Exception {
    holds(64, 64, 64, 255, made(file, "0.25", bits), slack);
  }

  @ParameterizedTest
  @CsvSource({
    "c.png, uint8, 0",
    "c.png, uint16, 0",
    "c.jpg, uint8, 2",
    "c.webp, uint8, 3",
  })
  void coloursKeepTheirPlaces(String file, String bits, int slack) throws Exception {
    holds(204, 64, 102, 255, made(file, "0.8,0.25,0.4", bits), slack);
  }

  @ParameterizedTest
  @CsvSource({"uint8", "uint16"})
  void alphaComesLast(String bits) throws Exception {
    // Their files hold straight alpha, ours to write is premultiplied.
    holds(204, 64, 102, 128, made("a.png", "0.4016,0.126,0.2008,0.502", bits), 1);
    holds(102, 102, 102, 128, made("ga.png", "0.2008,0.502", bits), 1);
  }

  /** A profile that would make three quarters of white of each half, were it heeded. */
  @Test
  void profilesAreIgnored() throws Exception {
    byte[] plain = made("p.jpg", "0.5,0.5,0.5", "uint8");
    byte[] profile = ICC_Profile.getInstance(ColorSpace.CS_LINEAR_RGB).getData();
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    out.write(plain, 0, 2);
    int length = 2 + 14 + profile.length;
    out.writeBytes(new byte[] {-1, (byte) 0xe2, (byte) (length >> 8), (byte) length});
    out.writeBytes("ICC_PROFILE\0".getBytes());
    out.writeBytes(new byte[] {1, 1});
    out.writeBytes(profile);
    out.writeBytes(Arrays.copyOfRange(plain, 2, plain.length));
    holds(128, 128, 128, 255, out.toByteArray(), 1);
  }

  @Test
  void aTexturePrefersItsWebpImage() throws Exception {
    byte[] webp = made("c.webp", "0.8,0.25,0.4", "uint8");
    byte[] png = made("c.png", "0.1,0.1,0.1", "uint8");
    Glb g = new Glb();
    g.root.put("extensionsRequired", List.of("EXT_texture_webp"));
    g.root.put(
        "images",
        List.of(
            Map.of("mimeType", "image/png", "bufferView", g.view(png)),
            Map.of("mimeType", "image/webp", "bufferView", g.view(webp))));
    g.root.put(
        "textures",
        List.of(
            Map.of("source", 0, "extensions", Map.of("EXT_texture_webp", Map.of("source", 1)))));
    var texture = SceneImporter.load(g.write(folder)).scene().textures().get(0);
    assertEquals(204, texture.image().rgba()[0] >> 16 & 255, 3);
  }
}
