package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Path;
import java.util.List;
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

  /**
   * Scrolls for two seconds, 40 pixels a picture; answers the milliseconds between pictures, the
   * shortest first.
   */
  private static final String SCROLL =
      """
      async ([selector, across]) => {
        const box = document.querySelector(selector);
        const times = [];
        const end = performance.now() + 2000;
        await new Promise((done) => {
          let step = 40;
          const next = (now) => {
            times.push(now);
            const at = across ? box.scrollLeft : box.scrollTop;
            const most = across ? box.scrollWidth - box.clientWidth : box.scrollHeight - box.clientHeight;
            step = at >= most ? -40 : at <= 0 ? 40 : step;
            box[across ? 'scrollLeft' : 'scrollTop'] = at + step;
            now < end ? requestAnimationFrame(next) : done();
          };
          requestAnimationFrame(next);
        });
        box.scrollTo(0, 0);
        return times.slice(1).map((t, i) => t - times[i]).sort((a, b) => a - b);
      }
      """;

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
        double scrolled = median(page, "[aria-label=Board]", across);
        double still = median(page, "body", across);
        System.out.printf(
            "scrolling %s: %.1f ms a picture, %.1f ms at rest%n",
            across ? "across" : "down", scrolled, still);
        assertTrue(scrolled < 2.5 * still, scrolled + " ms against " + still + " ms");
      }
      keysGoEverywhere(page);
    }
  }

  private static double median(Page page, String selector, boolean across) {
    List<?> all = (List<?>) page.evaluate(SCROLL, List.of(selector, across));
    return ((Number) all.get(all.size() / 2)).doubleValue();
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
