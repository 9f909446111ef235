package posada.formats.light;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.FloatBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import posada.core.irradiance.BakeInfo;
import posada.core.irradiance.BakedLight;
import posada.core.irradiance.LightPoints;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * Reads and writes baked light: eight letters, the number of bytes of a JSON header, the header,
 * the number of points, and their numbers as in {@link LightPoints}; all little-endian.
 */
public final class LightFile {
  private static final byte[] MAGIC = "PosadaL2".getBytes(StandardCharsets.US_ASCII);
  private static final long LARGEST = 1L << 30;
  private static final int LONGEST_HEADER = 64 << 20;
  private static final JsonMapper JSON = new JsonMapper();

  private LightFile() {}

  /** Returns true if a file begins like one of baked light. */
  public static boolean is(Path file) {
    try (InputStream in = Files.newInputStream(file)) {
      return java.util.Arrays.equals(in.readNBytes(MAGIC.length), MAGIC);
    } catch (IOException e) {
      return false;
    }
  }

  public static byte[] encode(BakedLight light) {
    byte[] header = JSON.writeValueAsBytes(light.info());
    float[] numbers = light.points().numbers();
    ByteBuffer out =
        ByteBuffer.allocate(MAGIC.length + 8 + header.length + 4 * numbers.length)
            .order(ByteOrder.LITTLE_ENDIAN);
    out.put(MAGIC).putInt(header.length).put(header).putInt(light.points().count());
    out.asFloatBuffer().put(numbers);
    return out.array();
  }

  /**
   * @throws IOException naming the file and what is wrong with it
   */
  public static BakedLight read(Path file) throws IOException {
    String name = file.getFileName().toString();
    if (Files.size(file) > LARGEST) {
      throw new IOException(name + " is larger than the limit of " + LARGEST + " bytes");
    }
    byte[] bytes = Files.readAllBytes(file);
    ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    byte[] magic = new byte[MAGIC.length];
    if (bytes.length < MAGIC.length + 8) {
      throw damaged(name, "is too short", null);
    }
    in.get(magic);
    if (!java.util.Arrays.equals(magic, MAGIC)) {
      throw damaged(name, "does not begin like one", null);
    }
    int length = in.getInt();
    if (length < 2 || length > LONGEST_HEADER || length + 4 > in.remaining()) {
      throw damaged(name, "ends inside its header", null);
    }
    byte[] header = new byte[length];
    in.get(header);
    BakeInfo info;
    try {
      info = JSON.readValue(header, BakeInfo.class);
    } catch (JacksonException e) {
      throw damaged(name, "has a header that cannot be read", e);
    }
    if (info == null || info.frames() == null || info.depends() == null) {
      throw damaged(name, "has a header that does not say what it was made of", null);
    }
    int count = in.getInt();
    if (count < 0 || (long) count * LightPoints.STRIDE * Float.BYTES != in.remaining()) {
      throw damaged(name, "does not hold as many points as it says", null);
    }
    FloatBuffer floats = in.asFloatBuffer();
    float[] numbers = new float[floats.remaining()];
    floats.get(numbers);
    for (float f : numbers) {
      if (!Float.isFinite(f)) {
        throw damaged(name, "holds what is no number", null);
      }
    }
    for (int i = LightPoints.RADIUS; i < numbers.length; i += LightPoints.STRIDE) {
      if (!(numbers[i] > 0)) {
        throw damaged(name, "has a point without a radius", null);
      }
    }
    return new BakedLight(new LightPoints(numbers), info);
  }

  private static IOException damaged(String name, String what, Exception cause) {
    return new IOException(name + " is no file of baked light that can be read: it " + what, cause);
  }
}
