package posada.formats.exr;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.Primaries;
import posada.core.parallel.Workers;

/**
 * Reads single-part EXR files of scan lines or tiles (of several levels the largest), of every
 * {@link ExrCompression}, with half, float or whole-number channels. Everything is checked before
 * it is allocated: no more than {@link ExrCompression#mostShrunk} times the file, and no more than
 * a limit; damage is an {@link IOException} naming the file.
 */
public final class ExrReader {
  /** Most pixels times channels that are read at once. */
  private static final long MAX_VALUES = 400_000_000L;

  private static final int TEXT_BYTES = 1 << 16;

  /** Bytes that each block of lines and each tile takes beside its pixels. */
  private static final int LINES_BYTES = 16;

  private static final int TILE_BYTES = 28;

  /** Largest file, bytes. */
  private static final long LARGEST_FILE = 1L << 30;

  private final ExrLayout layout;
  private final ByteBuffer in;
  private final float[][] planes;
  private final Workers workers;
  private final List<Block> found = new ArrayList<>();

  /** A block of pixels and its bytes in the file. */
  private record Block(int x, int y, int w, int h, int at, int size) {}

  /** Parts of a picture that are unpacked at once, for each worker. */
  private static final int PARTS = 4;

  private ExrReader(ExrLayout layout, Set<String> wanted, Workers workers) throws IOException {
    this.layout = layout;
    this.workers = workers;
    in = layout.in;
    planes = new float[layout.channels.size()][];
    check(layout.channels.stream().filter(c -> wanted(c, wanted)).count());
    for (int c = 0; c < planes.length; c++) {
      if (wanted(layout.channels.get(c), wanted)) {
        planes[c] = new float[layout.width * layout.height];
      }
    }
  }

  private static boolean wanted(ExrChannel c, Set<String> wanted) {
    return wanted == null || wanted.contains(c.name());
  }

  /** Returns the picture with all its channels. */
  public static FrameImage read(Path file) throws IOException {
    return read(file, null);
  }

  /** Returns the picture with those of the wanted channels that it has. */
  public static FrameImage read(Path file, Set<String> wanted) throws IOException {
    return read(file, wanted, Workers.CALLER);
  }

  /**
   * Likewise, unpacked by workers.
   *
   * @param wanted names of the channels to keep; null for all
   */
  public static FrameImage read(Path file, Set<String> wanted, Workers workers) throws IOException {
    String name = file.getFileName().toString();
    if (Files.size(file) > LARGEST_FILE) {
      throw new IOException(name + " is larger than the limit of " + LARGEST_FILE + " bytes");
    }
    ExrLayout layout = new ExrLayout(name, Files.readAllBytes(file)).whole();
    return new ExrReader(layout, wanted, workers).pixels();
  }

  /**
   * Returns the picture.
   *
   * @param wanted names of the channels to keep; null for all
   */
  public static FrameImage read(String name, byte[] bytes, Set<String> wanted) throws IOException {
    return new ExrReader(new ExrLayout(name, bytes).whole(), wanted, Workers.CALLER).pixels();
  }

  /**
   * Returns the text attributes in the first 64 kB of the header, where all but mattes' names are.
   */
  public static Map<String, String> texts(Path file) throws IOException {
    return beginning(file).texts;
  }

  /** Returns the names of the channels, in the order of the file. */
  public static List<String> channels(Path file) throws IOException {
    return beginning(file).channels.stream().map(ExrChannel::name).toList();
  }

  /** Returns the width and height of the full frame, pixels. */
  public static int[] size(Path file) throws IOException {
    ExrLayout l = beginning(file);
    return l.display == null
        ? new int[] {l.width, l.height}
        : new int[] {l.display[2], l.display[3]};
  }

  /** Returns what a file's red, green and blue mean; those of BT.709 if it does not say. */
  public static Primaries primaries(Path file) throws IOException {
    return beginning(file).primaries;
  }

  private static ExrLayout beginning(Path file) throws IOException {
    try (var stream = Files.newInputStream(file)) {
      byte[] head = stream.readNBytes(TEXT_BYTES);
      ExrLayout l = new ExrLayout(file.getFileName().toString(), head);
      try {
        l.header();
      } catch (IOException | BufferUnderflowException e) {
        if (head.length < TEXT_BYTES) {
          throw l.damaged("ends inside its header");
        }
      }
      return l;
    }
  }

  /** Returns what the first 64 kB of the header say; the frame is 0 if they say none. */
  public static ExrHeader header(Path file) throws IOException {
    ExrLayout l = beginning(file);
    String frame = l.texts.getOrDefault(ExrHeader.FRAME, "0");
    return new ExrHeader(
        l.rate, frame.matches("-?\\d{1,9}") ? Integer.parseInt(frame) : 0, l.texts);
  }

  /** Returns the width and height of what is packed together. */
  private int[] block() {
    return layout.tiles == null
        ? new int[] {layout.width, layout.compression.lines}
        : new int[] {layout.tiles.width(), layout.tiles.height()};
  }

  /** Looks whether the file can hold what it says, before there is room for it. */
  private void check(long kept) throws IOException {
    long pixel = ExrChannel.bytes(layout.channels);
    long width = layout.width;
    long height = layout.height;
    int[] d = layout.display;
    long full = d == null ? 0 : (long) d[2] * d[3] * kept;
    int[] block = block();
    if (Math.max(full, width * height * kept) > MAX_VALUES
        || pixel * block[0] * block[1] > Integer.MAX_VALUE / 2) {
      throw layout.damaged("needs more memory than the limit");
    }
    long least = blocks() * (layout.tiles == null ? LINES_BYTES : TILE_BYTES);
    if (in.position() + least > in.limit()
        || pixel * width * height > layout.compression.mostShrunk() * in.limit()) {
      throw layout.damaged("is too short for its " + width + " x " + height + " pixels");
    }
  }

