package posada.formats.exr;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.Deflater;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;

/**
 * Writes scanline EXR files with ZIP compression, 16 lines to a block, all channels in one part.
 *
 * <p>Source: "OpenEXR File Layout" and "Technical Introduction to OpenEXR", openexr documentation.
 */
public final class ExrWriter {
  static final int MAGIC = 20000630;
  static final int LINES = 16;

  /** Fast and within a few percent of the smallest for rendered halves. */
  private static final int DEFLATE_LEVEL = 4;

  /** Primaries and white of ITU-R BT.709 as x, y pairs: red, green, blue, white. */
  private static final float[] BT709 = {0.64f, 0.33f, 0.3f, 0.6f, 0.15f, 0.06f, 0.3127f, 0.329f};

  private ExrWriter() {}

  /** Returns the complete file. */
  public static byte[] encode(FrameImage image, ExrHeader header) {
    List<Channel> channels = new ArrayList<>(image.channels());
    channels.sort(Comparator.comparing(Channel::name));
    byte[] head = header(image, channels, header);
    int blocks = (image.height() + LINES - 1) / LINES;
    List<byte[]> packed = new ArrayList<>();
    Deflater deflater = new Deflater(DEFLATE_LEVEL);
    try {
      for (int b = 0; b < blocks; b++) {
        packed.add(block(image, channels, b * LINES, deflater));
      }
    } finally {
      deflater.end();
    }
    long size = head.length + 8L * blocks;
    for (byte[] p : packed) {
      size += 8 + p.length;
    }
    ByteBuffer out =
        ByteBuffer.allocate(Math.toIntExact(size)).order(ByteOrder.LITTLE_ENDIAN).put(head);
    long at = head.length + 8L * blocks;
    for (byte[] p : packed) {
      out.putLong(at);
      at += 8 + p.length;
    }
    for (int b = 0; b < blocks; b++) {
      out.putInt(image.window().y() + b * LINES).putInt(packed.get(b).length).put(packed.get(b));
    }
    return out.array();
  }

  private static byte[] block(FrameImage image, List<Channel> channels, int y0, Deflater deflater) {
    int w = image.width();
    int y1 = Math.min(image.height(), y0 + LINES);
    int line = 0;
    for (Channel c : channels) {
      line += w * bytes(c);
    }
    ByteBuffer raw = ByteBuffer.allocate(line * (y1 - y0)).order(ByteOrder.LITTLE_ENDIAN);
    for (int y = y0; y < y1; y++) {
      for (Channel c : channels) {
        float[] d = c.data();
        int o = y * w;
        if (c.precision() == Precision.HALF) {
          for (int x = 0; x < w; x++) {
            raw.putShort(Half.fromFloat(d[o + x]));
          }
        } else {
          for (int x = 0; x < w; x++) {
            raw.putFloat(d[o + x]);
          }
        }
      }
    }
    byte[] data = raw.array();
    byte[] split = split(data);
    deflater.reset();
    deflater.setInput(split);
    deflater.finish();
    byte[] packed = new byte[data.length];
    int n = deflater.deflate(packed);
    // What does not shrink is stored as it is: readers tell by the size.
    return deflater.finished() && n < data.length ? java.util.Arrays.copyOf(packed, n) : data;
  }

  /** Even bytes before odd ones, then differences: what the ZIP method compresses. */
  private static byte[] split(byte[] data) {
    byte[] s = new byte[data.length];
    int half = (data.length + 1) / 2;
    for (int i = 0; i < data.length; i++) {
      s[(i & 1) == 0 ? i >> 1 : half + (i >> 1)] = data[i];
    }
    int last = s[0] & 255;
    for (int i = 1; i < s.length; i++) {
      int v = s[i] & 255;
      s[i] = (byte) (v - last + 128);
      last = v;
    }
    return s;
  }

  private static int bytes(Channel c) {
    return c.precision() == Precision.HALF ? 2 : 4;
  }

  private static byte[] header(FrameImage image, List<Channel> channels, ExrHeader h) {
    Attributes a = new Attributes();
    a.bytes.writeBytes(ints(MAGIC, 2));
    ByteArrayOutputStream list = new ByteArrayOutputStream();
    for (Channel c : channels) {
      list.writeBytes(text(c.name()));
      list.writeBytes(ints(c.precision() == Precision.HALF ? 1 : 2, 0, 1, 1));
    }
    list.write(0);
    a.add("channels", "chlist", list.toByteArray());
    a.add("chromaticities", "chromaticities", floats(BT709));
    a.add("compression", "compression", new byte[] {3});
    FrameImage.Window w = image.window();
    int right = w.x() + image.width() - 1;
    int bottom = w.y() + image.height() - 1;
    a.add("dataWindow", "box2i", ints(w.x(), w.y(), right, bottom));
    a.add("displayWindow", "box2i", ints(0, 0, w.fullWidth() - 1, w.fullHeight() - 1));
    a.add("lineOrder", "lineOrder", new byte[] {0});
    a.add("pixelAspectRatio", "float", floats(1));
    a.add("screenWindowCenter", "v2f", floats(0, 0));
    a.add("screenWindowWidth", "float", floats(1));
    if (h.rate() != null) {
      a.add("framesPerSecond", "rational", rational(h.rate().perSecond()));
      a.add("timeCode", "timecode", ints(timecode(h.rate().timecode(h.frame())), 0));
    }
    Map<String, String> texts = new TreeMap<>(image.texts());
    texts.putAll(h.texts());
    for (Map.Entry<String, String> e : texts.entrySet()) {
      a.add(e.getKey(), "string", e.getValue().getBytes(StandardCharsets.UTF_8));
    }
    a.bytes.write(0);
    return a.bytes.toByteArray();
  }

  /** Attributes in the order in which they are added: name, type, size, value. */
  private static final class Attributes {
    final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

    void add(String name, String type, byte[] value) {
      bytes.writeBytes(text(name));
      bytes.writeBytes(text(type));
      bytes.writeBytes(ints(value.length));
      bytes.writeBytes(value);
    }
  }

  /** Whole rates as n/1; rates just under a whole one as n·1000/1001 (SMPTE ST 12-1). */
  private static byte[] rational(double rate) {
    if (Math.abs(rate - Math.rint(rate)) < 1e-9) {
      return ints((int) Math.rint(rate), 1);
    }
    double up = Math.ceil(rate);
    if (Math.abs(up * 1000 / 1001 - rate) < 1e-3) {
      return ints((int) up * 1000, 1001);
    }
    return ints((int) Math.rint(rate * 1000), 1000);
  }

  /** Packs {@code hh:mm:ss:ff} as binary-coded decimals, frames lowest (SMPTE ST 12-1). */
  private static int timecode(String code) {
    int packed = 0;
    for (String part : code.split(":")) {
      packed = packed << 8 | Integer.parseInt(part, 16);
    }
    return packed;
  }

  private static byte[] text(String s) {
    return (s + "\0").getBytes(StandardCharsets.UTF_8);
  }

  private static byte[] ints(int... v) {
    ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
    for (int i : v) {
      b.putInt(i);
    }
    return b.array();
  }

  private static byte[] floats(float... v) {
    ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : v) {
      b.putFloat(f);
    }
    return b.array();
  }
}
