package posada.formats.exr;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;

/**
 * Decodes 16-bit values that were coded after D. Huffman, "A Method for the Construction of
 * Minimum-Redundancy Codes", 1952. Scratch of one thread.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class Huffman {
  /** Symbols: all values, and one that repeats the value before it. */
  private static final int SYMBOLS = (1 << 16) + 1;

  private static final int LONGEST_CODE = 58;

  /** Code lengths from here on stand for runs of unused symbols. */
  private static final int SHORT_RUN = 59;

  private static final int LONG_RUN = 63;
  private static final int LONG_RUN_LEAST = 2 + LONG_RUN - SHORT_RUN;

  /** Codes up to this long are found in one look. */
  private static final int FAST = 12;

  private final byte[] lengths = new byte[SYMBOLS];

  /** Symbols in the order of their codes, longest first, and where each length begins. */
  private final int[] symbols = new int[SYMBOLS];

  private final int[] start = new int[LONGEST_CODE + 2];
  private final long[] base = new long[LONGEST_CODE + 2];
  private final int[] fast = new int[1 << FAST];

  private byte[] in;
  private int at, end;
  private long bits;
  private int held;
  private long left;

  /**
   * Decodes values.
   *
   * @param values gets {@code count} of them
   * @throws DamagedBlock if the bytes from {@code from} to {@code to} are not that many
   */
  void unpack(byte[] bytes, int from, int to, char[] values, int count) {
    in = bytes;
    at = from;
    end = to;
    if (from == to) {
      DamagedBlock.unless(count == 0);
      return;
    }
    int least = i32();
    int most = i32();
    i32();
    left = i32() & 0xffffffffL;
    i32();
    DamagedBlock.unless(least >= 0 && least < SYMBOLS && most >= 0 && most < SYMBOLS);
    lengths(least, most);
    codes(least, most);
    DamagedBlock.unless(left <= 8L * (end - at));
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
      DamagedBlock.unless(n > 0 && n + times <= count);
      Arrays.fill(values, n, n + times, values[n - 1]);
      n += times;
    }
  }

  private int i32() {
    DamagedBlock.unless(at + 4 <= end);
    int v = ByteBuffer.wrap(in, at, 4).order(ByteOrder.LITTLE_ENDIAN).getInt();
    at += 4;
    return v;
  }

  /** Reads the lengths of all codes, which are packed themselves. */
  private void lengths(int least, int most) {
    Arrays.fill(lengths, (byte) 0);
    bits = 0;
    held = 0;
    long saved = left;
    left = 8L * (end - at);
    for (int i = least; i <= most; i++) {
      int l = (int) take(6);
      if (l >= SHORT_RUN) {
        int run = l == LONG_RUN ? (int) take(8) + LONG_RUN_LEAST : l - SHORT_RUN + 2;
        DamagedBlock.unless(i + run <= most + 1);
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
    Arrays.fill(fast, 0);
    for (int i = least; i <= most; i++) {
      int l = lengths[i];
      if (l == 0) {
        continue;
      }
      long own = base[l] + next[l] - start[l];
      DamagedBlock.unless(own < 1L << l);
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
    DamagedBlock.unless(held >= n && left >= n);
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
    throw new DamagedBlock();
  }
}
