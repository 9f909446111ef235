package posada.formats.exr;

import java.util.Arrays;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * How the pixels of an EXR are packed, in the order of the numbers in headers. The first four are
 * written, and keep every bit; the others are read, since files from elsewhere have them.
 */
public enum ExrCompression {
  NONE("none", 1),
  RLE("rle", 1),
  ZIPS("zips", 1),
  ZIP("zip", 16),
  PIZ("piz", 32),
  PXR24("pxr24", 16),
  B44("b44", 32),
  B44A("b44a", 32),
  DWAA("dwaa", 32),
  DWAB("dwab", 256);

  /** A little more than deflate shrinks anything. */
  private static final int DEFLATE_SHRINKS = 1100;

  private final String label;

  /** Scan lines that are packed together. */
  final int lines;

  ExrCompression(String label, int lines) {
    this.label = label;
    this.lines = lines;
  }

  public String label() {
    return label;
  }

  /** Returns true if files are written with it. */
  public boolean written() {
    return compareTo(ZIP) <= 0;
  }

  /** Returns the compression of this name; the error lists those that are written. */
  public static ExrCompression named(String name) {
    for (ExrCompression c : values()) {
      if (c.label.equals(name) && c.written()) {
        return c;
      }
    }
    throw new IllegalArgumentException(
        "EXR is not written with the compression \""
            + name
            + "\"; there are "
            + names(ExrCompression::written));
  }

  private static String names(Predicate<ExrCompression> which) {
    return Arrays.stream(values())
        .filter(which)
        .map(c -> c.label)
        .collect(Collectors.joining(", "));
  }

  /** Returns the names of all that are read. */
  static String known() {
    return names(c -> true);
  }

  /** Returns the compression of a number in a header, or null if it is not known. */
  static ExrCompression numbered(int n) {
    return n >= 0 && n < values().length ? values()[n] : null;
  }

  /** Returns how many times as large as the file its pixels can be at most. */
  long mostShrunk() {
    return switch (this) {
      case NONE -> 1;
      case DWAA, DWAB -> 64 * DEFLATE_SHRINKS;
      case PXR24 -> 2 * DEFLATE_SHRINKS;
      default -> DEFLATE_SHRINKS;
    };
  }

  /** Returns what unpacks the blocks of a file with these channels; to be closed. */
  Unpacker unpacker(List<ExrChannel> channels) {
    return switch (this) {
      case NONE -> new NotPacked();
      case RLE, ZIPS, ZIP -> new Split(this == RLE, channels);
      case PIZ -> new Piz(channels);
      case PXR24 -> new Pxr24(channels);
      case B44, B44A -> new B44(channels);
      case DWAA, DWAB -> new Dwa(channels);
    };
  }

  /** Blocks that are no shorter than their pixels are not packed; shorter ones are damaged. */
  private static final class NotPacked implements Unpacker {
    @Override
    public void unpack(byte[] in, int at, int size, int width, int height, byte[] out) {
      throw new DamagedBlock();
    }
  }

  /** The way back of {@link Packing}. */
  private static final class Split implements Unpacker {
    private final boolean runs;
    private final int bytes;
    private final Unpacking unpacking = new Unpacking();

    Split(boolean runs, List<ExrChannel> channels) {
      this.runs = runs;
      bytes = ExrChannel.bytes(channels);
    }

    @Override
    public void close() {
      unpacking.close();
    }

    @Override
    public void unpack(byte[] in, int at, int size, int width, int height, byte[] out) {
      int length = width * height * bytes;
      if (runs) {
        unpacking.runs(in, at, size, out, length);
      } else {
        unpacking.zip(in, at, size, out, length);
      }
    }
  }
}
