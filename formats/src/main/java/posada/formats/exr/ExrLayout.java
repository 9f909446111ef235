package posada.formats.exr;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import posada.core.image.Primaries;
import posada.core.plan.FrameRate;

/** What the header of an EXR file says. */
final class ExrLayout {
  /** Pixels that a window may begin away from 0. */
  private static final long FARTHEST = 1 << 24;

  /** Bits of the version: tiles; deep data and several parts, which are not read. */
  private static final int TILED = 0x200;

  private static final int UNREAD = 0x1800;

  private final String name;

  /** Where the reading is: behind the header once that has been read. */
  final ByteBuffer in;

  final Map<String, String> texts = new LinkedHashMap<>();
  final List<ExrChannel> channels = new ArrayList<>();
  ExrCompression compression;
  int left;
  int top;
  int width;
  int height;
  FrameRate rate;

  /** Left, top, width and height of the full frame; null if the file does not say. */
  int[] display;

  Primaries primaries = Primaries.BT709;

  /** Null for a file of scan lines. */
  ExrTiles tiles;

  private int version;

  ExrLayout(String name, byte[] bytes) {
    this.name = name;
    in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  /** Reads the header of a file whose pixels are to be read. */
  ExrLayout whole() throws IOException {
    try {
      header();
    } catch (java.nio.BufferUnderflowException e) {
      throw damaged("ends inside its header");
    }
    if ((version & 0xff) != 2 || (version & UNREAD) != 0) {
      throw damaged("has deep data or several parts");
    }
    if (channels.isEmpty() || width == 0 || compression == null) {
      throw damaged("lacks channels, window or compression");
    }
    if ((version & TILED) == 0) {
      tiles = null;
    } else if (tiles == null) {
      throw damaged("does not say how large its tiles are");
    }
    return this;
  }

  IOException damaged(String what) {
    return new IOException(name + " is not an EXR file that can be read: it " + what);
  }

  void header() throws IOException {
    if (in.getInt() != ExrWriter.MAGIC) {
      throw damaged("does not begin like one");
    }
    version = in.getInt();
    while (true) {
      String key = word();
      if (key.isEmpty()) {
        break;
      }
      String type = word();
      int size = in.getInt();
      if (size < 0 || size > in.remaining()) {
        throw damaged("ends inside attribute " + key);
      }
      ByteBuffer value = in.slice(in.position(), size).order(ByteOrder.LITTLE_ENDIAN);
      in.position(in.position() + size);
      attribute(key, type, value);
    }
  }

  private String word() throws IOException {
    int start = in.position();
    while (in.get() != 0) {
      if (in.position() - start > 255) {
        throw damaged("has a name of more than 255 bytes");
      }
    }
    return new String(in.array(), start, in.position() - start - 1, StandardCharsets.UTF_8);
  }

  private void attribute(String key, String type, ByteBuffer value) throws IOException {
    switch (key) {
      case "channels" -> channels(value);
      case "compression" -> {
        int n = value.get();
        compression = ExrCompression.numbered(n);
        if (compression == null) {
          throw damaged(
              "is compressed by method " + n + "; " + ExrCompression.known() + " are known");
        }
      }
      case "dataWindow" -> {
        int[] w = window(value);
        left = w[0];
        top = w[1];
        width = w[2];
        height = w[3];
      }
      case "tiles" -> {
        tiles = new ExrTiles(value.getInt(), value.getInt(), value.get());
        if (!tiles.sound()) {
          throw damaged("has tiles of " + tiles.width() + " x " + tiles.height() + " pixels");
        }
      }
      case "displayWindow" -> display = window(value);
      case "chromaticities" -> {
        float[] xy = new float[8];
        for (int i = 0; i < xy.length; i++) {
          xy[i] = value.getFloat();
        }
        Primaries said = new Primaries(xy);
        // Others may write zeros here, by which they cannot mean a colour.
        primaries = said.sound() ? said : Primaries.BT709;
      }
      case "framesPerSecond" -> {
        double perSecond = value.getInt() / (double) value.getInt();
        // Others may write what is no frame rate here: then there is none.
        rate = perSecond >= 1 && perSecond <= 240 ? new FrameRate(perSecond) : null;
      }
      default -> {
        if (type.equals("string")) {
          byte[] b = new byte[value.remaining()];
          value.get(b);
          texts.put(key, new String(b, StandardCharsets.UTF_8));
        }
      }
    }
  }

  /** Reads a window as left, top, width and height. */
  private int[] window(ByteBuffer value) throws IOException {
    int x0 = value.getInt();
    int y0 = value.getInt();
    long w = (long) value.getInt() - x0 + 1;
    long h = (long) value.getInt() - y0 + 1;
    boolean far = Math.max(Math.abs((long) x0), Math.abs((long) y0)) > FARTHEST;
    if (w < 1 || h < 1 || w > 65536 || h > 65536 || far) {
      throw damaged("has a window of " + w + " x " + h + " pixels at " + x0 + ", " + y0);
    }
    return new int[] {x0, y0, (int) w, (int) h};
  }

  private void channels(ByteBuffer v) throws IOException {
    while (true) {
      StringBuilder s = new StringBuilder();
      for (byte b = v.get(); b != 0; b = v.get()) {
        s.append((char) (b & 255));
      }
      if (s.length() == 0) {
        return;
      }
      int type = v.getInt();
      boolean linear = (v.getInt() & 255) != 0;
      ExrChannel.Type[] types = ExrChannel.Type.values();
      if (v.getInt() != 1 || v.getInt() != 1 || type < 0 || type >= types.length) {
        throw damaged("has channel " + s + " of unknown type or with sampling other than 1");
      }
      channels.add(new ExrChannel(s.toString(), types[type], linear));
    }
  }
}
