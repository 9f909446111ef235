package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.BoundingBox;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A camera and lights that the file does not have, made in the view of the scene and rendered. */
class RigTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void aSceneGetsACameraAPanelAndANight() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, SmallScene.write(folder));
      assertThat(page.getByTestId("space")).hasAttribute("data-whole", "true");
      page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Rig")).click();
      Accessible.check(page, "Rig");
      aCameraIsMadeAndMovedByThreeKeys(page);
      aKeyIsMendedFromAbove(page, server);
      stopsBecomeFramesAndAreUndone(page, server);
      theCameraIsRendered(page, server);
      theShotIsReframedInTheViewfinder(page, server);
      boundCamerasBecomeShots(page, server);
      aPanelAndANightAreMade(page, server);
    }
  }

  private static Locator keys(Page page) {
    return page.getByLabel("Keys of the camera").getByRole(AriaRole.LISTITEM);
  }

  /** Presses in the view and drags. */
  private static void drag(Page page, double x, double y, double dx, double dy) {
    page.mouse().move(x, y);
    page.mouse().down();
    page.mouse().move(x + dx / 2, y + dy / 2);
    page.mouse().move(x + dx, y + dy);
    page.mouse().up();
  }

  private static void orbit(Page page) {
    BoundingBox well = page.getByTestId("space").boundingBox();
    drag(page, well.x + well.width / 2, well.y + well.height * 0.8, 70, 0);
  }

  private static void aCameraIsMadeAndMovedByThreeKeys(Page page) {
    button(page, "New camera here").click();
    assertThat(page.getByLabel("Name of the camera")).hasValue("camera");
    assertThat(page.getByLabel("Look: through camera")).isVisible();
    assertThat(keys(page)).hasCount(1);
    for (int k = 0; k < 2; k++) {
      for (int i = 0; i < (k == 0 ? 5 : 6); i++) {
        page.keyboard().press("ArrowRight");
      }
      assertThat(page.getByTestId("playhead")).hasText(k == 0 ? "6" : "12");
      orbit(page);
      assertThat(page.getByText(Pattern.compile("The view has left camera at frame"))).isVisible();
      if (k == 0) {
        page.keyboard().press("k");
      } else {
        button(page, "Set key here").click();
      }
      assertThat(keys(page)).hasCount(k + 2);
    }
    assertThat(page.getByTestId("ribbon-keys")).containsText("1, 6, 12");
    Accessible.check(page, "a camera of the rig");
  }

  private static JsonNode key(ServerProcess server, int k) throws Exception {
    return JSON.readTree(server.get("/api/rigs?production=1"))
        .get(0)
        .at("/document/rig/cameras/0/keys/" + k);
  }

  private static void aKeyIsMendedFromAbove(Page page, ServerProcess server) throws Exception {
    List<Double> before = numbers(key(server, 1).get("position"));
    choose(page, "Look", "from a");
    Locator view = page.getByTestId("space");
    button(page, "Frame all").click();
    // All of them are in sight then.
    assertThat(view)
        .hasAttribute("data-keys", Pattern.compile("^(\\d+:[1-9]\\d{0,2},[1-9]\\d{0,2} ?){3}$"));
    page.waitForTimeout(500);
    Matcher at = Pattern.compile("\\b6:(\\d+),(\\d+)").matcher(view.getAttribute("data-keys"));
    assertTrue(at.find(), view.getAttribute("data-keys"));
    BoundingBox well = view.boundingBox();
    double x = well.x + Double.parseDouble(at.group(1));
    double y = well.y + Double.parseDouble(at.group(2));
    page.waitForResponse("**/api/rigs/*", () -> drag(page, x, y, 40, 25));
    List<Double> now = numbers(key(server, 1).get("position"));
    assertTrue(Math.abs(now.get(0) - before.get(0)) > 0.1, "aside: " + before + " to " + now);
    assertEquals(before.get(1), now.get(1), 1e-3, "its height stays");
  }

  private static List<Double> numbers(JsonNode n) {
    return List.of(n.get(0).asDouble(), n.get(1).asDouble(), n.get(2).asDouble());
  }

  private static void stopsBecomeFramesAndAreUndone(Page page, ServerProcess server)
      throws Exception {
    button(page, "Stops …").click();
    assertThat(page.getByTestId("stops"))
        .hasText("3 stops, 2 transitions of 2 s at 24 fps: frames 1–97");
    page.getByLabel("Seconds from stop 1 to stop 2").fill("0.25");
    page.getByLabel("Seconds from stop 2 to stop 3").fill("0.25");
    assertThat(page.getByTestId("stops"))
        .hasText("3 stops, 2 transitions of 0.25 s at 24 fps: frames 1–13");
    Accessible.check(page, "stops");
    button(page, "Set keys").click();
    assertThat(page.getByTestId("ribbon-keys")).containsText("1, 7, 13");
    page.keyboard().press("Control+z");
    assertThat(page.getByTestId("ribbon-keys")).containsText("1, 6, 12");
    assertEquals(0.25, key(server, 1).get("time").asDouble(), 1e-6);
  }

  private void theCameraIsRendered(Page page, ServerProcess server) throws Exception {
    button(page, "Make a shot").click();
    page.waitForURL("**/shots/camera?**");
    assertThat(page.getByLabel("Camera: camera")).isVisible();
    List<Path> frames = rendered(server, "camera");
    assertEquals(2, frames.size());
    assertTrue(
        run("exrheader", frames.get(0).toString()).contains("\"camera\""),
        "the header names the camera");
    // It looks at the square from elsewhere.
    assertTrue(
        !run("oiiotool", "--hash", frames.get(0).toString())
            .split("SHA-1")[1]
            .equals(run("oiiotool", "--hash", frames.get(1).toString()).split("SHA-1")[1]));
  }

  private static void theShotIsReframedInTheViewfinder(Page page, ServerProcess server)
      throws Exception {
    page.keyboard().press("Home");
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Viewfinder")).click();
    assertThat(page.getByTestId("space")).hasAttribute("data-whole", "true");
    button(page, "Safe areas").click();
    assertThat(page.getByTestId("safe-area")).hasCount(2);
    choose(page, "Matte", "2.39");
    assertThat(page.getByTestId("matte")).hasCount(2);
    Accessible.check(page, "viewfinder");
    List<Double> before = numbers(key(server, 0).get("position"));
    orbit(page);
    page.waitForResponse("**/api/rigs/*", () -> button(page, "Set key at 1").click());
    assertTrue(!before.equals(numbers(key(server, 0).get("position"))), "the key has moved");
    choose(page, "Matte", "no");
    button(page, "Safe areas").click();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("True picture")).click();
    assertThat(page.getByTestId("live-picture")).isVisible();
  }

  private static void boundCamerasBecomeShots(Page page, ServerProcess server) throws Exception {
    button(page, "Shots from bound cameras").click();
    button(page, "Another camera").click();
    page.getByLabel("Camera 2 from frame").fill("13");
    button(page, "Make 2 shots").click();
    assertThat(page.getByRole(AriaRole.ALERT)).containsText("the cut must end after camera begins");
    page.getByLabel("Camera 2 from frame").fill("7");
    // The first of them is opened, and its picture asked for; it must be there until then.
    page.waitForResponse("**/api/shots/2/live?**", () -> button(page, "Make 2 shots").click());
    assertThat(page.getByText("2 shots are made.")).isVisible();
    JsonNode shots = JSON.readTree(server.get("/api/shots?production=1"));
    assertEquals(3, shots.size());
    assertEquals("1-6", shots.get(1).get("frames").asString());
    assertEquals("7-12", shots.get(2).get("frames").asString());
    assertEquals("camera", shots.get(2).get("camera").asString());
    page.keyboard().press("Control+z");
    assertThat(page.getByRole(AriaRole.NAVIGATION, new Page.GetByRoleOptions().setName("Shots")))
        .not()
        .containsText("camera-2");
  }

  private static void aPanelAndANightAreMade(Page page, ServerProcess server) throws Exception {
    double day = mean(rendered(server, "camera").get(0));
    Chromium.link(page, "Scene").click();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Rig")).click();
    page.keyboard().press("Home");
    choose(page, "Sky", "by");
    assertThat(page.getByRole(AriaRole.TEXTBOX, new Page.GetByRoleOptions().setName("Time of day")))
        .hasValue("12:00");
    button(page, "Key Time of day here").click();
    assertThat(page.getByText("12:00 at frame 1")).isVisible();
    for (int i = 0; i < 11; i++) {
      page.keyboard().press("ArrowRight");
    }
    assertThat(page.getByTestId("playhead")).hasText("12");
    Locator time =
        page.getByRole(AriaRole.TEXTBOX, new Page.GetByRoleOptions().setName("Time of day"));
    time.fill("24:30");
    time.press("Enter");
    assertThat(page.getByText("12:00 at frame 1, 24:30 at frame 12")).isVisible();
    List<Path> frames = rendered(server, "camera");
    double noon = mean(frames.get(0));
    double night = mean(frames.get(1));
    assertTrue(noon > 50 * night, "noon " + noon + ", night " + night + ", before " + day);

    choose(page, "New light", "panel");
    assertThat(page.getByLabel("Name of the light")).hasValue("panel");
    choose(page, "What the camera makes of it", "does");
    assertThat(page.getByLabel("What the camera makes of it: does not see it")).isVisible();
    Accessible.check(page, "a light of the rig");
    double lit = mean(rendered(server, "camera").get(1));
    assertTrue(lit > 10 * night, "lit " + lit + ", night " + night);
  }

  /** Renders the first and the last frame of a shot, small; returns its files. */
  private static List<Path> rendered(ServerProcess server, String name) throws Exception {
    for (JsonNode s : JSON.readTree(server.get("/api/shots?production=1"))) {
      if (s.get("name").asString().equals(name)) {
        long id = s.get("id").asLong();
        ((ObjectNode) s).put("width", 64).put("height", 36).put("scale", 100).put("frames", "1,12");
        server.put("/api/shots/" + id, s.toString());
        long layer =
            JSON.readTree(server.get("/api/layers?production=1")).get(0).get("id").asLong();
        Path at = Path.of(server.rendered(id, layer).get("folder").asString());
        try (Stream<Path> all = Files.walk(at)) {
          return all.filter(p -> p.toString().endsWith(".exr")).sorted().toList();
        }
      }
    }
    throw new AssertionError("there is no shot " + name);
  }

  private static String run(String... command) throws Exception {
    Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
    String said = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertEquals(0, p.waitFor(), said);
    return said;
  }

  /** Returns the mean of red, green and blue as an independent reader sees it. */
  private static double mean(Path exr) throws Exception {
    Matcher m =
        Pattern.compile("Stats Avg: ([0-9.e+-]+) ([0-9.e+-]+) ([0-9.e+-]+)")
            .matcher(run("oiiotool", "--ch", "R,G,B", "--stats", exr.toString()));
    assertTrue(m.find());
    return Stream.of(m.group(1), m.group(2), m.group(3))
        .mapToDouble(Double::parseDouble)
        .average()
        .orElseThrow();
  }
}
