package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.demo.BuildScenes;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A lead decides what of the cable car's film is rendered apart. */
class LayersTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void whatIsRenderedApartIsDecidedOnAScreen() throws Exception {
    Path scene = Files.write(folder.resolve("larkspur-pass.glb"), BuildScenes.larkspurPass());
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, scene);
      assertThat(page.getByText("station-close").first()).isVisible();
      JsonNode revision = JSON.readTree(server.get("/api/revisions?production=1")).get(0);
      ObjectNode shot =
          (ObjectNode)
              JSON.readTree(
                  server.post(
                      "/api/shots",
                      "{\"revisionId\": %d, \"camera\": \"valley-wide\"}"
                          .formatted(revision.get("id").asLong())));
      server.put("/api/shots/" + shot.get("id").asLong(), shot.put("scale", 25).toString());
      link(page, "Layers").click();
      layersBySuggestion(page);
      cellsArePainted(page);
      aRegionFollows(page);
      allMergedIsTheWhole(page);
      objectsAreChosenInThePicture(page);
    }
  }

  private static Locator cell(Page page, String object, String layer) {
    return page.locator("[data-cell='%s %s']".formatted(object, layer));
  }

  private static void layersBySuggestion(Page page) {
    assertThat(cell(page, "valley", "main")).hasAttribute("data-role", "S");
    Accessible.check(page, "Layers");
    button(page, "Add layers").click();
    page.getByRole(
            AriaRole.MENUITEM,
            new Page.GetByRoleOptions().setName(Pattern.compile("Moving and still apart.*")))
        .click();
    assertThat(cell(page, "valley", "moving-shadow")).hasAttribute("data-role", "C");
    link(page, "Board").click();
    page.getByLabel("Switch layer still on").click();
    page.getByLabel("Switch layer moving-shadow on").click();
    page.getByLabel("Switch layer moving on").click();
    page.getByLabel("Switch layer main off").click();
    assertThat(page.getByText("3 of 4 on")).isVisible();
    link(page, "Layers").click();
  }

  /** Three cells by one stroke, one by key, all that fit a pattern; then as before. */
  private static void cellsArePainted(Page page) {
    page.getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("unseen")).click();
    Locator rows = page.locator("[data-cell$=' main']");
    rows.nth(0).hover();
    page.mouse().down();
    rows.nth(1).hover();
    rows.nth(2).hover();
    page.mouse().up();
    for (int i = 0; i < 3; i++) {
      assertThat(rows.nth(i)).hasAttribute("data-role", "U");
      assertThat(rows.nth(i)).hasAttribute("aria-label", Pattern.compile(".*: unseen, set here"));
    }
    page.getByLabel("Find an object or a pattern").fill("path-*");
    page.getByLabel(Pattern.compile("All path-\\* left out in .*")).click();
    assertThat(page.locator("[data-cell^='path-'][data-role=L]").first()).isVisible();
    page.getByLabel("Find an object or a pattern").fill("");
    page.getByLabel("Find an object or a pattern").blur();
    // One step each.
    page.locator("body").press("Control+z");
    page.locator("body").press("Control+z");
    for (int i = 0; i < 3; i++) {
      assertThat(rows.nth(i)).hasAttribute("data-role", "S");
    }
  }

  private static void aRegionFollows(Page page) {
    button(page, "moving").click();
    assertThat(button(page, "moving alone")).isVisible();
    page.getByLabel("Find an object or a pattern").fill("car-1");
    page.getByRole(AriaRole.ROWHEADER).first().click();
    choose(page, "Region: the whole picture", "follow car-1");
    assertThat(page.getByLabel("Region: follows car-1")).isVisible();
    assertThat(page.getByTestId("region")).containsText("of the picture");
    page.getByLabel("Find an object or a pattern").fill("");
  }

  private static void allMergedIsTheWhole(Page page) {
    button(page, "merged against whole").click();
    assertThat(page.getByTestId("layers-shown")).containsText("still + moving-shadow + moving");
    assertThat(page.getByText(Pattern.compile("apart, within the noise of")))
        .isVisible(new LocatorAssertions.IsVisibleOptions().setTimeout(120_000));
    Accessible.check(page, "merged against whole");
  }

  private static void objectsAreChosenInThePicture(Page page) {
    button(page, "main").click();
    page.waitForTimeout(3000);
    button(page, "main alone").click();
    Locator picture = page.getByLabel("Objects in the picture; press to choose one");
    picture.click();
    assertThat(page.getByLabel("Chosen objects")).isVisible();
  }
}
