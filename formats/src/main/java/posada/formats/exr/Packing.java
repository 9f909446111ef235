package posada.formats.exr;

import java.util.Arrays;
import java.util.zip.DataFormatException;
import java.util.zip.Deflater;
import java.util.zip.Inflater;

/**
 * Packs and unpacks blocks of bytes by the methods that are made of splitting, differences and a
 * general packer. Scratch of one thread; to be closed.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression".
 */
final class Packing implements AutoCloseable {
  /** Fast and within a few percent of the smallest for rendered halves. */
  private static final int DEFLATE_LEVEL = 4;

  /** Longest run, and longest stretch without one, less 1. */
  private static final int LONGEST = 127;

  private static final int SHORTEST_RUN = 3;

  private final Deflater deflater = new Deflater(DEFLATE_LEVEL);
  private final Inflater inflater = new Inflater();
  private byte[] split = new byte[0];
  private byte[] packed = new byte[0];

  @Override
  public void close() {
    deflater.end();
    inflater.end();
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

  /**
   * Unpacks a block.
   *
   * @return false if what stands there does not unpack to this many bytes
   */
  boolean unpack(ExrCompression how, byte[] in, int at, int size, byte[] out, int length) {
    if (split.length < length) {
      split = new byte[length];
    }
    boolean whole =
        how == ExrCompression.RLE ? repeat(in, at, size, length) : inflate(in, at, size, length);
    if (!whole) {
      return false;
    }
    for (int i = 1; i < length; i++) {
      split[i] = (byte) (split[i - 1] + split[i] - 128);
    }
    int half = (length + 1) / 2;
    for (int i = 0; i < length; i++) {
      out[i] = split[(i & 1) == 0 ? i >> 1 : half + (i >> 1)];
    }
    return true;
  }

  private boolean inflate(byte[] in, int at, int size, int length) {
    inflater.reset();
    inflater.setInput(in, at, size);
    try {
      int n = 0;
      while (n < length) {
        int more = inflater.inflate(split, n, length - n);
        if (more == 0) {
          return false;
        }
        n += more;
      }
      return true;
    } catch (DataFormatException e) {
      return false;
    }
  }

  private boolean repeat(byte[] in, int at, int size, int length) {
    int end = at + size;
    int n = 0;
    while (at < end && n < length) {
      int count = in[at++];
      if (count < 0) {
        if (at - count > end || n - count > length) {
          return false;
        }
        System.arraycopy(in, at, split, n, -count);
        at -= count;
        n -= count;
      } else {
        if (at >= end || n + count + 1 > length) {
          return false;
        }
        Arrays.fill(split, n, n + count + 1, in[at++]);
        n += count + 1;
      }
    }
    return n == length;
  }
}
