package posada.core.parallel;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import java.util.function.ToLongFunction;

/**
 * Values that were made lately, by what they are made for; those that were not asked for longest go
 * when together they are too large. The last one stays, however large. Safe for several threads, of
 * which one at a time makes a value.
 */
public final class Recent<K, V> {
  private final long most;
  private final ToLongFunction<V> size;
  private final Map<K, V> kept = new LinkedHashMap<>(8, 0.75f, true);

  /**
   * @param most sum of sizes that is kept
   * @param size of a value, 0 or more
   */
  public Recent(long most, ToLongFunction<V> size) {
    this.most = most;
    this.size = size;
  }

  /** Returns the value of a key, made now if it is not there. */
  public synchronized V get(K key, Function<K, V> make) {
    V v = kept.get(key);
    if (v == null) {
      v = make.apply(key);
      kept.put(key, v);
      long sum = bytes();
      while (sum > most && kept.size() > 1) {
        K oldest = kept.keySet().iterator().next();
        sum -= size.applyAsLong(kept.remove(oldest));
      }
    }
    return v;
  }

  /** Returns the sum of the sizes of what is kept. */
  public synchronized long bytes() {
    return kept.values().stream().mapToLong(size).sum();
  }
}
