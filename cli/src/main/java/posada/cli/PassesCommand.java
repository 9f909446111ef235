package posada.cli;

import com.fasterxml.jackson.databind.ObjectMapper;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.trace.Pass;

/** {@code posada passes}: the catalogue of what a picture can be taken apart into. */
@Command(
    name = "passes",
    description = "Lists the passes that a picture can be taken apart into.",
    mixinStandardHelpOptions = true)
final class PassesCommand implements Callable<Integer> {
  @Option(names = "--json", description = "print a JSON list")
  private boolean json;

  @Option(names = "--table", description = "print the table of docs/passes.md")
  private boolean table;

  @Override
  public Integer call() throws Exception {
    if (json) {
      System.out.println(
          new ObjectMapper().writerWithDefaultPrettyPrinter().writeValueAsString(all()));
    } else if (table) {
      System.out.print(table());
    } else {
      for (Pass p : Pass.values()) {
        System.out.printf("%-22s %s%n", p.label(), p.holds());
      }
    }
    return 0;
  }

  private static List<Map<String, Object>> all() {
    List<Map<String, Object>> list = new ArrayList<>();
    for (Pass p : Pass.values()) {
      Map<String, Object> m = new LinkedHashMap<>();
      m.put("name", p.label());
      m.put("channels", p.channels());
      m.put("precision", precision(p));
      m.put("filtered", p.filtered());
      m.put("use", p.use().label());
      m.put("holds", p.holds());
      m.put("units", p.units());
      m.put("cost", p.cost());
      list.add(m);
    }
    return list;
  }

  private static String precision(Pass p) {
    return p.precision().name().toLowerCase(java.util.Locale.ROOT);
  }

  /** Returns the catalogue as a table in Markdown. */
  static String table() {
    StringBuilder s = new StringBuilder();
    s.append("| Pass | Holds | Units | Channels | Taken | In the comp | Costs |\n");
    s.append("|---|---|---|---|---|---|---|\n");
    for (Pass p : Pass.values()) {
      s.append(
          String.format(
              "| `%s` | %s | %s | `%s`, %s | %s | %s | %s |%n",
              p.label(),
              p.holds(),
              p.units(),
              String.join("` `", p.channels()),
              precision(p),
              p.filtered() ? "over the pixel's filter" : "unfiltered",
              p.use().label(),
              p.cost()));
    }
    return s.toString();
  }
}
