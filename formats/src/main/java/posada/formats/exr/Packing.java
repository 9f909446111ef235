package posada.formats.exr;

import java.util.Arrays;
import java.util.zip.Deflater;

/**
 * Packs blocks of bytes by the methods that are made of splitting, differences and a general
 * packer; {@link Unpacking} is the way back. Scratch of one thread; to be closed.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression".
 */
final class Packing implements AutoCloseable {
  /** Fast and within a few percent of the smallest for rendered halves. */
  private static final int DEFLATE_LEVEL = 4;

  /** Longest run, and longest stretch without one, less 1. */
  private static final int LONGEST = 127;

  private static final int SHORTEST_RUN = 3;

  private final Deflater deflater;
  private byte[] split = new byte[0];
  private byte[] packed = new byte[0];

  Packing() {
    this(false);
  }

  /**
   * @param quickly true to pack in half the time and a few per cent worse
   */
  Packing(boolean quickly) {
    deflater = new Deflater(quickly ? Deflater.BEST_SPEED : DEFLATE_LEVEL);
  }

  @Override
  public void close() {
    deflater.end();
  }

  /**
   * Returns what stands in the file for a block; the block itself if it does not shrink, which
   * readers tell by its size.
   */
  byte[] pack(ExrCompression how, byte[] data, int length) {
    if (how == ExrCompression.NONE) {
      return Arrays.copyOf(data, length);
    }
    if (split.length < length) {
      split = new byte[length];
      packed = new byte[length];
    }
    split(data, length);
    int n = how == ExrCompression.RLE ? runs(length) : deflate(length);
    return n < 0 || n >= length ? Arrays.copyOf(data, length) : Arrays.copyOf(packed, n);
  }

  private int deflate(int length) {
    deflater.reset();
    deflater.setInput(split, 0, length);
    deflater.finish();
    int n = deflater.deflate(packed, 0, length);
    return deflater.finished() ? n : -1;
  }

  /** Even bytes before odd ones, then differences. */
  private void split(byte[] data, int length) {
    byte[] s = split;
    int half = (length + 1) / 2;
    for (int i = 0, e = 0, o = half; i < length; ) {
      s[e++] = data[i++];
      if (i < length) {
        s[o++] = data[i++];
      }
    }
    int last = s[0];
    for (int i = 1; i < length; i++) {
      int v = s[i];
      s[i] = (byte) (v - last + 128);
      last = v;
    }
  }

  /**
   * A count less 1 and a byte to repeat, or a negative count and that many bytes; -1 if too long.
   */
  private int runs(int length) {
    int out = 0;
    int from = 0;
    while (from < length) {
      int to = from + 1;
      while (to < length && split[to] == split[from] && to - from <= LONGEST) {
        to++;
      }
      if (to - from >= SHORTEST_RUN) {
        if (out + 2 > length) {
          return -1;
        }
        packed[out++] = (byte) (to - from - 1);
        packed[out++] = split[from];
      } else {
        while (to < length && !runAt(to, length) && to - from < LONGEST) {
          to++;
        }
        if (out + 1 + to - from > length) {
          return -1;
        }
        packed[out++] = (byte) (from - to);
        System.arraycopy(split, from, packed, out, to - from);
        out += to - from;
      }
      from = to;
    }
    return out;
  }

  private boolean runAt(int i, int length) {
    return i + 2 < length && split[i] == split[i + 1] && split[i] == split[i + 2];
  }
}
