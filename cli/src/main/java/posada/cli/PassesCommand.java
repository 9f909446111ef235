package posada.cli;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.settings.PassEntry;
import tools.jackson.databind.json.JsonMapper;

/** {@code posada passes}: the catalogue of what a picture can be taken apart into. */
@Command(
    name = "passes",
    description = "Lists the passes that a picture can be taken apart into.",
    mixinStandardHelpOptions = true)
final class PassesCommand implements Callable<Integer> {
  private static final int MANY = 12;

  @Option(names = "--json", description = "print a JSON list")
  private boolean json;

  @Option(names = "--table", description = "print the table of docs/passes.md")
  private boolean table;

  @Override
  public Integer call() throws Exception {
    if (json) {
      System.out.println(
          new JsonMapper().writerWithDefaultPrettyPrinter().writeValueAsString(PassEntry.all()));
    } else if (table) {
      System.out.print(table());
    } else {
      for (PassEntry p : PassEntry.all()) {
        System.out.printf("%-22s %s%n", p.name(), p.holds());
      }
    }
    return 0;
  }

  /** Returns the catalogue as a table in Markdown. */
  static String table() {
    StringBuilder s = new StringBuilder();
    s.append("| Pass | Holds | Units | Channels | Taken | In the comp | Costs |\n");
    s.append("|---|---|---|---|---|---|---|\n");
    for (PassEntry p : PassEntry.all()) {
      s.append(
          String.format(
              "| `%s` | %s | %s | %s, %s | %s | %s | %s |%n",
              p.name(),
              p.holds(),
              p.units(),
              channels(p.channels()),
              p.precision(),
              p.filtered() ? "over the pixel's filter" : "unfiltered",
              p.use(),
              p.cost()));
    }
    return s.toString();
  }

  /** Channel by channel; where there are many, those of one name together. */
  private static String channels(List<String> names) {
    if (names.size() <= MANY) {
      return "`" + String.join("` `", names) + "`";
    }
    Map<String, String> parts = new LinkedHashMap<>();
    for (String n : names) {
      int dot = n.lastIndexOf('.');
      parts.merge(n.substring(0, dot), n.substring(dot + 1), (a, b) -> a + "|" + b);
    }
    return parts.entrySet().stream()
        .map(e -> "`" + e.getKey() + ".` `" + e.getValue().replace("|", "` `") + "`")
        .collect(Collectors.joining(", "));
  }
}
