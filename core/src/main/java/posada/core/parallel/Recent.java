package posada.core.parallel;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.function.Function;
import java.util.function.ToLongFunction;

/**
 * Values that were made lately, by what they are made for; those that were not asked for longest go
 * when together they are too large. The last one stays, however large. Safe for several threads.
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

  /**
   * Returns the value of a key, made now if it is not there. Nobody waits for one that another
   * thread makes, since that one may pause for as long as this one is at work: both make it, and
   * the first is kept.
   */
  public V get(K key, Function<K, V> make) {
    synchronized (this) {
      V v = kept.get(key);
      if (v != null) {
        return v;
      }
    }
    V made = make.apply(key);
    synchronized (this) {
      V other = kept.get(key);
      if (other != null) {
        return other;
      }
      kept.put(key, made);
      long sum = bytes();
      while (sum > most && kept.size() > 1) {
        K oldest = kept.keySet().iterator().next();
        sum -= size.applyAsLong(kept.remove(oldest));
      }
      return made;
    }
  }

  /** Returns the sum of the sizes of what is kept. */
  public synchronized long bytes() {
    return kept.values().stream().mapToLong(size).sum();
  }
}
