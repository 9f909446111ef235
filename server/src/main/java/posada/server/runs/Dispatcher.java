package posada.server.runs;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;

/**
 * Chooses what is done next and sends it to the queue, a few tasks ahead of the workers: however
 * much waits, the queue is short, and a change of order counts at once. Runs of equal priority
 * share the workers' time fairly.
 */
@Component
class Dispatcher {
  /** Messages that are on their way at once. */
  static final int AHEAD = 2;

  /** Tasks that are chosen at once while there is one run, and while there are several. */
  private static final int ALONE = 16, SHARED = 2;

  private final TaskRepository tasks;
  private final TaskQueue queue;
  private final Deque<Long> window = new ArrayDeque<>();
  private final Set<Long> sent = new HashSet<>();

  /** Seconds of work that open runs have had. */
  private final Map<Long, Double> served = new ConcurrentHashMap<>();

  private final ObjectProvider<OtherWork> others;

  Dispatcher(TaskRepository tasks, TaskQueue queue, ObjectProvider<OtherWork> others) {
    this.tasks = tasks;
    this.queue = queue;
    this.others = others;
  }

  /** Begins anew: nothing is on its way. */
  synchronized void clear() {
    queue.clear();
    sent.clear();
    window.clear();
  }

  /** Chooses anew after something began, ended or got another order. */
  synchronized void changed() {
    window.clear();
    send();
  }

  /** Notes that a message has arrived. */
  synchronized void arrived(long task) {
    sent.remove(task);
    send();
  }

  /**
   * Notes that a run has had time of a worker. Waits for nobody, since whoever says so may hold the
   * connection to the database that a choice is waiting for.
   */
  void worked(long run, double seconds) {
    served.merge(run, seconds, Double::sum);
  }

  private void send() {
    while (sent.size() < AHEAD) {
      if (window.isEmpty()) {
        window.addAll(next());
      }
      Long task = window.poll();
      if (task == null) {
        return;
      }
      if (sent.add(task)) {
        queue.send(task);
      }
    }
  }

  /**
   * Something of which tasks may wait.
   *
   * @param id of a run; of other work below 0
   */
  private record Waiting(long id, int priority, IntFunction<List<Long>> next) {}

  private List<Long> next() {
    List<Waiting> open = new ArrayList<>();
    for (TaskRepository.OpenRun r : tasks.openRuns()) {
      open.add(new Waiting(r.id(), r.priority(), most -> tasks.next(r, most, sent)));
    }
    others.forEach(
        o -> o.open().forEach(w -> open.add(new Waiting(-w.id(), w.priority(), other(o, w)))));
    served.keySet().retainAll(open.stream().map(Waiting::id).toList());
    double least = served.values().stream().mapToDouble(s -> s).min().orElse(0);
    open.forEach(r -> served.putIfAbsent(r.id(), least));
    List<Waiting> inOrder =
        open.stream()
            .sorted(
                Comparator.comparing((Waiting r) -> -r.priority())
                    .thenComparing(r -> served.get(r.id())))
            .toList();
    for (Waiting r : inOrder) {
      List<Long> next = r.next.apply(open.size() > 1 ? SHARED : ALONE);
      if (!next.isEmpty()) {
        return next;
      }
    }
    return List.of();
  }

  /** Tasks of other work have numbers below 0. */
  private IntFunction<List<Long>> other(OtherWork o, OtherWork.Open w) {
    return most -> {
      Set<Long> but = sent.stream().filter(t -> t < 0).map(t -> -t).collect(Collectors.toSet());
      return o.next(w.id(), most, but).stream().map(t -> -t).toList();
    };
  }
}
