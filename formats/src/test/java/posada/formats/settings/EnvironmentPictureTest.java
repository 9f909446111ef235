package posada.formats.settings;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static posada.formats.Tools.run;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.RgbImage;

/** Pictures of an environment as Debian's oiiotool writes them. */
class EnvironmentPictureTest {
  @TempDir Path folder;

  private RgbImage made(String colour, String... more) throws Exception {
    Path file = folder.resolve("around.exr");
    List<String> command = new ArrayList<>(List.of("oiiotool", "--pattern"));
    command.addAll(List.of("constant:color=" + colour, "16x8", "3", "-d", "float"));
    command.addAll(List.of(more));
    command.addAll(List.of("-o", file.toString()));
    run(command);
    return EnvironmentPicture.read(file);
  }

  private static float[] first(RgbImage image) {
    return Arrays.copyOf(image.rgb(), 3);
  }

  @Test
  void withoutAWordItIsBt709() throws Exception {
    RgbImage image = made("0.5,0.25,4");
    assertEquals(16, image.width());
    assertArrayEquals(new float[] {0.5f, 0.25f, 4}, first(image));
  }

  /** The green of BT.2020 is out of reach for BT.709: red and blue would be below 0. */
  @Test
  void otherPrimariesAreTurnedIntoBt709() throws Exception {
    String[] bt2020 = {
      "--attrib:type=float[8]", "chromaticities", "0.708,0.292,0.17,0.797,0.131,0.046,0.3127,0.329"
    };
    assertArrayEquals(new float[] {3, 3, 3}, first(made("3,3,3", bt2020)), 1e-4f);
    assertArrayEquals(new float[] {0, 1.1329f, 0}, first(made("0,1,0", bt2020)), 1e-3f);
    assertArrayEquals(new float[] {1.6605f, 0, 0}, first(made("1,0,0", bt2020)), 1e-3f);
  }
}
