package posada.core.scene;

import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.Collection;
import java.util.Map;

/**
 * A number for what is in records, lists and arrays, all the way down: equal contents, equal
 * numbers, in every run. It tells states of a scene apart; it is no defence against malice.
 */
public final class ContentHash {
  private static final long FACTOR = 0x9e3779b97f4a7c15L;

  private ContentHash() {}

  /** Returns the hash of several things in order. */
  public static long of(Object... parts) {
    long h = 1;
    for (Object o : parts) {
      h = mix(h, one(o));
    }
    return h;
  }

  private static long mix(long h, long v) {
    h = (h ^ v) * FACTOR;
    return h ^ h >>> 29;
  }

  private static long one(Object o) {
    if (o == null) {
      return 0;
    }
    if (o instanceof float[] a) {
      return Arrays.hashCode(a) * 31L + a.length;
    }
    if (o instanceof double[] a) {
      return Arrays.hashCode(a) * 31L + a.length;
    }
    if (o instanceof int[] a) {
      return Arrays.hashCode(a) * 31L + a.length;
    }
    if (o instanceof Object[] a) {
      return of(a);
    }
    if (o instanceof Collection<?> c) {
      return of(c.toArray());
    }
    if (o instanceof Map<?, ?> m) {
      return of(m.keySet().toArray()) * 31 + of(m.values().toArray());
    }
    if (o instanceof Enum<?> e) {
      return e.name().hashCode();
    }
    return o instanceof Record r ? record(r) : o.hashCode();
  }

  private static long record(Record r) {
    long h = r.getClass().getSimpleName().hashCode();
    try {
      for (RecordComponent c : r.getClass().getRecordComponents()) {
        c.getAccessor().setAccessible(true);
        h = mix(h, one(c.getAccessor().invoke(r)));
      }
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException("records can be read", e);
    }
    return h;
  }
}
