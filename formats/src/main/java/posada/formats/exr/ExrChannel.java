package posada.formats.exr;

import java.util.List;

/**
 * A channel as its file's header names it.
 *
 * @param linear true if the file says that its values are as the eye sees them, not as light is
 */
record ExrChannel(String name, Type type, boolean linear) {
  /** Kinds of values, in the order of their numbers in files. */
  enum Type {
    WHOLE(4),
    HALF(2),
    FLOAT(4);

    /** Of a value. */
    final int bytes;

    Type(int bytes) {
      this.bytes = bytes;
    }
  }

  /** Returns the bytes of one pixel with all channels. */
  static int bytes(List<ExrChannel> channels) {
    return channels.stream().mapToInt(c -> c.type.bytes).sum();
  }
}
