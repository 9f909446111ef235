package posada.formats.space;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import posada.formats.settings.Documents;

/**
 * Arrays of numbers behind a head in JSON: four bytes with the length of the head, the head, filled
 * up with blanks to four bytes, and the arrays, each filled up likewise, in little-endian order.
 * The head's {@code blocks} says of each array its kind, where it begins behind the head, in bytes,
 * and how many numbers it has.
 */
public final class Blocks {
  /** One array's place. */
  private record Block(String kind, int at, int count) {}

  private final Map<String, Object> head = new LinkedHashMap<>();
  private final Map<String, Block> blocks = new LinkedHashMap<>();
  private final List<Object> arrays = new ArrayList<>();
  private int bytes;

  /** Says something in the head. */
  public Blocks say(String name, Object value) {
    head.put(name, value);
    return this;
  }

  public Blocks put(String name, float[] v) {
    return put(name, "f32", v, v.length, 4);
  }

  public Blocks put(String name, int[] v) {
    return put(name, "i32", v, v.length, 4);
  }

  public Blocks put(String name, byte[] v) {
    return put(name, "u8", v, v.length, 1);
  }

  private Blocks put(String name, String kind, Object array, int count, int each) {
    blocks.put(name, new Block(kind, bytes, count));
    arrays.add(array);
    bytes = Math.addExact(bytes, filled(Math.multiplyExact(count, each)));
    return this;
  }

  private static int filled(int n) {
    return n + 3 & ~3;
  }

  /** Returns all of it. */
  public byte[] bytes() {
    Map<String, Object> all = new LinkedHashMap<>(head);
    all.put("blocks", blocks);
    byte[] json = Documents.write(all).getBytes(StandardCharsets.UTF_8);
    ByteBuffer out =
        ByteBuffer.allocate(4 + filled(json.length) + bytes).order(ByteOrder.LITTLE_ENDIAN);
    out.putInt(filled(json.length)).put(json);
    while (out.position() % 4 != 0) {
      out.put((byte) ' ');
    }
    for (Object a : arrays) {
      if (a instanceof float[] f) {
        out.asFloatBuffer().put(f);
        out.position(out.position() + 4 * f.length);
      } else if (a instanceof int[] i) {
        out.asIntBuffer().put(i);
        out.position(out.position() + 4 * i.length);
      } else {
        out.put((byte[]) a);
        out.position(filled(out.position()));
      }
    }
    return out.array();
  }
}
