package posada.formats.light;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.irradiance.BakeInfo;
import posada.core.irradiance.BakedLight;
import posada.core.irradiance.LightPoints;

class LightFileTest {
  @TempDir Path folder;

  private static BakedLight light() {
    LightPoints points = new LightPoints();
    for (int i = 0; i < 3; i++) {
      float[] p = new float[LightPoints.STRIDE];
      p[0] = i;
      p[4] = 1;
      p[LightPoints.FLUX + 1] = 0.25f * i;
      p[LightPoints.RADIUS] = 0.5f;
      points.add(p);
    }
    return new BakedLight(
        points,
        new BakeInfo("gate", List.of(1, 9), 640, 360, 0.25, 0.02, true, 3.5, Map.of("sky", "a1")));
  }

  private Path written(byte[] bytes) throws IOException {
    return Files.write(folder.resolve("x.light"), bytes);
  }

  @Test
  void whatIsWrittenIsRead() throws IOException {
    Path file = written(LightFile.encode(light()));
    assertTrue(LightFile.is(file));
    BakedLight read = LightFile.read(file);
    assertEquals(light().info(), read.info());
    assertArrayEquals(light().points().numbers(), read.points().numbers());
  }

  @Test
  void damagedFilesAreNamed() throws IOException {
    byte[] good = LightFile.encode(light());
    refused(Arrays.copyOf(good, 12), "too short");
    refused(Arrays.copyOf(good, 40), "ends inside its header");
    refused(Arrays.copyOf(good, good.length - 4), "as many points as it says");
    byte[] other = good.clone();
    other[0] = 'X';
    refused(other, "does not begin like one");
    assertFalse(LightFile.is(folder.resolve("x.light")));
    byte[] header = good.clone();
    header[12] = '!';
    refused(header, "header that cannot be read");
    byte[] number = good.clone();
    ByteBuffer.wrap(number).order(ByteOrder.LITTLE_ENDIAN).putFloat(number.length - 4, Float.NaN);
    refused(number, "no number");
    byte[] radius = good.clone();
    int last = radius.length - Float.BYTES * (LightPoints.STRIDE - LightPoints.RADIUS);
    ByteBuffer.wrap(radius).order(ByteOrder.LITTLE_ENDIAN).putFloat(last, 0);
    refused(radius, "point without a radius");
  }

  private void refused(byte[] bytes, String why) throws IOException {
    Path file = written(bytes);
    String said = assertThrows(IOException.class, () -> LightFile.read(file)).getMessage();
    assertTrue(said.contains("x.light") && said.contains(why), said);
  }
}
