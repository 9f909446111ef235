package posada.bench;

import picocli.CommandLine;
import picocli.CommandLine.Command;

/** {@code bin/bench}: everything that is measured, each by its own subcommand. */
@Command(
    name = "bench",
    mixinStandardHelpOptions = true,
    description = "Measures Posada; docs/performance.md keeps the figures.",
    subcommands = {
      RaysCommand.class,
      FramesCommand.class,
      TreesCommand.class,
      FilesCommand.class,
      NoiseCommand.class,
      SequencesCommand.class,
      DefaultsCommand.class,
      PlanCommand.class,
      ReviewCommand.class,
      AssemblyCommand.class
    })
final class Main {
  private Main() {}

  public static void main(String[] args) {
    System.exit(
        new CommandLine(new Main())
            .setExecutionExceptionHandler(
                (e, command, given) -> {
                  if (!(e instanceof IllegalArgumentException)) {
                    throw e;
                  }
                  System.err.println("bench: " + e.getMessage());
                  return CommandLine.ExitCode.USAGE;
                })
            .execute(args));
  }
}
