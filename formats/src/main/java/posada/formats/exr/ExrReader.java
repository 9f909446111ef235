package posada.formats.exr;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.plan.FrameRate;

/**
 * Reads single-part scanline EXR files of every lossless compression but those for deep data, with
 * half, float or whole-number channels. Everything is checked before it is allocated: no more than
 * 1,100 times the file, and no more than a limit; damage is an {@link IOException} naming the file.
 */
public final class ExrReader {
  /** Most pixels times channels that are read at once. */
  private static final long MAX_VALUES = 400_000_000L;

  /** More than any compression shrinks. */
  private static final long MOST_SHRUNK = 1100;

  private static final int TEXT_BYTES = 1 << 16;

  /** Largest file, bytes. */
  private static final long LARGEST_FILE = 1L << 30;

  /** Pixels that a window may begin away from 0. */
  private static final long FARTHEST = 1 << 24;

  private final String name;
  private final ByteBuffer in;
  private final Map<String, String> texts = new LinkedHashMap<>();
  private final List<String> channelNames = new ArrayList<>();
  private final List<Precision> precisions = new ArrayList<>();
  private final List<Integer> types = new ArrayList<>();
  private ExrCompression compression;
  private int width;
  private int height;
  private FrameRate rate;
  private int version;
  private int left;
  private int top;

  /** Left, top, width and height of the full frame; null if the file does not say. */
  private int[] display;

