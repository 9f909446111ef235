package posada.formats.exr;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.formats.Tools.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;

/** Files of kinds that we do not write, as Debian's tools write and read them. */
class ExrReaderTest {
  @TempDir Path folder;

  /** Smooth and flat parts, edges, some noise, highlights, in two pictures of one file. */
  private static FrameImage picture(int w, int h, Precision colours) {
    Random random = new Random(w * 31L + h);
    List<Channel> channels = new ArrayList<>();
    for (String name :
        List.of("R", "G", "B", "A", "lamps.R", "lamps.G", "lamps.B", "Y", "depth.Z")) {
      float[] d = new float[w * h];
      for (int i = 0; i < d.length; i++) {
        int x = i % w, y = i / w;
        double v = x < w / 4 ? 0.25 : 0.5 + 0.5 * Math.sin(0.1 * x + 0.03 * y * channels.size());
        d[i] = (float) (x > w / 2 && y > h / 2 ? v + 0.1 * random.nextDouble() : v);
        d[i] *= i % 97 == 0 ? 40 : 1;
        d[i] = name.equals("A") ? Math.min(1, 2 * d[i]) : name.equals("Y") ? -d[i] : d[i];
      }
      boolean whole = name.equals("depth.Z");
      channels.add(new Channel(name, whole ? Precision.FLOAT : colours, d));
    }
    return new FrameImage(w, h, channels);
  }

  private Path write(FrameImage image) throws IOException {
    return Files.write(folder.resolve("ours.exr"), ExrWriter.encode(image, ExrHeader.NONE));
  }

  /** Returns what the other tool reads in its own file, by way of a file that is not packed. */
  private FrameImage asTheyRead(Path theirs) throws Exception {
    Path plain = folder.resolve("plain.exr");
    run("oiiotool", theirs.toString(), "--compression", "none", "-o", plain.toString());
    return ExrReader.read(plain);
  }

  @ParameterizedTest
  @CsvSource({
    "pxr24, 300, 70, HALF",
    "pxr24, 33, 50, FLOAT",
    "b44, 300, 70, HALF",
    "b44, 33, 50, FLOAT",
    "b44, 5, 3, HALF",
    "b44a, 300, 70, HALF",
    "b44a, 33, 50, FLOAT",
    "dwaa, 300, 70, HALF",
    "dwaa, 33, 50, FLOAT",
    "dwaa, 5, 3, HALF",
    "dwab, 300, 600, HALF",
    "dwab, 33, 50, FLOAT",
    "dwaa:400, 300, 70, HALF"
  })
  void packingWithLossesIsReadAsOthersReadIt(String how, int w, int h, Precision colours)
      throws Exception {
    FrameImage image = picture(w, h, colours);
    Path theirs = folder.resolve("theirs.exr");
    List<String> command = new ArrayList<>(List.of("oiiotool", write(image).toString()));
    command.add("--compression");
    command.addAll(List.of(how.split(" ")));
    command.addAll(List.of("-o", theirs.toString()));
    run(command.toArray(String[]::new));
    FrameImage read = ExrReader.read(theirs);
    assertEquals(image.channels().size(), read.channels().size());
    // Sums of cosines may be rounded the other way. That is the last bit of a half which is packed
    // by the power 2.2 or as a logarithm: at most 0.5 % of the light.
    float most = how.startsWith("dwa") ? 0.005f : 0;
    int others = 0;
    for (Channel c : asTheyRead(theirs).channels()) {
      float[] ours = read.find(c.name());
      for (int i = 0; i < ours.length; i++) {
        float v = c.data()[i];
        assertEquals(v, ours[i], most * Math.max(Math.abs(v), 0.001f), c.name() + " " + i);
        others += v != ours[i] ? 1 : 0;
      }
    }
    assertTrue(others <= 0.01 * w * h * image.channels().size(), others + " values differ");
  }

  @ParameterizedTest
  @ValueSource(strings = {"-o", "-m", "-r", "-m -u", "-r -u"})
  void ofTilesTheLargestLevelIsRead(String levels) throws Exception {
    FrameImage image = picture(301, 77, Precision.HALF);
    Path ours = write(image);
    for (String how : List.of("none", "zip", "piz")) {
      Path tiled = folder.resolve("tiled.exr");
      List<String> command = new ArrayList<>(List.of("exrmaketiled", "-t", "64", "32", "-z", how));
      command.addAll(List.of(levels.split(" ")));
      command.addAll(List.of(ours.toString(), tiled.toString()));
      run(command.toArray(String[]::new));
      FrameImage read = ExrReader.read(tiled);
      assertEquals(image.window(), read.window());
      for (Channel c : ExrReader.read(ours).channels()) {
        assertArrayEquals(c.data(), read.find(c.name()), how + " " + c.name());
      }
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"pxr24", "b44a", "dwaa", "dwab", "piz", "tiles"})
  void damageIsAnErrorThatNamesTheFile(String how) throws Exception {
    Path theirs = folder.resolve("theirs.exr");
    String ours = write(picture(40, 40, Precision.HALF)).toString();
    if (how.equals("tiles")) {
      run("exrmaketiled", "-m", "-t", "16", "16", ours, theirs.toString());
    } else {
      run("oiiotool", ours, "--compression", how, "-o", theirs.toString());
    }
    byte[] whole = Files.readAllBytes(theirs);
    Random random = new Random(7);
    int refused = 0;
    for (int i = 0; i < 400; i++) {
      byte[] bad = whole.clone();
      int from = i % 2 == 0 ? 0 : 700;
      for (int k = 0; k < 4; k++) {
        bad[from + random.nextInt(bad.length - from)] = (byte) random.nextInt(256);
      }
      byte[] given = i % 5 == 0 ? java.util.Arrays.copyOf(bad, random.nextInt(bad.length)) : bad;
      try {
        ExrReader.read("bad.exr", given, null);
      } catch (IOException e) {
        refused++;
        assertTrue(e.getMessage().startsWith("bad.exr"), e.getMessage());
      }
    }
    assertTrue(refused > 50, refused + " refused");
  }

  @Test
  void severalPartsAreRefusedByName() throws Exception {
    String ours = write(picture(8, 8, Precision.HALF)).toString();
    Path parts = folder.resolve("parts.exr");
    run("exrmultipart", "-combine", "-i", ours, ours, "-o", parts.toString());
    var e = assertThrows(IOException.class, () -> ExrReader.read(parts));
    assertEquals(
        "parts.exr is not an EXR file that can be read: it has deep data or several parts",
        e.getMessage());
  }
}
