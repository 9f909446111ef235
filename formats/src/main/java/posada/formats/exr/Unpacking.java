package posada.formats.exr;

import java.util.Arrays;
import java.util.zip.DataFormatException;
import java.util.zip.Inflater;

/**
 * The way back of {@link Packing}, in steps that other compressions use, too. Scratch of one
 * thread; to be closed.
 */
final class Unpacking implements AutoCloseable {
  private final Inflater inflater = new Inflater();
  private byte[] split = new byte[0];

  @Override
  public void close() {
    inflater.end();
  }

  /** Undoes {@link Packing#pack} with ZIP. */
  void zip(byte[] in, int at, int size, byte[] out, int length) {
    inflate(in, at, size, room(length), length);
    join(out, length);
  }

  /** Undoes {@link Packing#pack} with RLE. */
  void runs(byte[] in, int at, int size, byte[] out, int length) {
    repeat(in, at, size, room(length), length);
    join(out, length);
  }

  private byte[] room(int length) {
    if (split.length < length) {
      split = new byte[length];
    }
    return split;
  }

  /** Undoes differences, then puts the second half's bytes between those of the first. */
  private void join(byte[] out, int length) {
    for (int i = 1; i < length; i++) {
      split[i] = (byte) (split[i - 1] + split[i] - 128);
    }
    int half = (length + 1) / 2;
    for (int i = 0; i < length; i++) {
      out[i] = split[(i & 1) == 0 ? i >> 1 : half + (i >> 1)];
    }
  }

  /**
   * Undoes deflate (RFC 1950).
   *
   * @throws DamagedBlock if it is not so many bytes
   */
  void inflate(byte[] in, int at, int size, byte[] out, int length) {
    inflater.reset();
    inflater.setInput(in, at, size);
    try {
      int n = 0;
      while (n < length) {
        int more = inflater.inflate(out, n, length - n);
        DamagedBlock.unless(more > 0);
        n += more;
      }
    } catch (DataFormatException e) {
      throw new DamagedBlock();
    }
  }

  /**
   * Undoes runs: a count less 1 and a byte to repeat, or a negative count and that many bytes.
   *
   * @throws DamagedBlock if it is not so many bytes
   */
  static void repeat(byte[] in, int at, int size, byte[] out, int length) {
    int end = at + size;
    int n = 0;
    while (at < end && n < length) {
      int count = in[at++];
      if (count < 0) {
        DamagedBlock.unless(at - count <= end && n - count <= length);
        System.arraycopy(in, at, out, n, -count);
        at -= count;
        n -= count;
      } else {
        DamagedBlock.unless(at < end && n + count + 1 <= length);
        Arrays.fill(out, n, n + count + 1, in[at++]);
        n += count + 1;
      }
    }
    DamagedBlock.unless(n == length);
  }
}
