package posada.formats.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;

/**
 * Unpacks PIZ blocks: a wavelet over 16-bit values, coded after D. Huffman, "A Method for the
 * Construction of Minimum-Redundancy Codes", 1952. Scratch of one thread.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class Piz {
  private static final int VALUES = 1 << 16;
  private static final int BITMAP = VALUES / 8;

  /** Symbols: all values, and one that repeats the value before it. */
  private static final int SYMBOLS = VALUES + 1;

  private static final int LONGEST_CODE = 58;

  /** Code lengths from here on stand for runs of unused symbols. */
  private static final int SHORT_RUN = 59;

  private static final int LONG_RUN = 63;
  private static final int LONG_RUN_LEAST = 2 + LONG_RUN - SHORT_RUN;

  /** Codes up to this long are found in one look. */
  private static final int FAST = 12;

  private static final class Damaged extends RuntimeException {
    Damaged() {
      super(null, null, false, false);
    }
  }

  private final char[] table = new char[VALUES];
  private final byte[] lengths = new byte[SYMBOLS];

  /** Symbols in the order of their codes, longest first, and where each length begins. */
  private final int[] symbols = new int[SYMBOLS];

  private final int[] start = new int[LONGEST_CODE + 2];
  private final long[] base = new long[LONGEST_CODE + 2];
  private final int[] fast = new int[1 << FAST];
  private char[] values = new char[0];

  private byte[] in;
  private int at, end;
  private long bits;
  private int held;
  private long left;

  /**
   * Unpacks a block.
   *
   * @param shorts how many 16-bit values each channel has for a pixel
   * @return false if it is damaged
   */
  boolean unpack(
      byte[] bytes, int from, int size, int width, int height, int[] shorts, byte[] out) {
    in = bytes;
    at = from;
    end = from + size;
    int each = 0;
    for (int s : shorts) {
      each += s;
    }
    int count = width * height * each;
    try {
      int most = table();
      if (values.length < count) {
        values = new char[count];
      }
      huffman(count);
      int first = 0;
      for (int s : shorts) {
        for (int k = 0; k < s; k++) {
          wavelet(first + k, width, s, height, width * s, most);
        }
        first += width * height * s;
      }
      lay(width, height, shorts, out);
      return true;
    } catch (Damaged | IndexOutOfBoundsException e) {
      return false;
    }
  }

  private int u16() {
    int v = in[at] & 255 | (in[at + 1] & 255) << 8;
    at += 2;
    return v;
  }

  private int i32() {
    if (at + 4 > end) {
      throw new Damaged();
    }
    int v = ByteBuffer.wrap(in, at, 4).order(ByteOrder.LITTLE_ENDIAN).getInt();
    at += 4;
    return v;
  }

  /** Reads which values occur; returns the number of the last one. */
  private int table() {
    int least = u16();
    int last = u16();
    byte[] map = new byte[BITMAP];
    if (last >= BITMAP || at + last - least + 1 > end) {
      throw new Damaged();
    }
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

  private void huffman(int count) {
    int length = i32();
    if (length < 0 || at + length > end) {
      throw new Damaged();
    }
    if (length == 0) {
      if (count != 0) {
        throw new Damaged();
      }
      return;
    }
    end = at + length;
    int least = i32();
    int most = i32();
    i32();
    left = i32() & 0xffffffffL;
    i32();
    if (least < 0 || least >= SYMBOLS || most < 0 || most >= SYMBOLS) {
      throw new Damaged();
    }
    lengths(least, most);
    codes(least, most);
    if (left > 8L * (end - at)) {
      throw new Damaged();
    }
    bits = 0;
    held = 0;
    int n = 0;
    while (n < count) {
      int s = symbol();
      if (s != most) {
        values[n++] = (char) s;
        continue;
      }
      int times = (int) take(8);
      if (n == 0 || n + times > count) {
        throw new Damaged();
      }
      char v = values[n - 1];
      while (times-- > 0) {
        values[n++] = v;
      }
    }
  }

  /** Reads the lengths of all codes, which are packed themselves. */
  private void lengths(int least, int most) {
    java.util.Arrays.fill(lengths, (byte) 0);
    bits = 0;
    held = 0;
    long saved = left;
    left = 8L * (end - at);
    for (int i = least; i <= most; i++) {
      int l = (int) take(6);
      if (l >= SHORT_RUN) {
        int run = l == LONG_RUN ? (int) take(8) + LONG_RUN_LEAST : l - SHORT_RUN + 2;
        if (i + run > most + 1) {
          throw new Damaged();
        }
        i += run - 1;
      } else {
        lengths[i] = (byte) l;
      }
    }
    // The codes begin with the next whole byte.
    at -= held >> 3;
    left = saved;
  }

  /** Gives out codes: the longest begin at 0, each shorter length where the longer ones end. */
  private void codes(int least, int most) {
    int[] of = new int[LONGEST_CODE + 2];
    for (int i = least; i <= most; i++) {
      of[lengths[i]]++;
    }
    long code = 0;
    int place = 0;
    for (int l = LONGEST_CODE; l > 0; l--) {
      base[l] = code;
      start[l] = place;
      place += of[l];
      code = code + of[l] >> 1;
    }
    start[0] = place;
    int[] next = start.clone();
    java.util.Arrays.fill(fast, 0);
    for (int i = least; i <= most; i++) {
      int l = lengths[i];
      if (l == 0) {
        continue;
      }
      long own = base[l] + next[l] - start[l];
      if (own >= 1L << l) {
        throw new Damaged();
      }
      symbols[next[l]++] = i;
      if (l <= FAST) {
        int first = (int) (own << FAST - l);
        for (int k = 0; k < 1 << FAST - l; k++) {
          fast[first + k] = i << 6 | l;
        }
      }
    }
  }

  private void fill() {
    while (held <= 48 && at < end) {
      bits = bits << 8 | in[at++] & 255;
      held += 8;
    }
  }

  private long take(int n) {
    fill();
    if (held < n || left < n) {
      throw new Damaged();
    }
    held -= n;
    left -= n;
    return bits >>> held & (1L << n) - 1;
  }

  private int symbol() {
    fill();
    int look = (int) (held >= FAST ? bits >>> held - FAST : bits << FAST - held) & (1 << FAST) - 1;
    int found = fast[look];
    if (found != 0 && (found & 63) <= held) {
      take(found & 63);
      return found >> 6;
    }
    long code = 0;
    for (int l = 1; l <= LONGEST_CODE; l++) {
      code = code << 1 | take(1);
      int n = start[l - 1] - start[l];
      long k = code - base[l];
      if (n > 0 && k >= 0 && k < n) {
        return symbols[start[l] + (int) k];
      }
    }
    throw new Damaged();
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
  private void lay(int width, int height, int[] shorts, byte[] out) {
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
