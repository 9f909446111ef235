package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.deque.html.axecore.playwright.AxeBuilder;
import com.microsoft.playwright.Page;
import java.util.List;

/** What axe-core finds on a page, in both themes. */
final class Accessible {
  private static final List<String> RULES =
      List.of("wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice");

  private Accessible() {}

  /** Fails with what is found, by rule and element. */
  static void check(Page page, String where) {
    for (String theme : List.of("paper", "dim")) {
      page.evaluate("t => { document.documentElement.dataset.theme = t; }", theme);
      List<String> found =
          new AxeBuilder(page)
              .withTags(RULES).analyze().getViolations().stream()
                  .flatMap(
                      rule ->
                          rule.getNodes().stream()
                              .map(n -> rule.getId() + ": " + n.getHtml() + n.getFailureSummary()))
                  .toList();
      assertEquals(List.of(), found, where + ", theme " + theme);
    }
  }
}
