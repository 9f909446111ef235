package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.shotOf;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The table of a scene of 20,000 objects: only what is in sight is in the page. */
class LargeTreeTest {
  private static final int OBJECTS = 20_000;
  @TempDir Path folder;

  @Test
  void staysFluent() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      shotOf(page, SmallScene.many(folder, OBJECTS));
      link(page, "Layers").click();
      assertThat(page.getByText("20 001").first()).isVisible();
      Locator rows = page.getByRole(AriaRole.ROWHEADER);
      assertThat(rows.first()).isVisible();
      assertTrue(rows.count() < 100, "rows in the page: " + rows.count());
      // While the live picture is made it has the processors to itself.
      assertThat(page.getByTestId("live-picture")).isVisible();
      page.waitForTimeout(8000);
      Scrolling.staysFluent(page, "[role=treegrid]", false);
      Locator find = page.getByLabel("Find an object or a pattern");
      find.fill("pebble-1999?");
      assertThat(rows).hasCount(10);
      page.getByLabel(Pattern.compile("All pebble-1999\\? left out in .*")).click();
      assertThat(page.locator("[data-cell^='pebble-19990'][data-role=L]")).isVisible();
      theViewOrbits(page);
    }
  }

  /**
   * Twenty thousand objects in the view of the scene: how many pictures a second while it turns.
   */
  private static void theViewOrbits(Page page) {
    link(page, "Scene").click();
    assertThat(page.getByTestId("space")).hasAttribute("data-whole", "true");
    page.waitForTimeout(2000);
    double still = Scrolling.pace(page);
    double turning = Scrolling.orbit(page);
    System.out.printf(
        "orbiting %d objects: %.1f pictures a second; %.1f at rest%n",
        OBJECTS, 1000 / turning, 1000 / still);
    // Without a graphics card the browser draws it by itself; that it goes on drawing is what
    // counts.
    assertTrue(Double.isFinite(turning), "no picture in a minute");
  }
}
