package posada.formats.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage.Precision;
import posada.core.parallel.Workers;

/**
 * Writes deep scanline EXR files: alpha and colour as halves, depth as float.
 *
 * <p>Source: "OpenEXR File Layout", section "Deep data".
 */
public final class DeepExr {
  /** Channels in the order of the file, which is that of {@link DeepImage#planes}. */
  private static final String[] NAMES = {"A", "B", "G", "R", "Z"};

  private static final int SAMPLE_BYTES = 4 * 2 + 4;

  /** Lines that are packed to tell how large a file will be. */
  private static final int PROBES = 32;

  private DeepExr() {}

  /** One packed scan line. */
  private record Line(byte[] table, byte[] data, long unpacked) {
    long bytes() {
      return 8 + 4 + 24 + table.length + data.length;
    }
  }

  /**
   * Returns about how large the file will be, in bytes, from some of its lines.
   *
   * @param how a compression of single lines
   */
  public static long estimate(DeepImage image, ExrCompression how) {
    int step = Math.max(1, image.height() / PROBES);
    long bytes = 0;
    int n = 0;
    try (Packing packing = new Packing()) {
      for (int y = step / 2; y < image.height(); y += step) {
        bytes += line(image, y, single(how), packing).bytes();
        n++;
      }
    }
    return n == 0 ? 0 : bytes * image.height() / n;
  }

  /** Deep data is packed line by line. */
  private static ExrCompression single(ExrCompression how) {
    return how == ExrCompression.ZIP ? ExrCompression.ZIPS : how;
  }

  /** Returns the complete file. */
  public static byte[] encode(
      DeepImage image, ExrHeader header, ExrCompression compression, Workers workers) {
    ExrCompression how = single(compression);
    byte[] head = header(image, header, how);
    Line[] lines = new Line[image.height()];
    workers.ranges(
        lines.length,
        (from, to) -> {
          try (Packing packing = new Packing()) {
            for (int y = from; y < to; y++) {
              lines[y] = line(image, y, how, packing);
            }
          }
        });
    long size = head.length;
    for (Line l : lines) {
      size += l.bytes();
    }
    ByteBuffer out =
        ByteBuffer.allocate(Math.toIntExact(size)).order(ByteOrder.LITTLE_ENDIAN).put(head);
    long at = head.length + 8L * lines.length;
    for (Line l : lines) {
      out.putLong(at);
      at += l.bytes() - 8;
    }
    for (int y = 0; y < lines.length; y++) {
      Line l = lines[y];
      out.putInt(image.window().y() + y);
      out.putLong(l.table.length).putLong(l.data.length).putLong(l.unpacked);
      out.put(l.table).put(l.data);
    }
    return out.array();
  }

  private static Line line(DeepImage image, int y, ExrCompression how, Packing packing) {
    int w = image.width();
    int[] first = image.first();
    int from = first[y * w], to = first[(y + 1) * w];
    ByteBuffer table = ByteBuffer.allocate(4 * w).order(ByteOrder.LITTLE_ENDIAN);
    for (int x = 0; x < w; x++) {
      table.putInt(first[y * w + x + 1] - from);
    }
    ByteBuffer data =
        ByteBuffer.allocate((to - from) * SAMPLE_BYTES).order(ByteOrder.LITTLE_ENDIAN);
    for (int c = 0; c < NAMES.length; c++) {
      float[] plane = image.planes()[c];
      for (int i = from; i < to; i++) {
        if (c == NAMES.length - 1) {
          data.putFloat(plane[i]);
        } else {
          data.putShort(Half.fromFloat(plane[i]));
        }
      }
    }
    return new Line(
        packing.pack(how, table.array(), table.capacity()),
        packing.pack(how, data.array(), data.capacity()),
        data.capacity());
  }

  private static byte[] header(DeepImage image, ExrHeader h, ExrCompression how) {
    int most = 0;
    for (int i = 0; i + 1 < image.first().length; i++) {
      most = Math.max(most, image.first()[i + 1] - image.first()[i]);
    }
    ExrWriter.Attributes a = new ExrWriter.Attributes(ExrWriter.DEEP);
    Precision[] precisions = {
      Precision.HALF, Precision.HALF, Precision.HALF, Precision.HALF, Precision.FLOAT
    };
    a.channels(NAMES, precisions);
    a.add("chunkCount", "int", ExrWriter.ints(image.height()));
    a.add("maxSamplesPerPixel", "int", ExrWriter.ints(most));
    a.add("type", "string", "deepscanline".getBytes(java.nio.charset.StandardCharsets.UTF_8));
    a.add("version", "int", ExrWriter.ints(1));
    a.common(image.width(), image.height(), image.window(), how, h);
    return a.end();
  }
}
