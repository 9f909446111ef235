package posada.core.image;

/**
 * An 8-bit image with ever smaller averages of itself, for reading texels that are smaller than
 * what they are read for. Each level has half the side of the one before; averages are taken in
 * linear light, colour weighted by alpha, and kept in the image's own encoding. Immutable.
 */
public final class TexelPyramid {
  /** Texels of each level as {@link TexelImage} holds them; the first is the image. */
  final int[][] texels;

  final int[] widths;
  final int[] heights;
  private final float[] decode;

  /**
   * @param encoded true if red, green and blue are sRGB-encoded colour, false for plain numbers
   */
  public TexelPyramid(TexelImage image, boolean encoded) {
    int n = 32 - Integer.numberOfLeadingZeros(Math.max(image.width(), image.height()));
    texels = new int[n][];
    widths = new int[n];
    heights = new int[n];
    texels[0] = image.rgba();
    widths[0] = image.width();
    heights[0] = image.height();
    decode = new float[256];
    for (int i = 0; i < 256; i++) {
      decode[i] = encoded ? SrgbTransfer.decode8(i) : i / 255f;
    }
    byte[] encode = encoded ? encodeTable() : null;
    for (int l = 1; l < n; l++) {
      widths[l] = Math.max(1, widths[l - 1] / 2);
      heights[l] = Math.max(1, heights[l - 1] / 2);
      texels[l] = halved(l, encode);
    }
  }

  /** Display values of linear ones in steps of 1/4095, fine enough for a rounding of 8 bits. */
  private static byte[] encodeTable() {
    byte[] t = new byte[4096];
    for (int i = 0; i < t.length; i++) {
      t[i] = (byte) Math.round(255 * SrgbTransfer.encode(i / 4095.0));
    }
    return t;
  }

  private int[] halved(int level, byte[] encode) {
    int w = widths[level], h = heights[level];
    int fw = widths[level - 1], fh = heights[level - 1];
    int[] from = texels[level - 1];
    int[] to = new int[w * h];
    for (int y = 0; y < h; y++) {
      int y0 = y * fh / h, y1 = Math.max(y0 + 1, (y + 1) * fh / h);
      for (int x = 0; x < w; x++) {
        int x0 = x * fw / w, x1 = Math.max(x0 + 1, (x + 1) * fw / w);
        to[y * w + x] = average(from, fw, x0, y0, x1, y1, encode);
      }
    }
    return to;
  }

  private int average(int[] from, int width, int x0, int y0, int x1, int y1, byte[] encode) {
    float r = 0, g = 0, b = 0, a = 0, pr = 0, pg = 0, pb = 0;
    for (int y = y0; y < y1; y++) {
      for (int x = x0; x < x1; x++) {
        int t = from[y * width + x];
        float alpha = (t >>> 24) / 255f;
        float cr = decode[t >>> 16 & 255], cg = decode[t >>> 8 & 255], cb = decode[t & 255];
        a += alpha;
        r += cr * alpha;
        g += cg * alpha;
        b += cb * alpha;
        pr += cr;
        pg += cg;
        pb += cb;
      }
    }
    int n = (x1 - x0) * (y1 - y0);
    float k = a > 0 ? 1 / a : 1f / n;
    return Math.round(255 * a / n) << 24
        | byteOf(a > 0 ? r * k : pr * k, encode) << 16
        | byteOf(a > 0 ? g * k : pg * k, encode) << 8
        | byteOf(a > 0 ? b * k : pb * k, encode);
  }

  private static int byteOf(float linear, byte[] encode) {
    return encode == null
        ? Math.round(255 * linear)
        : encode[Math.min(4095, Math.round(linear * 4095))] & 255;
  }

  public int levels() {
    return texels.length;
  }

  public int width(int level) {
    return widths[level];
  }

  public int height(int level) {
    return heights[level];
  }

  /** Returns the bytes of the levels above the image itself. */
  public long bytes() {
    long sum = 1024;
    for (int l = 1; l < texels.length; l++) {
      sum += 4L * texels[l].length;
    }
    return sum;
  }

  /** Adds {@code weight} times a texel's linear red, green, blue and alpha to {@code out}. */
  public void add(int level, int x, int y, float weight, float[] out) {
    int t = texels[level][y * widths[level] + x];
    out[0] += weight * decode[t >>> 16 & 255];
    out[1] += weight * decode[t >>> 8 & 255];
    out[2] += weight * decode[t & 255];
    out[3] += weight * (t >>> 24) * (1 / 255f);
  }
}
