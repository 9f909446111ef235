package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.parallel.Workers;
import posada.core.plan.Estimate;
import posada.core.plan.Finding;
import posada.core.plan.Finding.Severity;
import posada.core.plan.FrameRange;
import posada.formats.batch.PlanStrand;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import tools.jackson.databind.json.JsonMapper;

/** {@code posada batch}: all strands of a plan, with a ledger of what is rendered. */
@Command(
    name = "batch",
    description = "Checks and renders the strands of a plan; what is fresh is left alone.",
    mixinStandardHelpOptions = true)
final class BatchCommand {
  private static final JsonMapper JSON = new JsonMapper();

  /** Milliseconds between two words about a frame in work. */
  private static final long TELL_EVERY = 200;

  /** What all of them are told. */
  static final class Options {
    @Parameters(paramLabel = "PLAN", description = "a JSON file (docs/plan.md)")
    Path plan;

    @Option(names = "--out", required = true, description = "folder for the files and the ledger")
    Path out;

    @Option(names = "--json", description = "print JSON")
    boolean json;

    @Option(
        names = "--only",
        description = "strands alone, as SHOT/LAYER; * stands for any letters",
        split = ",")
    List<String> only;

    @Option(names = "--frames", description = "frames alone: 1-48, 1-96x4 or 1,10,20-30")
    String frames;

    @Option(names = "--threads", description = "all processors if left out")
    Integer threads;

    private interface Work {
      int with(Batch batch) throws IOException, ImportException;
    }

    private int run(Work work) {
      return Interruptible.run(
          stop -> {
            int count = SceneOptions.threads(threads);
            ExecutorService pool = Executors.newFixedThreadPool(count);
            try (Batch batch = new Batch(plan, out, only, new Workers(pool, count), stop)) {
              return work.with(batch);
            } finally {
              pool.shutdownNow();
            }
          });
    }

    private FrameRange range() {
      return frames == null ? null : FrameRange.parse(frames);
    }
  }

  @Command(description = "Says what would spoil the batch; exit code 1 if that is an error.")
  int check(@Mixin Options o) {
    return o.run(batch -> check(o, batch));
  }

  private static int check(Options o, Batch batch) throws IOException, ImportException {
    List<Finding> all = batch.check();
    if (o.json) {
      System.out.println(JSON.writeValueAsString(all));
    } else {
      for (Finding f : all) {
        System.out.printf(
            "%s  %s%s%n",
            f.severity().name().toLowerCase(Locale.ROOT),
            f.shot() == null ? "" : f.shot() + "/" + f.layer() + ": ",
            f.text());
      }
      System.out.printf(
          "%d strands, %d errors, %d warnings%n",
          batch.strands().size(), count(all, Severity.ERROR), count(all, Severity.WARNING));
    }
    return count(all, Severity.ERROR) == 0 ? 0 : Main.FAILED;
  }

  private static long count(List<Finding> all, Severity s) {
    return all.stream().filter(f -> f.severity() == s).count();
  }

  @Command(description = "Tries some frames out and says what the batch takes.")
  int estimate(@Mixin Options o) {
    return o.run(
        batch -> {
          Map<String, Batch.Takes> all = batch.estimate();
          if (all == null) {
            return Main.STOPPED;
          }
          List<Estimate.Result> results = all.values().stream().map(Batch.Takes::result).toList();
          Map<String, Object> told = new LinkedHashMap<>();
          told.put("strands", all);
          told.put(
              "seconds", Estimate.sum(results.stream().map(Estimate.Result::seconds).toList()));
          told.put("bytes", Estimate.sum(results.stream().map(Estimate.Result::bytes).toList()));
          if (o.json) {
            System.out.println(JSON.writeValueAsString(told));
          } else {
            all.forEach((name, t) -> print(name, t.rendered(), t.result()));
            print(
                "all",
                all.values().stream().mapToInt(Batch.Takes::rendered).sum(),
                new Estimate.Result(
                    (Estimate.Figure) told.get("seconds"), (Estimate.Figure) told.get("bytes")));
          }
          return 0;
        });
  }

  private static void print(String what, int frames, Estimate.Result r) {
    System.out.printf(
        Locale.ROOT,
        "%s: %d frames to render, %s (%s to %s), %.1f MB%n",
        what,
        frames,
        Progress.time(r.seconds().value()),
        Progress.time(r.seconds().low()),
        Progress.time(r.seconds().high()),
        r.bytes().value() / 1e6);
  }

  @Command(description = "Renders what is stale or missing; exit code 0 if all is fresh then.")
  int run(@Mixin Options o) {
    return o.run(
        batch -> {
          FrameRange range = o.range();
          batch.lock();
          List<Finding> found = batch.check();
          for (Finding f : found) {
            if (f.severity() == Severity.ERROR) {
              throw new IllegalArgumentException(
                  f.shot() + "/" + f.layer() + ": " + f.text() + " Nothing was rendered.");
            }
          }
          Batch.Outcome outcome = batch.run(range, new Told());
          if (outcome == null) {
            System.err.println(
                "stopped; what is finished stays, and the rest is rendered next time");
            return Main.STOPPED;
          }
          System.out.println(JSON.writeValueAsString(outcome.json()));
          return outcome.complete() ? 0 : Main.FAILED;
        });
  }

  /** Says how a batch goes on. */
  private static final class Told implements Batch.Listener {
    private final boolean terminal = System.console() != null;
    private long last;

    @Override
    public void begins(PlanStrand s, int toRender, int fresh) {
      System.err.printf("%s: %d to render, %d fresh%n", s.name(), toRender, fresh);
    }

    @Override
    public void at(PlanStrand s, int frame, double fraction) {
      long now = System.currentTimeMillis();
      if (terminal && now - last > TELL_EVERY) {
        last = now;
        System.err.printf(
            Locale.ROOT, "\r%s frame %d  %3.0f %%   ", s.name(), frame, 100 * fraction);
      }
    }

    @Override
    public void written(PlanStrand s, int frame, FrameJob.Done done) {
      System.err.printf(
          Locale.ROOT,
          "%s%s frame %d  %.1f s%n",
          terminal ? "\r\033[K" : "",
          s.name(),
          frame,
          done.seconds());
    }

    @Override
    public void failed(PlanStrand s, int frame, String why, boolean setAside) {
      System.err.printf(
          "%s frame %d failed: %s%s%n",
          s.name(), frame, why, setAside ? "" : " It is tried again.");
    }
  }

  @Command(description = "Says how the frames of each strand stand, and what changed.")
  int status(@Mixin Options o) {
    return o.run(
        batch -> {
          Map<String, Map<String, Object>> all = batch.status(Batch::told);
          if (all == null) {
            return Main.STOPPED;
          }
          if (o.json) {
            System.out.println(JSON.writeValueAsString(all));
          } else {
            all.forEach(BatchCommand::print);
          }
          return 0;
        });
  }

  private static void print(String strand, Map<String, Object> told) {
    Map<String, Object> counts = new LinkedHashMap<>(told);
    Map<?, ?> changed = (Map<?, ?>) counts.remove("changed");
    StringBuilder s = new StringBuilder(strand + ":");
    counts.forEach((k, v) -> s.append(' ').append(v).append(' ').append(k).append(','));
    System.out.println(s.substring(0, s.length() - 1));
    changed.forEach((frames, why) -> System.out.println("  " + frames + ": " + why));
  }
}
