package posada.formats.exr;

import java.nio.BufferUnderflowException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.TreeMap;

/**
 * Unpacks DWAA and DWAB blocks: colours in squares of eight by eight as cosines of what the eye
 * sees, alpha by runs, all else deflated.
 *
 * <p>Source: "Technical Introduction to OpenEXR", section "Data compression", and the layout of
 * OpenEXR's reference files.
 */
final class Dwa implements Unpacker {
  /** What is done with a channel, in the order of the numbers in files. */
  private enum Way {
    DEFLATED,
    COSINES,
    RUNS
  }

  /**
   * Which channels go which way.
   *
   * @param suffix what stands behind a name's last dot
   * @param part 0, 1, 2 for red, green and blue; else -1
   */
  private record Rule(String suffix, boolean anyCase, ExrChannel.Type type, Way way, int part) {
    boolean fits(String name, ExrChannel.Type t) {
      return t == type && (anyCase ? suffix.equalsIgnoreCase(name) : suffix.equals(name));
    }
  }

  /** The fields of a block's beginning, whole numbers of eight bytes each. */
  private static final int FIELDS = 11;

  /** Blocks from this version on bring their rules along. */
  private static final int WITH_RULES = 2;

  private static final List<Rule> EARLY = earlyRules();

  private static List<Rule> earlyRules() {
    List<Rule> rules = new ArrayList<>();
    String[][] parts = {{"r", "red"}, {"g", "grn", "green"}, {"b", "blu", "blue"}};
    for (int k = 0; k < parts.length; k++) {
      for (String s : parts[k]) {
        rules.add(new Rule(s, true, ExrChannel.Type.HALF, Way.COSINES, k));
      }
    }
    for (String s : List.of("y", "by", "ry")) {
      rules.add(new Rule(s, true, ExrChannel.Type.HALF, Way.COSINES, -1));
    }
    for (ExrChannel.Type t : ExrChannel.Type.values()) {
      rules.add(new Rule("a", true, t, Way.RUNS, -1));
    }
    return rules;
  }

  private final List<ExrChannel> channels;
  private final Unpacking unpacking = new Unpacking();
  private final Huffman huffman = new Huffman();
  private final Cosines cosines = new Cosines();
  private final int[] first;
  private final int line;

  private char[] waves = new char[0];
  private int wave, waveEnd;
  private char[] means = new char[0];
  private int mean, meanEnd;

  Dwa(List<ExrChannel> channels) {
    this.channels = channels;
    first = new int[channels.size()];
    int at = 0;
    for (int c = 0; c < first.length; c++) {
      first[c] = at;
      at += channels.get(c).type().bytes;
    }
    line = at;
  }

  @Override
  public void close() {
    unpacking.close();
  }

  @Override
  public void unpack(byte[] bytes, int at, int size, int width, int height, byte[] out) {
    ByteBuffer in = ByteBuffer.wrap(bytes, at, size).order(ByteOrder.LITTLE_ENDIAN);
    try {
      unpack(in, width, height, out);
    } catch (BufferUnderflowException e) {
      throw new DamagedBlock();
    }
  }

  private void unpack(ByteBuffer in, int width, int height, byte[] out) {
    long[] fields = new long[FIELDS];
    for (int i = 0; i < FIELDS; i++) {
      fields[i] = in.getLong();
    }
    List<Rule> rules = fields[0] < WITH_RULES ? EARLY : rules(in);
    int pixels = width * height;
    int squares = (width + 7) / 8 * ((height + 7) / 8) * channels.size();
    int deflated = count(fields[1], (long) pixels * line);
    int runs = count(fields[7], (long) pixels * line);
    int packedRuns = count(fields[6], 2L * pixels * line + 2);
    int waveCount = count(fields[8], 64L * squares);
    int meanCount = count(fields[9], squares);
    byte[] rest = new byte[deflated];
    int packed = count(fields[2], in.remaining());
    if (packed > 0) {
      unpacking.inflate(in.array(), in.position(), packed, rest, deflated);
    }
    in.position(in.position() + packed);
    waves(in, count(fields[3], in.remaining()), waveCount, fields[10]);
    means(in, count(fields[4], in.remaining()), meanCount);
    packed = count(fields[5], in.remaining());
    byte[] flat = new byte[runs];
    if (packed > 0) {
      byte[] some = new byte[packedRuns];
      unpacking.inflate(in.array(), in.position(), packed, some, packedRuns);
      Unpacking.repeat(some, 0, packedRuns, flat, runs);
    }
    lay(rules, rest, flat, width, height, out);
  }

  private static int count(long n, long most) {
    DamagedBlock.unless(n >= 0 && n <= most && most <= Integer.MAX_VALUE);
    return (int) n;
  }

  private static List<Rule> rules(ByteBuffer in) {
    int end = in.position() + (in.getShort() & 0xffff);
    DamagedBlock.unless(end <= in.limit());
    List<Rule> rules = new ArrayList<>();
    while (in.position() < end) {
      int start = in.position();
      while (in.get() != 0) {
        DamagedBlock.unless(in.position() < end);
      }
      int length = in.position() - start - 1;
      String suffix = new String(in.array(), start, length, StandardCharsets.UTF_8);
      int how = in.get() & 255;
      int type = in.get();
      int way = how >> 2 & 3;
      DamagedBlock.unless(way < Way.values().length && type >= 0 && type <= 2 && how >> 4 <= 3);
      rules.add(
          new Rule(
              suffix,
              (how & 1) != 0,
              ExrChannel.Type.values()[type],
              Way.values()[way],
              (how >> 4) - 1));
    }
    return rules;
  }

