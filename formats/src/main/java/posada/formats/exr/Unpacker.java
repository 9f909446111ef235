package posada.formats.exr;

/** Unpacks the blocks of one compression. Holds scratch of one thread; to be closed. */
interface Unpacker extends AutoCloseable {
  /**
   * Unpacks a block of width times height pixels.
   *
   * @param in holds the packed bytes, {@code size} of them from {@code at} on
   * @param out gets the block line by line, each channel's values after the other's, little-endian
   * @throws DamagedBlock if the bytes do not unpack to that; what {@code out} holds is then unknown
   */
  void unpack(byte[] in, int at, int size, int width, int height, byte[] out);

  @Override
  default void close() {}
}
