package posada.server.runs;

import java.util.List;
import java.util.Set;
import posada.core.parallel.Stop;

/** Work that is no strand's, and takes its turn in the same queue. */
public interface OtherWork {
  /**
   * Something of which tasks wait.
   *
   * @param priority what has a higher one goes first
   */
  record Open(long id, int priority) {}

  List<Open> open();

  /**
   * Returns tasks of something that can be done next.
   *
   * @param but tasks that are on their way already
   */
  List<Long> next(long of, int most, Set<Long> but);

  /**
   * Does a task, and keeps what became of it.
   *
   * @param again true if it was given before: it may have been left in work
   * @param stop asked when the server ends
   */
  void work(long task, boolean again, Stop stop);
}
