package posada.formats.exr;

import java.util.List;

/**
 * Unpacks PXR24 blocks: floats lose their last eight bits; of each line's values the differences
 * are deflated, high bytes first. Halves and whole numbers lose nothing.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class Pxr24 implements Unpacker {
  private final List<ExrChannel> channels;
  private final Unpacking unpacking = new Unpacking();
  private byte[] planes = new byte[0];

  Pxr24(List<ExrChannel> channels) {
    this.channels = channels;
  }

  @Override
  public void close() {
    unpacking.close();
  }

  /** Bytes that are kept of a value. */
  private static int kept(ExrChannel c) {
    return c.type() == ExrChannel.Type.FLOAT ? 3 : c.type().bytes;
  }

  @Override
  public void unpack(byte[] in, int at, int size, int width, int height, byte[] out) {
    int length = width * height * channels.stream().mapToInt(Pxr24::kept).sum();
    if (planes.length < length) {
      planes = new byte[length];
    }
    unpacking.inflate(in, at, size, planes, length);
    int from = 0;
    int to = 0;
    for (int y = 0; y < height; y++) {
      for (ExrChannel c : channels) {
        int kept = kept(c);
        int bytes = c.type().bytes;
        int value = 0;
        for (int x = 0; x < width; x++) {
          int difference = 0;
          for (int k = 0; k < kept; k++) {
            difference = difference << 8 | planes[from + k * width + x] & 255;
          }
          value += difference << 8 * (bytes - kept);
          for (int k = 0; k < bytes; k++) {
            out[to++] = (byte) (value >> 8 * k);
          }
        }
        from += kept * width;
      }
    }
  }
}
