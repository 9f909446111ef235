package posada.core.scene;

import java.lang.reflect.Method;
import java.lang.reflect.RecordComponent;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.UnaryOperator;

/**
 * The one way in which contents become a fingerprint: SHA-256 (FIPS 180-4) over records, lists,
 * maps, sets, arrays, numbers and texts, all the way down, each with its kind and length. Equal
 * contents, equal text, in every process and on every machine. What a record's part is called does
 * not count, and a part called {@code name} is left out: names change no picture.
 */
public final class Digest {
  /** Hexadecimal digits of a fingerprint: half of a SHA-256, which is enough to tell apart. */
  private static final int DIGITS = 32;

  private static final int BLOCK = 1 << 13;

  private final MessageDigest sha;
  private final UnaryOperator<Object> instead;
  private final ByteBuffer buffer = ByteBuffer.allocate(BLOCK);

  private Digest(UnaryOperator<Object> instead) {
    this.instead = instead;
    try {
      sha = MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }

  /** Returns the fingerprint of several things in order: 32 hexadecimal digits. */
  public static String of(Object... parts) {
    return with(o -> o, parts);
  }

  /**
   * Returns the fingerprint of several things in order.
   *
   * @param instead returns what counts in place of an object anywhere in them; itself to keep it
   */
  public static String with(UnaryOperator<Object> instead, Object... parts) {
    Digest d = new Digest(instead);
    for (Object p : parts) {
      d.add(p);
    }
    d.flush();
    return HexFormat.of().formatHex(d.sha.digest()).substring(0, DIGITS);
  }

  /** Returns the first 64 bits of the fingerprint of several things in order. */
  public static long number(Object... parts) {
    return Long.parseUnsignedLong(of(parts).substring(0, Long.BYTES * 2), 16);
  }

  private void flush() {
    sha.update(buffer.array(), 0, buffer.position());
    buffer.clear();
  }

  private ByteBuffer room(int bytes) {
    if (buffer.remaining() < bytes) {
      flush();
    }
    return buffer;
  }

  private void begin(char kind, int length) {
    room(5).put((byte) kind).putInt(length);
  }

  private void add(Object given) {
    Object o = given == null ? null : instead.apply(given);
    if (o == null) {
      begin('0', 0);
    } else if (o instanceof Boolean b) {
      begin('b', b ? 1 : 0);
    } else if (o instanceof Integer || o instanceof Long) {
      begin('i', 8);
      room(8).putLong(((Number) o).longValue());
    } else if (o instanceof Double || o instanceof Float) {
      begin('d', 8);
      room(8).putDouble(((Number) o).doubleValue());
    } else if (o instanceof CharSequence || o instanceof Enum<?>) {
      text(o instanceof Enum<?> e ? e.name() : o.toString());
    } else if (o instanceof Record r) {
      record(r);
    } else if (o instanceof Map<?, ?> m) {
      map(m);
    } else if (o instanceof Collection<?> c) {
      list(c instanceof Set<?> s && shuffled(s) ? sorted(s) : c);
    } else if (o.getClass().isArray()) {
      array(o);
    } else {
      throw new IllegalArgumentException("no content is known of " + o.getClass());
    }
  }

  private void text(String s) {
    byte[] bytes = s.getBytes(StandardCharsets.UTF_8);
    begin('s', bytes.length);
    flush();
    sha.update(bytes);
  }

  /** The JDK's own immutable sets and maps have another order in each process. */
  private static boolean shuffled(Object o) {
    return o instanceof HashMap && !(o instanceof LinkedHashMap)
        || o instanceof HashSet && !(o instanceof LinkedHashSet)
        || o.getClass().getName().startsWith("java.util.ImmutableCollections");
  }

  private static List<?> sorted(Collection<?> c) {
    return c.stream().map(String::valueOf).sorted().toList();
  }

  private void list(Collection<?> c) {
    begin('l', c.size());
    c.forEach(this::add);
  }

  private void map(Map<?, ?> m) {
    begin('m', m.size());
    // Those that keep no order of their own differ from process to process.
    boolean ordered = !shuffled(m);
    List<?> keys =
        ordered
            ? List.copyOf(m.keySet())
            : m.keySet().stream().sorted(java.util.Comparator.comparing(String::valueOf)).toList();
    for (Object k : keys) {
      add(k);
      add(m.get(k));
    }
  }

  /**
   * A kind of record.
   *
   * @param size number of its parts
   * @param parts those that count
   */
  private record Kind(int size, List<Method> parts) {}

  private static final ClassValue<Kind> KINDS =
      new ClassValue<>() {
        @Override
        protected Kind computeValue(Class<?> kind) {
          List<Method> parts = new ArrayList<>();
          for (RecordComponent c : kind.getRecordComponents()) {
            if (!c.getName().equals("name")) {
              c.getAccessor().setAccessible(true);
              parts.add(c.getAccessor());
            }
          }
          return new Kind(kind.getRecordComponents().length, parts);
        }
      };

  private void record(Record r) {
    Kind kind = KINDS.get(r.getClass());
    begin('r', kind.size);
    try {
      for (Method part : kind.parts) {
        add(part.invoke(r));
      }
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException("records can be read", e);
    }
  }

  private void array(Object o) {
    if (o instanceof float[] a) {
      begin('F', a.length);
      for (float v : a) {
        room(4).putFloat(v);
      }
    } else if (o instanceof double[] a) {
      begin('D', a.length);
      for (double v : a) {
        room(8).putDouble(v);
      }
    } else if (o instanceof int[] a) {
      begin('I', a.length);
      for (int v : a) {
        room(4).putInt(v);
      }
    } else if (o instanceof Object[] a) {
      begin('l', a.length);
      for (Object v : a) {
        add(v);
      }
    } else {
      throw new IllegalArgumentException("no content is known of " + o.getClass());
    }
  }
}
