package posada.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRange;
import posada.core.review.Fault;
import posada.core.review.FrameLook.Box;
import posada.formats.review.SequenceCheck;
import posada.formats.review.SequenceFolder;
import tools.jackson.databind.json.JsonMapper;

/** {@code posada review}: looks at finished sequences. */
@Command(
    name = "review",
    description = "Looks at finished sequences.",
    mixinStandardHelpOptions = true)
final class ReviewCommand {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  @Command(
      description =
          "Checks the sequences in a folder for what is missing, damaged or stands out; exit code 1"
              + " if anything does.",
      mixinStandardHelpOptions = true)
  int check(
      @Parameters(paramLabel = "FOLDER", description = "with numbered pictures, at any depth")
          Path folder,
      @Option(names = "--json", description = "print JSON") boolean json,
      @Option(names = "--threads", description = "all processors if left out") Integer threads) {
    return Interruptible.run(
        stop -> {
          int count = SceneOptions.threads(threads);
          ExecutorService pool = Executors.newFixedThreadPool(count);
          try {
            List<SequenceCheck> all = new ArrayList<>();
            for (SequenceFolder.Sequence s : SequenceFolder.find(folder)) {
              System.err.println("checking " + s.name());
              SequenceCheck c = SequenceCheck.of(s, null, new Workers(pool, count), stop, n -> {});
              if (c == null) {
                return Main.STOPPED;
              }
              all.add(c);
              if (!json) {
                print(c);
              }
            }
            if (json) {
              System.out.println(JSON.writeValueAsString(all));
            }
            return all.stream().allMatch(c -> c.faults().isEmpty()) ? 0 : 1;
          } finally {
            pool.shutdownNow();
          }
        });
  }

  private static void print(SequenceCheck c) {
    System.out.printf(
        Locale.ROOT,
        "%s: %d %s read, %s%n",
        c.name(),
        c.frames().size(),
        c.frames().size() == 1 ? "frame" : "frames",
        c.faults().isEmpty() ? "nothing to look at" : c.faults().size() + " to look at");
    for (Fault f : c.faults()) {
      Box b = f.box();
      System.out.printf(
          "  %s  %s  %s%s%n",
          new FrameRange(f.frames()),
          f.kind().name().toLowerCase(Locale.ROOT).replace('_', '-'),
          f.text(),
          b == null ? "" : " at " + b.x() + "," + b.y() + " " + b.width() + "x" + b.height());
    }
  }
}