  /** Returns the number of blocks of the full picture. */
  private long blocks() {
    int lines = layout.compression.lines;
    return layout.tiles == null
        ? (layout.height + lines - 1) / lines
        : layout.tiles.full(layout.width, layout.height);
  }

  private FrameImage pixels() throws IOException {
    long blocks = blocks();
    long table =
        8 * (layout.tiles == null ? blocks : layout.tiles.all(layout.width, layout.height));
    if (table > in.remaining()) {
      throw layout.damaged("ends before its pixels");
    }
    in.position(in.position() + (int) table);
    try {
      while (blocks > 0) {
        blocks -= layout.tiles == null ? line() : tile();
      }
    } catch (BufferUnderflowException e) {
      throw layout.damaged("ends inside its pixels");
    }
    unpack();
    List<Channel> channels = new ArrayList<>();
    for (int c = 0; c < planes.length; c++) {
      if (planes[c] != null) {
        ExrChannel from = layout.channels.get(c);
        Precision p = from.type() == ExrChannel.Type.HALF ? Precision.HALF : Precision.FLOAT;
        channels.add(new Channel(from.name(), p, planes[c]));
      }
    }
    int[] d = layout.display;
    FrameImage.Window window =
        d == null
            ? new FrameImage.Window(0, 0, layout.width, layout.height)
            : new FrameImage.Window(layout.left - d[0], layout.top - d[1], d[2], d[3]);
    return new FrameImage(layout.width, layout.height, window, channels, layout.texts);
  }

  /** Reads a block of scan lines. */
  private int line() throws IOException {
    long y = (long) in.getInt() - layout.top;
    int lines = layout.compression.lines;
    if (y < 0 || y >= layout.height || y % lines != 0) {
      throw layout.damaged("has a block at line " + y);
    }
    block(0, (int) y, layout.width, (int) Math.min(lines, layout.height - y));
    return 1;
  }

  /** Reads a tile; returns 0 if it is one of a smaller level, which is skipped. */
  private int tile() throws IOException {
    long x = (long) in.getInt() * layout.tiles.width();
    long y = (long) in.getInt() * layout.tiles.height();
    if ((in.getInt() | in.getInt()) != 0) {
      int size = in.getInt();
      if (size < 0 || size > in.remaining()) {
        throw layout.damaged("has a tile of " + size + " bytes");
      }
      in.position(in.position() + size);
      return 0;
    }
    if (x < 0 || x >= layout.width || y < 0 || y >= layout.height) {
      throw layout.damaged("has a tile at " + x + ", " + y);
    }
    int w = (int) Math.min(layout.tiles.width(), layout.width - x);
    int h = (int) Math.min(layout.tiles.height(), layout.height - y);
    block((int) x, (int) y, w, h);
    return 1;
  }

  private void block(int x, int y, int w, int h) throws IOException {
    int size = in.getInt();
    int length = w * h * ExrChannel.bytes(layout.channels);
    if (size < 0 || size > in.remaining() || size > length) {
      throw layout.damaged("has a block at " + x + ", " + y + " of " + size + " bytes");
    }
    found.add(new Block(x, y, w, h, in.position(), size));
    in.position(in.position() + size);
  }

  /** Unpacks all blocks that were found, which lie beside each other. */
  private void unpack() throws IOException {
    int parts = Math.min(found.size(), PARTS * workers.count());
    try {
      workers.each(
          parts,
          part -> {
            int from = (int) ((long) part * found.size() / parts);
            int to = (int) ((part + 1L) * found.size() / parts);
            try (Unpacker unpacker = layout.compression.unpacker(layout.channels)) {
              byte[] raw = new byte[0];
              for (Block b : found.subList(from, to)) {
                raw = unpack(b, unpacker, raw);
              }
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
  }

  private byte[] unpack(Block b, Unpacker unpacker, byte[] room) throws IOException {
    int x = b.x, y = b.y, w = b.w, h = b.h;
    int length = w * h * ExrChannel.bytes(layout.channels);
    byte[] raw = room.length < length ? new byte[length] : room;
    if (b.size == length) {
      System.arraycopy(in.array(), b.at, raw, 0, b.size);
    } else {
      try {
        unpacker.unpack(in.array(), b.at, b.size, w, h, raw);
      } catch (DamagedBlock | IndexOutOfBoundsException e) {
        throw layout.damaged("has a block at " + x + ", " + y + " that cannot be unpacked");
      }
    }
    ByteBuffer data = ByteBuffer.wrap(raw, 0, length).order(ByteOrder.LITTLE_ENDIAN);
    for (int row = y; row < y + h; row++) {
      for (int c = 0; c < planes.length; c++) {
        ExrChannel.Type type = layout.channels.get(c).type();
        float[] plane = planes[c];
        if (plane == null) {
          data.position(data.position() + w * type.bytes);
          continue;
        }
        int o = row * layout.width + x;
        for (int i = 0; i < w; i++) {
          plane[o + i] =
              switch (type) {
                case WHOLE -> data.getInt() & 0xffffffffL;
                case HALF -> Half.toFloat(data.getShort());
                case FLOAT -> data.getFloat();
              };
        }
      }
    }
    return raw;
  }
}
