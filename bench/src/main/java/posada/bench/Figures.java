package posada.bench;

import java.lang.management.ManagementFactory;
import java.util.Arrays;
import java.util.Locale;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import posada.core.parallel.Workers;

/** How figures are taken and printed. */
final class Figures {
  private Figures() {}

  /** Prints a figure beside its target. */
  static void print(String what, double figure, double target, boolean least) {
    boolean fine = least ? figure >= target : figure <= target;
    System.out.printf(
        Locale.ROOT,
        "%-52s %8.3f  target %s %.3f  %s%n",
        what,
        figure,
        least ? "at least" : "at most",
        target,
        fine ? "met" : "MISSED");
  }

  /** Runs with a pool of this many threads. */
  interface Body {
    void run(Workers workers) throws Exception;
  }

  static void with(int threads, Body body) throws Exception {
    ExecutorService pool = Executors.newFixedThreadPool(threads);
    try {
      body.run(new Workers(pool, threads));
    } finally {
      pool.shutdown();
    }
  }

  /** Returns the CPU time of this thread that the task takes, seconds. */
  static double cpu(Runnable task) {
    long start = ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime();
    task.run();
    return (ManagementFactory.getThreadMXBean().getCurrentThreadCpuTime() - start) * 1e-9;
  }

  /** Returns the wall time that the task takes, seconds. */
  static double wall(Runnable task) {
    long start = System.nanoTime();
    task.run();
    return (System.nanoTime() - start) * 1e-9;
  }

  static double median(double[] values) {
    double[] sorted = values.clone();
    Arrays.sort(sorted);
    return sorted[sorted.length / 2];
  }
}
