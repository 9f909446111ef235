package posada.cli;

import java.nio.file.Path;
import java.util.Locale;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import posada.formats.handover.HandoverCheck;

/** {@code posada handover}: looks at what was handed over. */
@Command(
    name = "handover",
    description = "Looks at what was handed over.",
    mixinStandardHelpOptions = true)
final class HandoverCommand {
  @Command(
      description =
          "Reads a handover back and says whether everything is there and whole; exit code 1 if"
              + " not.",
      mixinStandardHelpOptions = true)
  int check(
      @Parameters(paramLabel = "FOLDER", description = "the one with manifest.json") Path folder) {
    return Interruptible.run(
        stop -> {
          HandoverCheck c = HandoverCheck.of(folder, stop);
          if (c == null) {
            return Main.STOPPED;
          }
          c.problems().forEach(System.out::println);
          System.out.printf(
              Locale.ROOT,
              c.problems().isEmpty()
                  ? "Everything is there and whole: %d files, %.1f MB.%n"
                  : "%d files, %.1f MB are whole; %d things are wrong.%n",
              c.files(),
              c.bytes() / 1e6,
              c.problems().size());
          return c.problems().isEmpty() ? 0 : Main.FAILED;
        });
  }
}
