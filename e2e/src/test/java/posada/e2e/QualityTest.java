package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.BoundingBox;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A lead climbs the ladder and takes the rung that is clean enough. */
class QualityTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void theLadderEndsInTheRecipe() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, SmallScene.write(folder));
      button(page, "Make a shot").click();
      page.waitForURL("**/shots/front?frame=1");
      link(page, "Quality").click();
      assertThat(page.getByTestId("live-picture")).isVisible();
      Accessible.check(page, "Quality");
      Locator part = page.getByTestId("part");
      BoundingBox box = part.boundingBox();
      page.mouse().move(box.x + 0.3 * box.width, box.y + 0.3 * box.height);
      page.mouse().down();
      page.mouse().move(box.x + 0.7 * box.width, box.y + 0.7 * box.height);
      page.mouse().up();
      assertThat(page.getByTestId("rung-4")).containsText(Pattern.compile("noise .* %"));
      assertThat(page.getByTestId("rung-16"))
          .containsText(
              Pattern.compile("strand .*"),
              new LocatorAssertions.ContainsTextOptions().setTimeout(120_000));
      Accessible.check(page, "the ladder");
      button(page, "16 samples").click();
      button(page, "take 16 samples").click();
      assertThat(page.getByTestId("rung-16")).containsText("16 now");
      link(page, "Board").click();
      assertThat(page.getByLabel("Samples: 16")).isVisible();
      page.keyboard().press("Control+z");
      assertThat(page.getByLabel("Samples: 64")).isVisible();
      allOfTheRecipeIsThere(page, server);
    }
  }

  private static void allOfTheRecipeIsThere(Page page, ServerProcess server) throws Exception {
    link(page, "Quality").click();
    Locator clamp = page.getByLabel("Clamp: luminance; 0 for none");
    clamp.fill("-3");
    clamp.press("Enter");
    assertThat(page.getByText("indirect clamp must be 0")).isVisible();
    clamp.press("Escape");
    choose(page, "Adaptive sampling: off", "on");
    Locator clean = page.getByLabel("Clean: noise, 0.03 is 3 %");
    clean.fill("0.05");
    clean.press("Enter");
    button(page, "A copy for this strand alone").click();
    assertThat(page.getByLabel("Name of the recipe")).hasValue("medium-2");
    JsonNode recipes = JSON.readTree(server.get("/api/recipes?production=1"));
    JsonNode copy = recipes.get(recipes.size() - 1).at("/document/sampling");
    assertEquals(0.05, copy.get("noiseThreshold").asDouble());
    assertTrue(copy.get("adaptive").asBoolean());
  }
}
