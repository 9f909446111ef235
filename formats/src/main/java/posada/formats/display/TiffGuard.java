package posada.formats.display;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.Map;

/**
 * Looks through a TIFF's first directory before the image library does, which allocates whatever a
 * damaged file says.
 *
 * <p>Source: TIFF 6.0, section 2.
 */
final class TiffGuard {
  /** Bytes of each field type, by its number. */
  private static final int[] SIZES = {0, 1, 1, 2, 4, 8, 1, 1, 2, 4, 8, 4, 8, 4};

  private static final int WIDTH = 256;
  private static final int HEIGHT = 257;
  private static final int BITS = 258;
  private static final int SAMPLES = 277;
  private static final int ROWS = 278;
  private static final int STRIP_BYTES = 279;
  private static final int TILE_WIDTH = 322;
  private static final int MOST_ENTRIES = 64;
  private static final int MOST_SAMPLES = 4;

  private TiffGuard() {}

  /**
   * @throws IOException if a field reaches outside the file, or the picture is larger than the file
   *     can hold
   */
  static void check(Path file, long mostShrunk) throws IOException {
    try (RandomAccessFile f = new RandomAccessFile(file.toFile(), "r")) {
      long size = f.length();
      ByteBuffer head = read(f.getChannel(), 0, 8, ByteOrder.BIG_ENDIAN);
      ByteOrder order = head.getShort(0) == 0x4949 ? ByteOrder.LITTLE_ENDIAN : ByteOrder.BIG_ENDIAN;
      long at = head.order(order).getInt(4) & 0xffffffffL;
      int entries = read(f.getChannel(), at, 2, order).getShort(0) & 0xffff;
      if (entries > MOST_ENTRIES) {
        throw new IOException("its directory has " + entries + " entries");
      }
      ByteBuffer d = read(f.getChannel(), at + 2, entries * 12 + 4, order);
      Map<Integer, Long> values = new HashMap<>();
      for (int i = 0; i < entries; i++) {
        int tag = d.getShort(i * 12) & 0xffff;
        int type = d.getShort(i * 12 + 2) & 0xffff;
        long count = d.getInt(i * 12 + 4) & 0xffffffffL;
        if (type < 1 || type >= SIZES.length || count * SIZES[type] > size) {
          throw new IOException("its field " + tag + " reaches outside the file");
        }
        long value =
            SIZES[type] == 2 ? d.getShort(i * 12 + 8) & 0xffff : d.getInt(i * 12 + 8) & 0xffffffffL;
        if (values.put(tag, value) != null) {
          throw new IOException("its field " + tag + " is there twice");
        }
        if (tag == STRIP_BYTES) {
          strips(f.getChannel(), order, count, type, at + 2 + i * 12L + 8, size);
        }
        if (tag == BITS && count > MOST_SAMPLES) {
          throw new IOException("it has " + count + " samples for each pixel");
        }
      }
      if (d.getInt(entries * 12) != 0) {
        throw new IOException("it has several pictures");
      }
      long samples = values.getOrDefault(SAMPLES, 1L);
      long width = values.getOrDefault(WIDTH, 0L);
      long rows = Math.max(values.getOrDefault(HEIGHT, 0L), values.getOrDefault(ROWS, 0L));
      if (samples > MOST_SAMPLES
          || values.containsKey(TILE_WIDTH)
          || width > 65535
          || rows > 65535
          || width * rows * samples > mostShrunk * size) {
        throw new IOException("it is too short for its " + width + " x " + rows + " pixels");
      }
    }
  }

  /** Refuses strips that are longer than the file. */
  private static void strips(
      FileChannel in, ByteOrder order, long count, int type, long field, long size)
      throws IOException {
    int each = SIZES[type];
    long at = count * each <= 4 ? field : read(in, field, 4, order).getInt(0) & 0xffffffffL;
    ByteBuffer b = read(in, at, (int) (count * each), order);
    for (int i = 0; i < count; i++) {
      long n = each == 2 ? b.getShort(i * 2) & 0xffff : each == 4 ? b.getInt(i * 4) : -1;
      if (n < 0 || n > size) {
        throw new IOException("one of its strips is longer than the file");
      }
    }
  }

  private static ByteBuffer read(FileChannel in, long at, int n, ByteOrder order)
      throws IOException {
    ByteBuffer b = ByteBuffer.allocate(n).order(order);
    while (b.hasRemaining()) {
      if (in.read(b, at + b.position()) < 0) {
        throw new IOException("it ends inside its directory");
      }
    }
    return b;
  }
}
