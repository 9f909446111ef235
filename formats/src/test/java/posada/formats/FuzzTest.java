package posada.formats;

import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.junit.jupiter.api.Assertions.fail;

import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.files.Delivery;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.settings.EnvironmentPicture;

/**
 * Mutated files: each is read or refused by an error that names it, without a crash, without end,
 * and without more memory than the limit. {@code -Dfuzz.files=N} mutates N files of each kind.
 */
class FuzzTest {
  private static final int FILES = Integer.getInteger("fuzz.files", 400);

  /** Bytes that reading one of these small files may allocate. */
  private static final long MOST_BYTES = 48L << 20;

  private static final int WIDTH = 48;
  private static final int HEIGHT = 37;

  @TempDir Path folder;

  /** What is mutated. */
  enum Kind {
    EXR_NONE("none"),
    EXR_RLE("rle"),
    EXR_ZIPS("zips"),
    EXR_ZIP("zip"),
    EXR_PIZ("piz"),
    HDR("hdr"),
    PNG("png"),
    TIFF("tif"),
    TIFF_FLOAT("tif"),
    TGA("tga"),
    JPEG("jpg");

    final String how;

    Kind(String how) {
      this.how = how;
    }

    boolean exr() {
      return name().startsWith("EXR");
    }

    FileFormat format() {
      return switch (this) {
        case PNG -> FileFormat.PNG8;
        case TIFF -> FileFormat.TIFF16;
        case TIFF_FLOAT -> FileFormat.TIFF_FLOAT;
        case TGA -> FileFormat.TGA;
        case JPEG -> FileFormat.JPEG;
        default -> FileFormat.EXR;
      };
    }

    String extension() {
      return exr() ? "exr" : how;
    }
  }

  private static FrameImage picture() {
    List<Channel> channels = new ArrayList<>();
    Random random = new Random(4);
    for (String name : List.of("R", "G", "B", "A")) {
      float[] d = new float[WIDTH * HEIGHT];
      for (int i = 0; i < d.length; i++) {
        d[i] = name.equals("A") ? 1 : i % WIDTH / 48f + (i % 5 == 0 ? random.nextFloat() : 0);
      }
      channels.add(new Channel(name, Precision.HALF, d));
    }
    return new FrameImage(WIDTH, HEIGHT, channels);
  }

  private FrameFiles files(FileFormat format) {
    return new FrameFiles(
        folder,
        new Delivery(List.of(format), format.label(), ExrCompression.ZIP, false, 92, null),
        PassSettings.BEAUTY.with(Set.of(Pass.BEAUTY)),
        Map.of(),
        new FrameRate(24),
        true);
  }

  private byte[] whole(Kind k) throws Exception {
    FrameFiles f = files(k.format());
    f.write(0, picture(), null, Map.of(ExrHeader.FINGERPRINT, "abc"), true, Workers.CALLER);
    Path file = f.paths(0).get(0);
    if (!k.exr() && k != Kind.HDR) {
      return Files.readAllBytes(file);
    }
    Path made = folder.resolve("made." + k.extension());
    List<String> command = new ArrayList<>(List.of("oiiotool", file.toString()));
    command.addAll(k == Kind.HDR ? List.of("--ch", "R,G,B") : List.of("--compression", k.how));
    command.addAll(List.of("-o", made.toString()));
    Tools.run(command);
    return Files.readAllBytes(made);
  }

  private static byte[] mutated(byte[] whole, Random r) {
    byte[] b = whole.clone();
    int head = Math.min(b.length, 420);
    int times = 1 + r.nextInt(6);
    for (int k = 0; k < times; k++) {
      int at = r.nextInt(r.nextBoolean() ? head : b.length);
      switch (r.nextInt(6)) {
        case 0 -> b[at] = (byte) r.nextInt(256);
        case 1 -> b[at] ^= (byte) (1 << r.nextInt(8));
        case 2 -> {
          int[] far = {0, -1, 1, Integer.MAX_VALUE, Integer.MIN_VALUE, 65535, 65536, 1 << 24};
          if (at + 4 <= b.length) {
            ByteBuffer.wrap(b)
                .order(r.nextBoolean() ? ByteOrder.LITTLE_ENDIAN : ByteOrder.BIG_ENDIAN)
                .putInt(at, far[r.nextInt(far.length)]);
          }
        }
        case 3 -> {
          if (k == times - 1) {
            b = Arrays.copyOf(b, r.nextInt(b.length) + 1);
          }
        }
        case 4 -> {
          int n = Math.min(1 + r.nextInt(40), b.length - at);
          System.arraycopy(b, r.nextInt(b.length - n + 1), b, at, n);
        }
        default -> Arrays.fill(b, at, Math.min(b.length, at + 1 + r.nextInt(9)), (byte) 0);
      }
    }
    return b;
  }

  @ParameterizedTest
  @EnumSource(Kind.class)
  @Timeout(value = 20, unit = TimeUnit.MINUTES, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void mutatedFilesAreReadOrRefused(Kind k) throws Exception {
    byte[] whole = whole(k);
    Random random = new Random(k.ordinal() * 1000L + FILES);
    Path file = folder.resolve("bad." + k.extension());
    var memory = (com.sun.management.ThreadMXBean) ManagementFactory.getThreadMXBean();
    Files.write(file, whole);
    read(k, file);
    int refused = 0;
    for (int i = 0; i < FILES; i++) {
      byte[] bad = mutated(whole, random);
      Files.write(file, bad);
      long before = memory.getCurrentThreadAllocatedBytes();
      try {
        if (k != Kind.HDR) {
          // What is left of an earlier run is looked at before it is rendered again.
          Files.write(files(k.format()).paths(0).get(0), bad);
          files(k.format()).complete(0, "abc");
        }
        read(k, file);
      } catch (IOException e) {
        refused++;
        String said = String.valueOf(e.getMessage());
        assertTrue(said.contains("bad."), said + " from file " + i);
      } catch (RuntimeException | Error e) {
        fail(k + " file " + i, e);
      }
      long used = memory.getCurrentThreadAllocatedBytes() - before;
      assertTrue(used < MOST_BYTES, k + " file " + i + " took " + used + " bytes");
    }
    assertTrue(refused > FILES / 20, k + ": " + refused + " refused");
  }

  private static void read(Kind k, Path file) throws IOException {
    switch (k) {
      case HDR -> EnvironmentPicture.read(file);
      case PNG, TIFF, TIFF_FLOAT, TGA, JPEG -> DisplayFile.linear(file);
      default -> {
        ExrReader.read(file);
        ExrReader.texts(file);
      }
    }
  }
}