  private ExrReader(String name, byte[] bytes) {
    this.name = name;
    in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  /** Reads the header whole. */
  private ExrReader open() throws IOException {
    try {
      header();
    } catch (java.nio.BufferUnderflowException e) {
      throw damaged("ends inside its header");
    }
    if ((version & 0xff) != 2 || (version & 0x1a00) != 0) {
      throw damaged("has tiles, deep data or several parts");
    }
    if (channelNames.isEmpty() || width == 0 || compression == null) {
      throw damaged("lacks channels, window or compression");
    }
    return this;
  }

  /** Returns the picture with all its channels. */
  public static FrameImage read(Path file) throws IOException {
    return read(file, null);
  }

  /** Returns the picture with those of the wanted channels that it has. */
  public static FrameImage read(Path file, Set<String> wanted) throws IOException {
    String name = file.getFileName().toString();
    if (Files.size(file) > LARGEST_FILE) {
      throw new IOException(name + " is larger than the limit of " + LARGEST_FILE + " bytes");
    }
    return read(name, Files.readAllBytes(file), wanted);
  }

  /**
   * Returns the picture.
   *
   * @param wanted names of the channels to keep; null for all
   */
  public static FrameImage read(String name, byte[] bytes, Set<String> wanted) throws IOException {
    return new ExrReader(name, bytes).open().pixels(wanted);
  }

  /**
   * Returns the text attributes in the first 64 kB of the header, where all but mattes' names are.
   */
  public static Map<String, String> texts(Path file) throws IOException {
    return beginning(file).texts;
  }

  private static ExrReader beginning(Path file) throws IOException {
    try (var stream = Files.newInputStream(file)) {
      byte[] head = stream.readNBytes(TEXT_BYTES);
      ExrReader r = new ExrReader(file.getFileName().toString(), head);
      try {
        r.header();
      } catch (IOException | java.nio.BufferUnderflowException e) {
        if (head.length < TEXT_BYTES) {
          throw r.damaged("ends inside its header");
        }
      }
      return r;
    }
  }

  /** Returns what the first 64 kB of the header say; the frame is 0 if they say none. */
  public static ExrHeader header(Path file) throws IOException {
    ExrReader r = beginning(file);
    String frame = r.texts.getOrDefault(ExrHeader.FRAME, "0");
    return new ExrHeader(
        r.rate, frame.matches("-?\\d{1,9}") ? Integer.parseInt(frame) : 0, r.texts);
  }

  private IOException damaged(String what) {
    return new IOException(name + " is not an EXR file that can be read: it " + what);
  }

  private void header() throws IOException {
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
              "is compressed by method " + n + "; none, RLE, ZIPS, ZIP and PIZ are known");
        }
      }
      case "dataWindow" -> {
        int[] w = window(value);
        left = w[0];
        top = w[1];
        width = w[2];
        height = w[3];
      }
      case "displayWindow" -> display = window(value);
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
      v.getInt();
      if (v.getInt() != 1 || v.getInt() != 1 || type < 0 || type > 2) {
        throw damaged("has channel " + s + " of unknown type or with sampling other than 1");
      }
      channelNames.add(s.toString());
      types.add(type);
      precisions.add(type == 1 ? Precision.HALF : Precision.FLOAT);
    }
  }

  private FrameImage pixels(Set<String> wanted) throws IOException {
    long line = 0;
    int kept = 0;
    for (int c = 0; c < channelNames.size(); c++) {
      line += (long) width * (precisions.get(c) == Precision.HALF ? 2 : 4);
      kept += wanted == null || wanted.contains(channelNames.get(c)) ? 1 : 0;
    }
    int lines = compression.lines;
    long full = display == null ? 0 : (long) display[2] * display[3] * kept;
    if (Math.max(full, (long) width * height * kept) > MAX_VALUES
        || line * lines > Integer.MAX_VALUE / 2) {
      throw damaged("needs more memory than the limit");
    }
    int blocks = (height + lines - 1) / lines;
    if ((long) in.position() + 16L * blocks > in.limit()) {
      throw damaged("is too short for its " + height + " lines");
    }
    if (line * height > MOST_SHRUNK * in.limit()) {
      throw damaged("is too short for its " + width + " x " + height + " pixels");
    }
    float[][] planes = new float[channelNames.size()][];
    for (int c = 0; c < planes.length; c++) {
      planes[c] =
          wanted == null || wanted.contains(channelNames.get(c)) ? new float[width * height] : null;
    }
    in.position(in.position() + 8 * blocks);
    byte[] raw = new byte[(int) (line * Math.min(lines, height))];
    Piz piz = compression == ExrCompression.PIZ ? new Piz() : null;
    try (Packing packing = new Packing()) {
      for (int b = 0; b < blocks; b++) {
        block(planes, line, lines, raw, packing, piz);
      }
    } catch (java.nio.BufferUnderflowException e) {
      throw damaged("ends inside its pixels");
    }
    List<Channel> channels = new ArrayList<>();
    for (int c = 0; c < planes.length; c++) {
      if (planes[c] != null) {
        channels.add(new Channel(channelNames.get(c), precisions.get(c), planes[c]));
      }
    }
    FrameImage.Window window =
        display == null
            ? new FrameImage.Window(0, 0, width, height)
            : new FrameImage.Window(left - display[0], top - display[1], display[2], display[3]);
    return new FrameImage(width, height, window, channels, texts);
  }

  private void block(float[][] planes, long line, int lines, byte[] raw, Packing packing, Piz piz)
      throws IOException {
    long y0 = (long) in.getInt() - top;
    int size = in.getInt();
    if (y0 < 0 || y0 >= height || y0 % lines != 0 || size < 0 || size > in.remaining()) {
      throw damaged("has a block at line " + y0 + " of " + size + " bytes");
    }
    int y1 = (int) Math.min(height, y0 + lines);
    int length = (int) (line * (y1 - y0));
    int at = in.position();
    in.position(at + size);
    if (compression == ExrCompression.NONE || size == length) {
      if (size != length) {
        throw damaged("has a block of the wrong size");
      }
      System.arraycopy(in.array(), at, raw, 0, size);
    } else {
      boolean whole =
          piz != null
              ? piz.unpack(in.array(), at, size, width, (int) (y1 - y0), shorts(), raw)
              : packing.unpack(compression, in.array(), at, size, raw, length);
      if (!whole) {
        throw damaged("has a block that cannot be unpacked");
      }
    }
    ByteBuffer data = ByteBuffer.wrap(raw, 0, length).order(ByteOrder.LITTLE_ENDIAN);
    for (int y = (int) y0; y < y1; y++) {
      for (int c = 0; c < planes.length; c++) {
        boolean half = precisions.get(c) == Precision.HALF;
        float[] plane = planes[c];
        if (plane == null) {
          data.position(data.position() + width * (half ? 2 : 4));
          continue;
        }
        int o = y * width;
        int type = types.get(c);
        for (int x = 0; x < width; x++) {
          plane[o + x] =
              switch (type) {
                case 0 -> data.getInt() & 0xffffffffL;
                case 1 -> Half.toFloat(data.getShort());
                default -> data.getFloat();
              };
        }
      }
    }
  }

  /** 16-bit values of each channel's pixels. */
  private int[] shorts() {
    return types.stream().mapToInt(t -> t == 1 ? 1 : 2).toArray();
  }
}
