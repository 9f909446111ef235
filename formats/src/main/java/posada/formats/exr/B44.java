package posada.formats.exr;

import java.util.List;

/**
 * Unpacks B44 and B44A blocks: halves in squares of four by four, each in 14 bytes, or in 3 where
 * all are alike; other values as they are, channel by channel.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class B44 implements Unpacker {
  private static final int SQUARE = 4;
  private static final int PACKED = 14;
  private static final int PACKED_ALIKE = 3;

  /** A third byte from here on says that all values of the square are alike. */
  private static final int ALIKE = 13 << 2;

  private final List<ExrChannel> channels;

  /** Bits of a square's values, column after column. */
  private final int[] square = new int[SQUARE * SQUARE];

  B44(List<ExrChannel> channels) {
    this.channels = channels;
  }

  @Override
  public void unpack(byte[] in, int at, int size, int width, int height, byte[] out) {
    int end = at + size;
    int line = width * ExrChannel.bytes(channels);
    int first = 0;
    for (ExrChannel c : channels) {
      int bytes = width * c.type().bytes;
      if (c.type() == ExrChannel.Type.HALF) {
        for (int y = 0; y < height; y += SQUARE) {
          for (int x = 0; x < width; x += SQUARE) {
            DamagedBlock.unless(at + PACKED_ALIKE <= end);
            boolean alike = (in[at + 2] & 255) >= ALIKE;
            DamagedBlock.unless(alike || at + PACKED <= end);
            read(in, at, alike);
            at += alike ? PACKED_ALIKE : PACKED;
            put(
                c,
                x,
                y,
                Math.min(width, x + SQUARE),
                Math.min(height, y + SQUARE),
                out,
                first,
                line);
          }
        }
      } else {
        DamagedBlock.unless(at + bytes * height <= end);
        for (int y = 0; y < height; y++) {
          System.arraycopy(in, at, out, first + y * line, bytes);
          at += bytes;
        }
      }
      first += bytes;
    }
  }

  private void read(byte[] in, int at, boolean alike) {
    int corner = (in[at] & 255) << 8 | in[at + 1] & 255;
    int shift = (in[at + 2] & 255) >> 2;
    for (int k = 0; k < square.length; k++) {
      if (k == 0 || alike) {
        square[k] = corner;
        continue;
      }
      // Fifteen differences of six bits: down the first column, then from column to column.
      int column = k / SQUARE, row = k % SQUARE;
      int number = column == 0 ? row - 1 : SQUARE * column - 1 + row;
      int bit = 22 + 6 * number;
      int pair = (in[at + bit / 8] & 255) << 8;
      pair |= bit % 8 > 2 ? in[at + bit / 8 + 1] & 255 : 0;
      int difference = pair >> 10 - bit % 8 & 63;
      int before = square[column == 0 ? k - 1 : k - SQUARE];
      square[k] = before + (difference << shift) - (32 << shift) & 0xffff;
    }
    for (int k = 0; k < square.length; k++) {
      // Stored so that larger numbers have larger bits.
      square[k] = (square[k] & 0x8000) != 0 ? square[k] & 0x7fff : ~square[k] & 0xffff;
    }
  }

  private void put(ExrChannel c, int x0, int y0, int x1, int y1, byte[] out, int first, int line) {
    for (int y = y0; y < y1; y++) {
      for (int x = x0; x < x1; x++) {
        int v = square[(x - x0) * SQUARE + y - y0];
        if (c.linear()) {
          v = Half.fromFloat((float) Math.exp(Half.toFloat((short) v) / 8)) & 0xffff;
        }
        int to = first + y * line + 2 * x;
        out[to] = (byte) v;
        out[to + 1] = (byte) (v >> 8);
      }
    }
  }
}
