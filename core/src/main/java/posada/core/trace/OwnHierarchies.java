package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import posada.core.geometry.InstanceBvh;

/**
 * A frame's hierarchy, once for each thread as long as there is room: cores that read the same
 * memory hold each other up, even though none of them writes there.
 */
final class OwnHierarchies {
  /** Bytes that the copies for a frame may take together, at most. */
  static final long ROOM = 64L << 20;

  private final long room;

  /** Bytes of one; 0 until a second thread asks. */
  private long each;

  private final List<InstanceBvh> all = new ArrayList<>();
  private int taken;

  /**
   * @param first for the first thread; the others get copies
   * @param room bytes for the copies
   */
  OwnHierarchies(InstanceBvh first, long room) {
    all.add(first);
    this.room = room;
  }

  /** Returns the bytes of the copies that were made. */
  synchronized long bytes() {
    return (all.size() - 1) * each;
  }

  /** Has threads take from the first on again. */
  synchronized void giveBack() {
    taken = 0;
  }

  /** Returns one that no other thread has taken; the first once there is no room for more. */
  synchronized InstanceBvh borrow() {
    InstanceBvh first = all.get(0);
    if (taken == all.size()) {
      each = each == 0 ? first.wholeBytes() : each;
      if (all.size() * each > room) {
        return first;
      }
      all.add(first.copy());
    }
    return all.get(taken++);
  }
}
