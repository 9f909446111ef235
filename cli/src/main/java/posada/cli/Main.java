package posada.cli;

import java.util.stream.Collectors;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.UnmatchedArgumentException;

/** The command {@code posada}. */
@Command(
    name = "posada",
    description = "Takes animated scenes to frames ready for compositing.",
    mixinStandardHelpOptions = true,
    version = "Posada 0.1.0",
    subcommands = {
      InfoCommand.class,
      PassesCommand.class,
      RenderCommand.class,
      DenoiseCommand.class,
      BakeCommand.class,
      PreviewCommand.class,
      BatchCommand.class,
      ReviewCommand.class,
      HandoverCommand.class
    })
public final class Main {
  /** Exit code of wrong usage or input; 1 is a failure while working, 130 a stop by Ctrl-C. */
  static final int USAGE = 2;

  static final int FAILED = 1;
  static final int STOPPED = 130;

  private Main() {}

  public static void main(String[] args) {
    java.util.logging.LogManager.getLogManager().reset();
    System.exit(run(args));
  }

  /** Runs a command line and returns its exit code. */
  static int run(String... args) {
    CommandLine line = new CommandLine(new Main());
    line.setParameterExceptionHandler(Main::wrongUsage);
    if (args.length == 0) {
      line.usage(System.err);
      return USAGE;
    }
    return line.execute(args);
  }

  private static int wrongUsage(ParameterException e, String[] args) {
    CommandLine at = e.getCommandLine();
    System.err.println("posada: " + plain(e.getMessage()));
    if (e instanceof UnmatchedArgumentException && !at.getSubcommands().isEmpty()) {
      System.err.println("commands: " + String.join(", ", at.getSubcommands().keySet()));
    }
    String options =
        at.getCommandSpec().options().stream()
            .map(o -> o.longestName())
            .sorted()
            .collect(Collectors.joining(", "));
    System.err.println("options of " + at.getCommandName() + ": " + options);
    return USAGE;
  }

  /** Says what kind of number is asked for in words that are not a programmer's. */
  private static String plain(String message) {
    return message
        .replaceAll("is not an? (int|long)$", "is not a whole number")
        .replaceAll("is not an? (double|float)$", "is not a number");
  }
}
