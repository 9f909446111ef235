package posada.server.runs;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.function.ToIntFunction;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.springframework.stereotype.Service;
import posada.server.app.NotFoundException;

/** Says what has become of runs. */
@Service
class RunReports {
  /** Frames of a report. */
  private static final int SLOWEST = 5;

  private final RunRepository runs;
  private final TaskRepository tasks;

  RunReports(RunRepository runs, TaskRepository tasks) {
    this.runs = runs;
    this.tasks = tasks;
  }

  private List<RunStrand> strands(long run) {
    List<RunStrand> all = runs.of(run);
    if (all.isEmpty()) {
      throw new NotFoundException("There is no run " + run + ".");
    }
    return all;
  }

  /** Returns what has become of a run. */
  RunReport report(long run) {
    List<RunStrand> all = strands(run);
    Run r = runs.run(run).orElseThrow();
    boolean over = all.stream().noneMatch(s -> s.state().open());
    Instant end =
        all.stream()
            .map(RunStrand::endedAt)
            .filter(Objects::nonNull)
            .max(Comparator.naturalOrder())
            .orElse(null);
    return new RunReport(
        run,
        r.number(),
        over && end != null ? Duration.between(r.startedAt(), end).toMillis() / 1e3 : null,
        all.stream()
            .filter(s -> s.secondsPerFrame() != null)
            .mapToDouble(s -> s.secondsPerFrame() * s.rendered())
            .sum(),
        sum(all, RunStrand::total),
        sum(all, RunStrand::rendered),
        sum(all, RunStrand::saved),
        sum(all, RunStrand::copied),
        sum(all, RunStrand::failed),
        sum(all, RunStrand::skipped),
        tasks.retries(run),
        r.warnings(),
        tasks.slowest(run, SLOWEST));
  }

  private static int sum(List<RunStrand> all, ToIntFunction<RunStrand> part) {
    return all.stream().mapToInt(part).sum();
  }

  /** Writes what has become of each frame of a run as CSV (RFC 4180). */
  void report(long run, Appendable out) throws IOException {
    List<RunStrand> all = strands(run);
    try (CSVPrinter csv = new CSVPrinter(out, CSVFormat.RFC4180)) {
      csv.printRecord(
          "shot", "layer", "version", "frame", "state", "seconds", "attempts", "source", "failure");
      for (RunStrand s : all) {
        tasks.each(
            s.id(),
            l -> {
              try {
                csv.printRecord(
                    s.shot(),
                    s.layer(),
                    s.number(),
                    l.frame(),
                    l.state().name().toLowerCase(Locale.ROOT),
                    l.seconds(),
                    l.attempts(),
                    l.source(),
                    l.failure());
              } catch (IOException e) {
                throw new UncheckedIOException(e);
              }
            });
      }
    }
  }
}
