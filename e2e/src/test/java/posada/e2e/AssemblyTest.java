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
import java.util.List;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.parallel.Stop;
import posada.formats.handover.HandoverCheck;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** From passes to a film and a handover, as a lead puts them together. */
class AssemblyTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void passesBecomeAFilmAndAreHandedOver() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      shotOf(page, SmallScene.lamp(folder));
      link(page, "Assembly").click();
      assertThat(page.getByText("Nothing to put together yet")).isVisible();
      rendered(server);
      aStackIsBegun(page);
      theNumbersAreSeenAtEachStep(page);
      inputsAreMovedAndChangesTakenBack(page);
      aMaskIsPicked(page);
      strengthGetsKeys(page);
      aFilmIsRenderedAndPlays(page);
      lightIsSetAnewByFaders(page);
      handedOver(page);
    }
  }

  /** Renders twelve frames with the light taken apart. */
  private static void rendered(ServerProcess server) throws Exception {
    ObjectNode shot = (ObjectNode) JSON.readTree(server.get("/api/shots?production=1")).get(0);
    shot.put("width", 160).put("height", 90).put("scale", 100).put("frames", "1-12");
    for (JsonNode r : JSON.readTree(server.get("/api/recipes?production=1"))) {
      if (r.get("name").asString().equals("preview")) {
        shot.set("recipeId", r.get("id"));
      }
    }
    server.put("/api/shots/1", shot.toString());
    long layer = JSON.readTree(server.get("/api/layers?production=1")).get(0).get("id").asLong();
    ObjectNode passes =
        (ObjectNode)
            JSON.readTree(server.get("/api/layers?production=1"))
                .get(0)
                .get("document")
                .get("passes")
                .deepCopy();
    var wanted = passes.putArray("wanted");
    List.of(
            "beauty",
            "diffuse-direct",
            "diffuse-indirect",
            "specular-direct",
            "specular-indirect",
            "transmission-direct",
            "transmission-indirect",
            "sheen",
            "clearcoat",
            "emission",
            "environment",
            "light-groups",
            "depth",
            "matte-objects",
            "ambient-occlusion")
        .forEach(wanted::add);
    passes.putObject("lightGroups").putArray("lamp").add("slider");
    String strand =
        "[{\"id\":0,\"shotId\":1,\"layerId\":%d,\"on\":true,\"recipeId\":null,\"deliveryId\":null,\"passes\":%s}]"
            .formatted(layer, passes);
    server.put("/api/strands?production=1", strand);
    server.rendered(1, layer);
  }

  private static Locator input(Page page, String name) {
    return page.getByLabel("Stack")
        .getByRole(
            AriaRole.BUTTON, new Locator.GetByRoleOptions().setName(Pattern.compile("^" + name)));
  }

  private static void aStackIsBegun(Page page) {
    button(page, "Use: The beauty from its parts").click();
    assertThat(page.getByTestId("result")).isVisible();
    Accessible.check(page, "a stack");
    for (String mix : List.of("Occlusion multiplied in", "Glow from emission")) {
      button(page, "Starting mix …").click();
      button(page, "Use: " + mix).click();
    }
    assertThat(input(page, "glow")).isVisible();
    assertThat(input(page, "occlusion")).containsText("multiply");
    assertTrue(page.getByLabel("Stack").getByRole(AriaRole.LISTITEM).count() >= 6);
    assertThat(page.getByLabel("Do they add up")).containsText("equal");
    assertThat(page.getByTestId("made")).containsText("160 × 90");
    button(page, "Before and after").click();
    assertThat(page.getByAltText("Before: the beauty as it was rendered")).isVisible();
    // Occlusion and glow: what is put together is not what was rendered.
    assertTrue(apart(page) > 0.5, "before and after are the same");
    button(page, "Result").click();
  }

  /** How far the two pictures of a wipe are apart, of 255. */
  private static double apart(Page page) {
    page.waitForTimeout(700); // The finer picture has come.
    Object d =
        page.evaluate(
            """
            () => {
              const of = (i) => {
                const c = document.createElement('canvas');
                c.width = 160; c.height = 90;
                const g = c.getContext('2d');
                g.drawImage(i, 0, 0, 160, 90);
                return g.getImageData(0, 0, 160, 90).data;
              };
              const all = [...document.querySelectorAll('section[aria-label=Picture] img')].map(of);
              let sum = 0;
              for (let i = 0; i < all[0].length; i++) sum += Math.abs(all[0][i] - all[1][i]);
              return sum / all[0].length;
            }
            """);
    return ((Number) d).doubleValue();
  }

  private static void theNumbersAreSeenAtEachStep(Page page) {
    page.keyboard().press("Home");
    BoundingBox well = page.getByTestId("result").boundingBox();
    page.mouse().move(well.x + 0.35 * well.width, well.y + 0.5 * well.height);
    assertThat(page.getByTestId("under")).isVisible();
    assertTrue(page.getByTestId("step").count() >= 6);
    page.mouse().move(5, 5);
    assertThat(page.getByTestId("step")).hasCount(0);
  }

  private static void inputsAreMovedAndChangesTakenBack(Page page) {
    Locator rows = page.getByLabel("Stack").getByRole(AriaRole.LISTITEM);
    assertThat(rows.nth(0)).containsText("glow");
    input(page, "glow").click();
    page.keyboard().press("Alt+ArrowDown");
    assertThat(rows.nth(0)).containsText("occlusion");
    page.keyboard().press("Control+z");
    assertThat(rows.nth(0)).containsText("glow");
    rows.nth(0).dragTo(rows.nth(2));
    assertThat(rows.nth(2)).containsText("glow");
    assertThat(rows.nth(0)).containsText("occlusion");
    page.keyboard().press("Control+z");
    assertThat(rows.nth(0)).containsText("glow");
    page.getByLabel("Mute glow").click();
    assertThat(page.getByLabel("Mute glow")).hasAttribute("aria-pressed", "true");
    page.getByLabel("Mute glow").click();
  }

  private static void aMaskIsPicked(Page page) {
    input(page, "occlusion").click();
    choose(page, "Mask: everywhere", "objects");
    button(page, "Pick").click();
    BoundingBox well = page.getByTestId("result").boundingBox();
    page.mouse().click(well.x + 0.4 * well.width, well.y + 0.5 * well.height);
    assertThat(
            page.getByLabel("Input settings")
                .getByText("slider", new Locator.GetByTextOptions().setExact(true)))
        .isVisible();
    page.keyboard().press("Escape");
    choose(page, "Add a correction", "Blur");
    assertThat(input(page, "occlusion")).containsText("masked · blur");
    Accessible.check(page, "an input with mask and correction");
  }

  private static void strengthGetsKeys(Page page) {
    input(page, "glow").click();
    Locator key = page.getByLabel("Key of Strength at this frame");
    page.keyboard().press("Home");
    key.click();
    assertThat(key).hasText("◆1");
    page.getByLabel("Playhead").focus();
    page.keyboard().press("End");
    assertThat(key).hasText("◇1");
    Locator strength = page.getByLabel("Strength", new Page.GetByLabelOptions().setExact(true));
    strength.fill("0.1");
    strength.press("Enter");
    assertThat(key).hasText("◆2");
    page.getByLabel("Playhead").focus();
    page.keyboard().press("Home");
    assertThat(strength).hasValue("0.60");
  }

  private static void aFilmIsRenderedAndPlays(Page page) {
    button(page, "Render the film").click();
    Locator film = page.getByTestId("film").first();
    assertThat(film)
        .containsText("ready", new LocatorAssertions.ContainsTextOptions().setTimeout(60_000));
    Accessible.check(page, "films");
    film.getByText("Show").click();
    Locator player = page.getByTestId("film-player");
    assertThat(player).isVisible();
    page.waitForFunction(
        "() => { const v = document.querySelector('video'); return v.videoWidth === 160 && v.currentTime > 0.1; }");
    page.keyboard().press("Escape");
    assertThat(player).hasCount(0);
    // A change of the stack makes its film stale; it is brought up to date.
    page.getByLabel("Strength of occlusion").focus();
    page.keyboard().press("ArrowLeft");
    assertThat(page.getByTestId("film-stale")).containsText("12 of 12 frames stale");
    film.getByText("Bring up to date").click();
    assertThat(page.getByTestId("film-stale"))
        .hasCount(0, new LocatorAssertions.HasCountOptions().setTimeout(60_000));
    assertThat(film)
        .containsText("ready", new LocatorAssertions.ContainsTextOptions().setTimeout(60_000));
  }

  private static void lightIsSetAnewByFaders(Page page) {
    choose(page, "Stack: ", "New stack");
    button(page, "Use: A fader for each light group").click();
    assertThat(page.getByLabel("Strength of light-lamp")).isVisible();
    button(page, "Before and after").click();
    assertTrue(apart(page) < 2, "all faders at 1.00 are the beauty");
    Locator fader = page.getByLabel("Strength of light-lamp");
    fader.focus();
    page.keyboard().press("Home");
    assertThat(fader).hasValue("0");
    assertTrue(apart(page) > 2, "without its lamp the picture is another");
    button(page, "Result").click();
  }

  private void handedOver(Page page) throws Exception {
    Path into = folder.resolve("handover");
    button(page, "Hand over …").click();
    assertThat(page.getByTestId("before")).containsText("nobody has approved it");
    Accessible.check(page, "hand over");
    choose(page, "As: ", "a folder with copies");
    page.getByLabel("Folder", new Page.GetByLabelOptions().setExact(true)).fill(into.toString());
    button(page, "Hand over all the same").click();
    Locator line = page.getByTestId("handed").first();
    assertThat(line)
        .containsText("written", new LocatorAssertions.ContainsTextOptions().setTimeout(60_000));
    line.getByText("Check").click();
    assertThat(page.getByTestId("handover-check")).containsText("Everything is there and whole");
    assertEquals(List.of(), HandoverCheck.of(into, Stop.NEVER).problems());
  }
}
