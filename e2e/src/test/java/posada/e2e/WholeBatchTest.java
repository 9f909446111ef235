package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.startAnyway;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A batch that is rendered, changed, and brought up to date by rendering what changed. */
class WholeBatchTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  private static LocatorAssertions.ContainsTextOptions patiently() {
    return new LocatorAssertions.ContainsTextOptions().setTimeout(180_000);
  }

  @Test
  void aBatchIsPlannedProvedRenderedAndBroughtUpToDate() throws Exception {
    Path home = folder.resolve("home");
    int port;
    try (ServerProcess server = new ServerProcess(home);
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      port = server.port;
      importScene(page, SmallScene.write(folder, "0.8,0.1,0.1", true));
      assertThat(page.getByText("1 – 12").first()).isVisible();
      link(page, "Board").click();
      makeShotsAndLayers(page, server);
      errorsAreMetAndMended(page, server);
      prove(page);
      startAnyway(page, "Start 4 strands");
      page.waitForURL("**/run/**");
      button(page, "Pause all").click();
      assertThat(button(page, "Resume all")).isVisible();
      server.kill();
      try (ServerProcess again = new ServerProcess(home, port)) {
        // The page finds the server by itself.
        button(page, "Resume all").click();
        assertThat(page.getByLabel("Report")).containsText("were fresh", patiently());
        bringUpToDate(page);
        again.stop();
      }
    }
  }

  /** Shots of both cameras, and layers main and clay; small, so that it is soon done. */
  private static void makeShotsAndLayers(Page page, ServerProcess server) throws Exception {
    button(page, "Make shots of 2 cameras of slider that have none").click();
    assertThat(page.getByText("2 of 2 on")).isVisible();
    button(page, "Add layers").click();
    page.getByRole(AriaRole.MENUITEM, new Page.GetByRoleOptions().setName("Clay for approval"))
        .click();
    page.getByLabel("Switch layer clay on").click();
    assertThat(button(page, "Start 4 strands")).isVisible();
    for (JsonNode shot : JSON.readTree(server.get("/api/shots?production=1"))) {
      ((ObjectNode) shot).put("scale", 25).put("frames", "1-6");
      server.put("/api/shots/" + shot.get("id").asLong(), shot.toString());
    }
    assertThat(page.getByText("6 missing").first()).isVisible();
    Accessible.check(page, "Board");
  }

  private static ObjectNode named(ServerProcess server, String list, String name) throws Exception {
    for (JsonNode d : JSON.readTree(server.get("/api/" + list + "?production=1"))) {
      if (d.get("name").asString().equals(name)) {
        return (ObjectNode) d;
      }
    }
    throw new IllegalStateException("there is no " + name);
  }

  /** Names without frames, a name for two files, and baked light where something moves. */
  private static void errorsAreMetAndMended(Page page, ServerProcess server) throws Exception {
    ObjectNode medium = named(server, "recipes", "medium");
    ((ObjectNode) medium.at("/document/irradiance")).put("use", true);
    ((ObjectNode) medium.at("/document/sampling")).put("most", 8);
    server.put("/api/recipes/" + medium.get("id").asLong(), medium.toString());
    page.getByText("How files are written").click();
    Locator pattern = page.getByLabel("Name pattern");
    pattern.fill("{shot}_{layer}");
    assertThat(page.getByText("gives 6 frames one name")).isVisible();
    pattern.press("Enter");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Before it starts")).click();
    Locator found = page.getByLabel("Findings");
    assertThat(found).containsText("Baked light would be wrong: object slider", patiently());
    assertThat(found).containsText("gives 6 frames one name");
    assertThat(button(page, "Start 4 strands")).isDisabled();
    Accessible.check(page, "the checks");
    found.getByText("Render without baked light").first().click();
    assertThat(found).not().containsText("Baked light");
    found.getByText("Name them {shot}_{layer}.{frame:4}").first().click();
    assertThat(found).not().containsText("one name");

    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Strand")).click();
    choose(page, "EXR files: one for all passes", "one for each");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Before it starts")).click();
    assertThat(found).containsText("two files would share the name");
    assertThat(button(page, "Start 4 strands")).isDisabled();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Strand")).click();
    choose(page, "EXR files: one for each pass", "one for all");
    assertThat(button(page, "Start 4 strands")).isEnabled();
  }

  private static void prove(Page page) {
    button(page, "Proofs 0 of 4").click();
    button(page, "Render proofs of 4 strands").click();
    assertThat(page.getByAltText("Frame 1 of front, layer main")).isVisible();
    assertThat(page.getByLabel("Proofs").getByText("to be judged"))
        .hasCount(4, new LocatorAssertions.HasCountOptions().setTimeout(180_000));
    Accessible.check(page, "Proofs");
    for (int i = 4; i > 0; i--) {
      button(page, "Approve all").first().click();
      assertThat(button(page, "Approve all")).hasCount(i - 1);
    }
    button(page, "Proofs 4 of 4").isVisible();
    button(page, "What if").click();
    assertThat(page.getByText("Half size")).isVisible();
    Accessible.check(page, "What if");
    button(page, "Table").click();
  }

  /** One material is another by a new revision: those frames are stale, and no others. */
  private void bringUpToDate(Page page) throws Exception {
    Path other = Files.createDirectories(folder.resolve("other"));
    link(page, "Scene").click();
    Path green = SmallScene.write(other, "0.1,0.8,0.1", true);
    page.waitForFileChooser(() -> button(page, "Import").click()).setFiles(green);
    button(page, "Take r2").click();
    assertThat(page.getByText("Everything of slider uses r2 now.")).isVisible();
    link(page, "Board").click();
    // Under clay the material is not seen.
    assertThat(page.getByRole(AriaRole.GRIDCELL).getByText("6 stale")).hasCount(2);
    page.getByLabel("front, layer main, on").click();
    assertThat(page.getByLabel("Why frames are not fresh")).containsText("1-6 material of slider");
    startAnyway(page, "Start 4 strands");
    page.waitForURL("**/run/**");
    assertThat(page.getByLabel("Report")).containsText("12 rendered", patiently());
    assertThat(page.getByLabel("Report")).containsText("12 were fresh");
  }

  @Test
  void onlyWhatChangedIsRenderedAgain() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, SmallScene.write(folder));
      assertThat(page.getByText("1 – 12").first()).isVisible();
      button(page, "Make a shot").click();
      page.getByLabel("Frames", new Page.GetByLabelOptions().setExact(true)).fill("1-4");
      page.getByLabel("Frames", new Page.GetByLabelOptions().setExact(true)).press("Enter");
      link(page, "Board").click();
      choose(page, "Samples: 64", "4");
      assertThat(page.getByText("4 missing").first()).isVisible();
      choose(page, "Order of the frames: in order", "coarse");
      startAnyway(page, "Start 1 strand");
      Locator ready = page.getByTestId("ready");
      assertThat(ready).containsText("done", patiently());
      assertThat(page.getByLabel("Report")).containsText("4 rendered");
      Accessible.check(page, "Run");

      // The same again renders nothing.
      link(page, "Board").click();
      assertThat(page.getByText("4 fresh").first()).isVisible();
      startAnyway(page, "Start 1 strand");
      assertThat(ready).containsText("all fresh", patiently());

      // A new revision of the scene in which one material is another.
      Path other = Files.createDirectories(folder.resolve("other"));
      link(page, "Scene").click();
      Path green = SmallScene.write(other, "0.1,0.8,0.1");
      page.waitForFileChooser(() -> button(page, "Import").click()).setFiles(green);
      button(page, "Take r2").click();
      assertThat(page.getByText("Everything of slider uses r2 now.")).isVisible();
      link(page, "Board").click();
      assertThat(page.getByText("4 stale").first()).isVisible();
      Locator why = page.getByLabel("Why frames are not fresh");
      assertThat(why).containsText("1-4 material of slider");
      button(page, "keep as they are").click();
      assertThat(page.getByText("4 fresh").first()).isVisible();
      button(page, "kept; render again").click();
      assertThat(page.getByText("4 stale").first()).isVisible();
      startAnyway(page, "Start 1 strand");
      assertThat(page.getByTestId("folder")).containsText("v002", patiently());
      assertThat(ready).containsText("done", patiently());
      assertThat(page.getByLabel("Report")).containsText("4 rendered");
    }
  }
}
