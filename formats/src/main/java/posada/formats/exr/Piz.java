package posada.formats.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.List;

/**
 * Unpacks PIZ blocks: a wavelet over 16-bit values, coded after Huffman.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class Piz implements Unpacker {
  private static final int VALUES = 1 << 16;
  private static final int BITMAP = VALUES / 8;

  private final char[] table = new char[VALUES];
  private final Huffman huffman = new Huffman();
  private char[] values = new char[0];

  private final int[] shorts;
  private byte[] in;
  private int at, end;

  Piz(List<ExrChannel> channels) {
    shorts = channels.stream().mapToInt(c -> c.type().bytes / 2).toArray();
  }

  @Override
  public void unpack(byte[] bytes, int from, int size, int width, int height, byte[] out) {
    in = bytes;
    at = from;
    end = from + size;
    int count = width * height * Arrays.stream(shorts).sum();
    int most = table();
    if (values.length < count) {
      values = new char[count];
    }
    int length = i32();
    DamagedBlock.unless(length >= 0 && length <= end - at);
    huffman.unpack(in, at, at + length, values, count);
    int first = 0;
    for (int s : shorts) {
      for (int k = 0; k < s; k++) {
        wavelet(first + k, width, s, height, width * s, most);
      }
      first += width * height * s;
    }
    lay(width, height, out);
  }

  private int u16() {
    int v = in[at] & 255 | (in[at + 1] & 255) << 8;
    at += 2;
    return v;
  }

  private int i32() {
    DamagedBlock.unless(at + 4 <= end);
    int v = ByteBuffer.wrap(in, at, 4).order(ByteOrder.LITTLE_ENDIAN).getInt();
    at += 4;
    return v;
  }

  /** Reads which values occur; returns the number of the last one. */
  private int table() {
    int least = u16();
    int last = u16();
    byte[] map = new byte[BITMAP];
    DamagedBlock.unless(last < BITMAP && at + last - least + 1 <= end);
    for (int i = least; i <= last; i++) {
      map[i] = in[at++];
    }
    int n = 0;
    for (int v = 0; v < VALUES; v++) {
      if (v == 0 || (map[v >> 3] & 1 << (v & 7)) != 0) {
        table[n++] = (char) v;
      }
    }
    int most = n - 1;
    while (n < VALUES) {
      table[n++] = 0;
    }
    return most;
  }

  /** Undoes the wavelet of one plane of values, coarse levels first. */
  private void wavelet(int o, int nx, int ox, int ny, int oy, int most) {
    boolean small = most < 1 << 14;
    int n = Math.min(nx, ny);
    int p = 1;
    while (p <= n) {
      p <<= 1;
    }
    p >>= 1;
    int p2 = p;
    p >>= 1;
    while (p >= 1) {
      int ey = oy * (ny - p2);
      int oy1 = oy * p, oy2 = oy * p2, ox1 = ox * p, ox2 = ox * p2;
      int py = 0;
      for (; py <= ey; py += oy2) {
        int ex = py + ox * (nx - p2);
        int px = py;
        for (; px <= ex; px += ox2) {
          int a = o + px, b = a + ox1, c = a + oy1, d = c + ox1;
          pair(a, c, small);
          pair(b, d, small);
          pair(a, b, small);
          pair(c, d, small);
        }
        if ((nx & p) != 0) {
          pair(o + px, o + px + oy1, small);
        }
      }
      if ((ny & p) != 0) {
        int ex = py + ox * (nx - p2);
        for (int px = py; px <= ex; px += ox2) {
          pair(o + px, o + px + ox1, small);
        }
      }
      p2 = p;
      p >>= 1;
    }
  }

  /** Turns a mean and a difference into the two values. */
  private void pair(int i, int j, boolean small) {
    int l = values[i], h = values[j];
    if (small) {
      int d = (short) h;
      int a = (short) l + (d & 1) + (d >> 1);
      values[i] = (char) a;
      values[j] = (char) (a - d);
    } else {
      int b = l - (h >> 1) & 0xffff;
      values[i] = (char) (h + b - 0x8000 & 0xffff);
      values[j] = (char) b;
    }
  }

  /** Lays the planes out line by line. */
  private void lay(int width, int height, byte[] out) {
    int to = 0;
    for (int y = 0; y < height; y++) {
      int first = 0;
      for (int s : shorts) {
        int n = width * s;
        int from = first + y * n;
        for (int i = 0; i < n; i++) {
          char v = table[values[from + i]];
          out[to++] = (byte) v;
          out[to++] = (byte) (v >> 8);
        }
        first += height * n;
      }
    }
  }
}
