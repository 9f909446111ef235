package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A Board of 100 shots and 12 layers of 100 frames each. */
class LargeBoardTest {
  private static final JsonMapper JSON = new JsonMapper();
  private static final int SHOTS = 100;
  private static final int LAYERS = 12;

  @TempDir Path folder;

  @Test
  void staysFluent() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, SmallScene.write(folder));
      assertThat(page.getByText("1 – 12").first()).isVisible();
      fill(server);
      link(page, "Board").click();
      assertThat(page.getByText(Pattern.compile("1.200 of 1.200 on"))).isVisible();
      Accessible.check(page, "a large Board");
      Locator cells = page.getByRole(AriaRole.GRIDCELL);
      assertTrue(cells.count() < 150, "cells in the page: " + cells.count());
      // While the live picture is made it has the processors to itself.
      assertThat(page.getByTestId("live-picture")).isVisible();
      page.waitForTimeout(5000);
      for (boolean across : new boolean[] {false, true}) {
        Scrolling.staysFluent(page, "[aria-label=Board]", across);
      }
      keysGoEverywhere(page);
    }
  }

  /** Cells that were out of sight come into sight. */
  private static void keysGoEverywhere(Page page) {
    page.locator("[data-cell][aria-current=true]").focus();
    for (int i = 1; i < LAYERS; i++) {
      page.keyboard().press("ArrowRight");
    }
    for (int i = 1; i < 20; i++) {
      page.keyboard().press("ArrowDown");
    }
    Locator chosen = page.locator("[data-cell][aria-current=true]");
    assertThat(chosen).isFocused();
    assertThat(chosen).hasAttribute("aria-label", "front-20, layer layer-12, on");
    page.keyboard().press("Space");
    assertThat(page.getByText(Pattern.compile("1.199 of 1.200 on"))).isVisible();
  }

  private static void fill(ServerProcess server) throws Exception {
    JsonNode revision = JSON.readTree(server.get("/api/revisions?production=1")).get(0);
    for (int i = 0; i < SHOTS; i++) {
      server.post(
          "/api/shots",
          "{\"revisionId\": %d, \"camera\": \"front\"}".formatted(revision.get("id").asLong()));
    }
    JsonNode main = JSON.readTree(server.get("/api/layers?production=1")).get(0);
    for (int i = 2; i <= LAYERS; i++) {
      server.post(
          "/api/layers",
          "{\"productionId\": 1, \"name\": \"layer-%d\", \"copyOf\": %d}"
              .formatted(i, main.get("id").asLong()));
    }
    ArrayNode strands = JSON.createArrayNode();
    for (JsonNode shot : JSON.readTree(server.get("/api/shots?production=1"))) {
      ((ObjectNode) shot).put("scale", 25).put("frames", "1-100");
      server.put("/api/shots/" + shot.get("id").asLong(), shot.toString());
      for (JsonNode layer : JSON.readTree(server.get("/api/layers?production=1"))) {
        ObjectNode s = strands.addObject();
        s.put("id", 0).put("on", true);
        s.set("shotId", shot.get("id"));
        s.set("layerId", layer.get("id"));
        s.putNull("recipeId").putNull("deliveryId").putNull("passes");
      }
    }
    server.put("/api/strands?production=1", strands.toString());
  }
}
