package posada.formats.exr;

/** A block of pixels does not unpack; whoever knows the file's name says so. */
final class DamagedBlock extends RuntimeException {
  DamagedBlock() {
    super(null, null, false, false);
  }

  static void unless(boolean sound) {
    if (!sound) {
      throw new DamagedBlock();
    }
  }
}