  /** Reads all cosines' weights but the means. */
  private void waves(ByteBuffer in, int packed, int count, long how) {
    if (waves.length < count) {
      waves = new char[count];
    }
    int at = in.position();
    if (packed > 0 && how == 0) {
      huffman.unpack(in.array(), at, at + packed, waves, count);
    } else if (packed > 0) {
      byte[] some = new byte[2 * count];
      unpacking.inflate(in.array(), at, packed, some, some.length);
      chars(some, waves);
    }
    in.position(at + packed);
    wave = 0;
    waveEnd = packed > 0 ? count : 0;
  }

  private void means(ByteBuffer in, int packed, int count) {
    if (means.length < count) {
      means = new char[count];
    }
    if (packed > 0) {
      byte[] some = new byte[2 * count];
      unpacking.zip(in.array(), in.position(), packed, some, some.length);
      chars(some, means);
    }
    in.position(in.position() + packed);
    mean = 0;
    meanEnd = packed > 0 ? count : 0;
  }

  private static void chars(byte[] bytes, char[] to) {
    ByteBuffer.wrap(bytes)
        .order(ByteOrder.LITTLE_ENDIAN)
        .asCharBuffer()
        .get(to, 0, bytes.length / 2);
  }

  /** Puts all channels where they belong. */
  private void lay(List<Rule> rules, byte[] rest, byte[] flat, int width, int height, byte[] out) {
    // Red, green and blue of what has the same name up to the last dot, in the order of the names.
    TreeMap<String, int[]> colours = new TreeMap<>();
    Way[] ways = new Way[channels.size()];
    for (int c = 0; c < ways.length; c++) {
      String name = channels.get(c).name();
      int dot = name.lastIndexOf('.');
      String suffix = name.substring(dot + 1);
      ways[c] = Way.DEFLATED;
      for (Rule r : rules) {
        if (r.fits(suffix, channels.get(c).type())) {
          ways[c] = r.way;
          if (r.part >= 0 && r.way == Way.COSINES) {
            colours
                    .computeIfAbsent(
                        name.substring(0, Math.max(0, dot)), k -> new int[] {-1, -1, -1})[r.part] =
                c;
          }
        }
      }
    }
    boolean[] done = new boolean[ways.length];
    for (int[] of : colours.values()) {
      if (Arrays.stream(of).allMatch(c -> c >= 0)) {
        cosines(of, width, height, out);
        Arrays.stream(of).forEach(c -> done[c] = true);
      }
    }
    int fromRest = 0;
    int fromFlat = 0;
    for (int c = 0; c < ways.length; c++) {
      int bytes = channels.get(c).type().bytes;
      int length = width * height * bytes;
      switch (ways[c]) {
        case DEFLATED -> {
          DamagedBlock.unless(fromRest + length <= rest.length);
          for (int y = 0; y < height; y++) {
            int to = width * (y * line + first[c]);
            System.arraycopy(rest, fromRest + y * width * bytes, out, to, width * bytes);
          }
          fromRest += length;
        }
        case RUNS -> {
          DamagedBlock.unless(fromFlat + length <= flat.length);
          runs(c, flat, fromFlat, width, height, out);
          fromFlat += length;
        }
        case COSINES -> {
          if (!done[c]) {
            cosines(new int[] {c}, width, height, out);
          }
        }
      }
    }
  }

  /** All first bytes stand before all second ones. */
  private void runs(int c, byte[] flat, int from, int width, int height, byte[] out) {
    int bytes = channels.get(c).type().bytes;
    for (int y = 0; y < height; y++) {
      int to = width * (y * line + first[c]);
      for (int x = 0; x < width; x++) {
        for (int k = 0; k < bytes; k++) {
          out[to++] = flat[from + k * width * height + y * width + x];
        }
      }
    }
  }

  /** Unpacks one channel, or red, green and blue together. */
  private void cosines(int[] of, int width, int height, byte[] out) {
    int across = (width + 7) / 8;
    int squares = across * ((height + 7) / 8);
    DamagedBlock.unless(mean + squares * of.length <= meanEnd);
    float[][] values = new float[of.length][64];
    for (int s = 0; s < squares; s++) {
      for (int k = 0; k < of.length; k++) {
        wave = cosines.read(means[mean + k * squares + s], waves, wave, waveEnd, values[k]);
      }
      if (of.length == 3) {
        colours(values);
      }
      for (int k = 0; k < of.length; k++) {
        put(of[k], of.length == 3, values[k], s % across * 8, s / across * 8, width, height, out);
      }
    }
    mean += squares * of.length;
  }

  /** Brightness and two differences of colour to red, green and blue (ITU-R BT.709). */
  private static void colours(float[][] v) {
    for (int i = 0; i < 64; i++) {
      float y = v[0][i], b = v[1][i], r = v[2][i];
      v[0][i] = y + 1.5747f * r;
      v[1][i] = y - 0.1873f * b - 0.4682f * r;
      v[2][i] = y + 1.8556f * b;
    }
  }

  private void put(
      int c, boolean colour, float[] values, int x0, int y0, int width, int height, byte[] out) {
    ExrChannel channel = channels.get(c);
    boolean seen = colour || !channel.linear();
    for (int y = y0; y < Math.min(height, y0 + 8); y++) {
      int to = width * (y * line + first[c]) + x0 * channel.type().bytes;
      for (int x = x0; x < Math.min(width, x0 + 8); x++) {
        short bits = Half.fromFloat(values[8 * (y - y0) + x - x0]);
        bits = seen ? Cosines.light(bits) : bits;
        if (channel.type() == ExrChannel.Type.HALF) {
          out[to++] = (byte) bits;
          out[to++] = (byte) (bits >> 8);
        } else {
          int whole = Float.floatToRawIntBits(Half.toFloat(bits));
          for (int k = 0; k < 4; k++) {
            out[to++] = (byte) (whole >> 8 * k);
          }
        }
      }
    }
  }
}
