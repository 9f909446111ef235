package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.shotOf;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.BoundingBox;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A lead climbs the ladder and takes the rung that is clean enough. */
class QualityTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void theLadderEndsInTheRecipe() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      shotOf(page, SmallScene.write(folder));
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
              Pattern.compile("strand [0-9a]"),
              new LocatorAssertions.ContainsTextOptions().setTimeout(120_000));
      Accessible.check(page, "the ladder");
      double before = seconds(server);
      button(page, "16 samples").click();
      button(page, "take 16 samples").click();
      assertThat(page.getByTestId("rung-16")).containsText("16 now");
      link(page, "Board").click();
      assertThat(page.getByLabel("Samples: 16")).isVisible();
      double after = seconds(server);
      assertTrue(after < before, after + " s on the Board in place of " + before);
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
    choose(page, "Adaptive: off", "on");
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

  /** What the batch takes, as the Board has it. */
  private static double seconds(ServerProcess server) throws Exception {
    return JSON.readTree(server.get("/api/estimates?production=1"))
        .get(0)
        .at("/seconds/value")
        .asDouble();
  }

  @Test
  void variantsAreComparedAndLightIsBaked() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      shotOf(page, SmallScene.room(folder));
      ObjectNode shot = (ObjectNode) JSON.readTree(server.get("/api/shots?production=1")).get(0);
      server.put(
          "/api/shots/1", shot.put("width", 640).put("height", 360).put("scale", 100).toString());
      manySamples(server, shot);
      link(page, "Quality").click();
      wipeBetweenTwo(page);
      theMoverGetsALayer(page);
      whereItGoesIsNamed(page);
      aPictureIsKept(page);
    }
  }

  /** So many that a bake is little beside them. */
  private static void manySamples(ServerProcess server, JsonNode shot) throws Exception {
    for (JsonNode r : JSON.readTree(server.get("/api/recipes?production=1"))) {
      if (r.get("id").equals(shot.get("recipeId"))) {
        ((ObjectNode) r.at("/document/sampling")).put("most", 512);
        server.put("/api/recipes/" + r.get("id").asLong(), r.toString());
      }
    }
  }

  private static void wipeBetweenTwo(Page page) {
    button(page, "Variants").click();
    button(page, "Compare 4").click();
    assertThat(page.getByTestId("variant-diffuse 2"))
        .containsText(Pattern.compile("light [−+].* %"));
    button(page, "Compare diffuse 2").click();
    Locator wipe =
        page.getByRole(
            AriaRole.SLIDER, new Page.GetByRoleOptions().setName("Wipe between now and diffuse 2"));
    assertThat(wipe).hasAttribute("aria-valuenow", "50");
    wipe.press("ArrowLeft");
    assertThat(wipe).hasAttribute("aria-valuenow", "48");
    assertThat(page.getByText(Pattern.compile("apart [0-9.]+ %"))).isVisible();
    button(page, "difference").click();
    button(page, "difference 16 times as bright").click();
    assertThat(page.getByTestId("difference")).isVisible();
    Accessible.check(page, "variants");
  }

  /** Refused, then put apart, then accepted, and faster to the same noise. */
  private static void theMoverGetsALayer(Page page) {
    button(page, "Baked light").click();
    Locator use = page.getByTestId("baked-use");
    assertThat(use).containsText("slider moves or changes in frames 2-12");
    button(page, "Put slider in a layer of its own").click();
    assertThat(use).containsText("It can be used here");
    button(page, "Try it on frame 1").click();
    Locator rows = page.getByTestId("baked-outcome").locator("tbody tr");
    assertThat(rows).hasCount(2, new LocatorAssertions.HasCountOptions().setTimeout(180_000));
    double without = number(rows.nth(0).locator("td").nth(2));
    double with = number(rows.nth(1).locator("td").nth(2));
    assertTrue(with < without, "noise of " + with + " % in place of " + without);
    double took = number(rows.nth(0).locator("td").nth(3));
    double same = number(rows.nth(1).locator("td").nth(3));
    assertTrue(same < took, same + " s to the same noise in place of " + took);
    assertThat(page.getByText(Pattern.compile("Saves about")))
        .isVisible(new LocatorAssertions.IsVisibleOptions().setTimeout(120_000));
    button(page, "Bake every 8th frame")
        .or(page.getByText(Pattern.compile("^Bake every")))
        .first()
        .click();
    assertThat(button(page, "Do without baked light")).isVisible();
    link(page, "Board").click();
    assertThat(page.getByText("3 of 3 on")).isVisible();
    link(page, "Quality").click();
  }

  private static double number(Locator cell) {
    return Double.parseDouble(cell.textContent().split(" ")[0]);
  }

  private static void whereItGoesIsNamed(Page page) {
    button(page, "Where it goes").click();
    assertThat(page.getByText(Pattern.compile("rays a pixel, ")).first()).isVisible();
    assertThat(
            page.getByText(Pattern.compile("of the time goes to (back|floor|ceiling|left|right)")))
        .isVisible();
    Accessible.check(page, "where it goes");
  }

  private static void aPictureIsKept(Page page) {
    button(page, "Snapshots").click();
    assertThat(page.getByTestId("live-picture")).isVisible();
    page.waitForCondition(
        () -> !"0".equals(page.getByTestId("live-picture").getAttribute("data-samples")));
    button(page, "Keep this picture").click();
    assertThat(
            page.getByRole(
                AriaRole.TEXTBOX, new Page.GetByRoleOptions().setName("Name of the snapshot")))
        .hasValue("frame 1");
    button(page, "back to its settings").click();
    assertThat(page.getByText("The settings of \"frame 1\" are back.")).isVisible();
    button(page, "Recipes").click();
    assertThat(page.getByRole(AriaRole.TABLE)).containsText("of this strand");
    Accessible.check(page, "recipes");
  }
}
