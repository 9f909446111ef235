package posada.formats.exr;

/**
 * How a picture is cut into tiles.
 *
 * @param width of a tile in pixels; those at the right and lower edge may be smaller
 * @param mode lower four bits: 0 one level, 1 smaller levels by both sides at once, 2 by each side
 */
record ExrTiles(int width, int height, int mode) {
  private static final int BOTH_SIDES = 1;

  /** Returns true if the sizes are ones that a picture can have. */
  boolean sound() {
    return width > 0 && height > 0 && width <= 1 << 16 && height <= 1 << 16;
  }

  /** Returns the number of tiles of the full picture. */
  long full(int pictureWidth, int pictureHeight) {
    return (long) across(pictureWidth, width) * across(pictureHeight, height);
  }

  private static int across(int size, int tile) {
    return (size + tile - 1) / tile;
  }

  /** Returns the number of tiles of all levels together. */
  long all(int pictureWidth, int pictureHeight) {
    int kind = mode & 15;
    if (kind == 0) {
      return full(pictureWidth, pictureHeight);
    }
    long sum = 0;
    int larger = Math.max(pictureWidth, pictureHeight);
    int wide = levels(kind == BOTH_SIDES ? larger : pictureWidth);
    int high = kind == BOTH_SIDES ? 1 : levels(pictureHeight);
    for (int i = 0; i < wide; i++) {
      for (int j = 0; j < high; j++) {
        int y = kind == BOTH_SIDES ? i : j;
        sum += full(level(pictureWidth, i), level(pictureHeight, y));
      }
    }
    return sum;
  }

  private boolean up() {
    return mode >> 4 != 0;
  }

  private int levels(int size) {
    int n = 32 - Integer.numberOfLeadingZeros(size);
    return up() && Integer.bitCount(size) > 1 ? n + 1 : n;
  }

  private int level(int size, int i) {
    return Math.max(1, up() ? (int) ((size + (1L << i) - 1) >> i) : size >> i);
  }
}
