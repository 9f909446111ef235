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
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.parallel.Workers;

/**
 * Writes scanline EXR files, all channels in one part.
 *
 * <p>Source: "OpenEXR File Layout" and "Technical Introduction to OpenEXR", openexr documentation.
 */
public final class ExrWriter {
  static final int MAGIC = 20000630;

  /** Parts of a picture that are packed at once, for each worker. */
  private static final int PARTS = 4;

  /** Flag of files with names of more than 31 letters. */
  private static final int LONG_NAMES = 0x400;

  private static final int SHORT_NAME = 31;

  /** Flag of files with deep data. */
  static final int DEEP = 0x800;

  private ExrWriter() {}

  /** Returns the complete file, packed by ZIP on the calling thread. */
  public static byte[] encode(FrameImage image, ExrHeader header) {
    return encode(image, header, ExrCompression.ZIP, Workers.CALLER);
  }

  /**
   * Returns the complete file.
   *
   * @param how one of those that are written
   * @param workers that pack its blocks; the file is the same with any number of them
   */
  public static byte[] encode(
      FrameImage image, ExrHeader header, ExrCompression how, Workers workers) {
    return encode(image, header, how, false, workers);
  }

  /**
   * Likewise.
   *
   * @param quickly true to pack in half the time and a few per cent worse
   */
  public static byte[] encode(
      FrameImage image, ExrHeader header, ExrCompression how, boolean quickly, Workers workers) {
    List<Channel> channels = new ArrayList<>(image.channels());
    channels.sort(Comparator.comparing(Channel::name));
    byte[] head = header(image, channels, header, how);
    int lines = how.lines;
    byte[][] packed = new byte[(image.height() + lines - 1) / lines][];
    int parts = Math.min(packed.length, PARTS * workers.count());
    workers.each(
        parts,
        part -> {
          int from = (int) ((long) part * packed.length / parts);
          int to = (int) ((part + 1L) * packed.length / parts);
          try (Packing packing = new Packing(quickly)) {
            byte[] raw = new byte[lines * line(image, channels)];
            for (int b = from; b < to; b++) {
              packed[b] = packing.pack(how, raw, lay(image, channels, b * lines, lines, raw));
            }
          }
        });
    long size = head.length + 8L * packed.length;
    for (byte[] p : packed) {
      size += 8 + p.length;
    }
    ByteBuffer out =
        ByteBuffer.allocate(Math.toIntExact(size)).order(ByteOrder.LITTLE_ENDIAN).put(head);
    long at = head.length + 8L * packed.length;
    for (byte[] p : packed) {
      out.putLong(at);
      at += 8 + p.length;
    }
    for (int b = 0; b < packed.length; b++) {
      out.putInt(image.window().y() + b * lines).putInt(packed[b].length).put(packed[b]);
    }
    return out.array();
  }

  /** Bytes of a scan line. */
  private static int line(FrameImage image, List<Channel> channels) {
    int line = 0;
    for (Channel c : channels) {
      line += image.width() * bytes(c);
    }
    return line;
  }

  /** Lays scan lines out channel by channel; returns how many bytes they are. */
  private static int lay(FrameImage image, List<Channel> channels, int y0, int lines, byte[] raw) {
    int w = image.width();
    int y1 = Math.min(image.height(), y0 + lines);
    int at = 0;
    for (int y = y0; y < y1; y++) {
      for (Channel c : channels) {
        float[] d = c.data();
        int end = (y + 1) * w;
        if (c.precision() == Precision.HALF) {
          for (int i = y * w; i < end; i++) {
            short h = Half.fromFloat(d[i]);
            raw[at++] = (byte) h;
            raw[at++] = (byte) (h >> 8);
          }
        } else {
          for (int i = y * w; i < end; i++) {
            int v = Float.floatToRawIntBits(d[i]);
            raw[at++] = (byte) v;
            raw[at++] = (byte) (v >> 8);
            raw[at++] = (byte) (v >> 16);
            raw[at++] = (byte) (v >> 24);
          }
        }
      }
    }
    return at;
  }

  private static int bytes(Channel c) {
    return c.precision() == Precision.HALF ? 2 : 4;
  }

  private static byte[] header(
      FrameImage image, List<Channel> channels, ExrHeader h, ExrCompression how) {
    boolean longNames = channels.stream().anyMatch(c -> c.name().length() > SHORT_NAME);
    Attributes a = new Attributes(longNames ? LONG_NAMES : 0);
    a.channels(
        channels.stream().map(Channel::name).toArray(String[]::new),
        channels.stream().map(Channel::precision).toArray(Precision[]::new));
    a.common(image.width(), image.height(), image.window(), how, h);
    a.texts(image.texts());
    return a.end();
  }

  /** Attributes in the order in which they are added: name, type, size, value. */
  static final class Attributes {
    private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();

    /**
     * @param flags what the file holds beside flat scan lines
     */
    Attributes(int flags) {
      bytes.writeBytes(ints(MAGIC, 2 | flags));
    }

    void add(String name, String type, byte[] value) {
      bytes.writeBytes(text(name));
      bytes.writeBytes(text(type));
      bytes.writeBytes(ints(value.length));
      bytes.writeBytes(value);
    }

    void channels(String[] names, Precision[] precisions) {
      ByteArrayOutputStream list = new ByteArrayOutputStream();
      for (int i = 0; i < names.length; i++) {
        list.writeBytes(text(names[i]));
        list.writeBytes(ints(precisions[i] == Precision.HALF ? 1 : 2, 0, 1, 1));
      }
      list.write(0);
      add("channels", "chlist", list.toByteArray());
    }

    /** Adds what flat and deep files have in common. */
    void common(int width, int height, FrameImage.Window w, ExrCompression how, ExrHeader h) {
      add("chromaticities", "chromaticities", floats(h.primaries().xy()));
      add("compression", "compression", new byte[] {(byte) how.ordinal()});
      int[] data = {w.x(), w.y(), w.x() + width - 1, w.y() + height - 1};
      add("dataWindow", "box2i", ints(data));
      add("displayWindow", "box2i", ints(0, 0, w.fullWidth() - 1, w.fullHeight() - 1));
      add("lineOrder", "lineOrder", new byte[] {0});
      add("pixelAspectRatio", "float", floats(1));
      add("screenWindowCenter", "v2f", floats(0, 0));
      add("screenWindowWidth", "float", floats(1));
      if (h.rate() != null) {
        add("framesPerSecond", "rational", rational(h.rate().perSecond()));
        add("timeCode", "timecode", ints(timecode(h.rate().timecode(h.frame())), 0));
      }
      texts(h.texts());
    }

    void texts(Map<String, String> texts) {
      for (Map.Entry<String, String> e : new TreeMap<>(texts).entrySet()) {
        add(e.getKey(), "string", e.getValue().getBytes(StandardCharsets.UTF_8));
      }
    }

    byte[] end() {
      bytes.write(0);
      return bytes.toByteArray();
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

  static byte[] ints(int... v) {
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
