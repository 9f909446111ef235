package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.shotOf;

import com.microsoft.playwright.Download;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.BoundingBox;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.parallel.Workers;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** What a lead does with finished frames: watch, find, compare, send back, decide, hand over. */
class ReviewTest {
  private static final JsonMapper JSON = new JsonMapper();
  private static final int FRAMES = 12;
  @TempDir Path folder;

  @Test
  void finishedFramesAreJudged() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      shotOf(page, SmallScene.write(folder));
      Path files = rendered(server);
      link(page, "Review").click();
      assertThat(page.getByTestId("checked")).containsText("12 frames checked");
      Accessible.check(page, "the checks");
      aBoxIsRenderedAgainAndCompared(page, server);
      notesAndDecisionsAreKept(page, server);
      thePackagePlaysFromTheDisk(page);
      theFilmOfAllShotsIsWatched(page);
      plantedFaultsAreFoundThroughTheScreen(page, files);
      realTimeIsKept(page);
    }
  }

  /** Renders twelve frames; returns the folder of the pictures. */
  private static Path rendered(ServerProcess server) throws Exception {
    ObjectNode shot = (ObjectNode) JSON.readTree(server.get("/api/shots?production=1")).get(0);
    shot.put("width", 160).put("height", 90).put("scale", 100).put("frames", "1-" + FRAMES);
    server.put("/api/shots/1", shot.toString());
    long layer = JSON.readTree(server.get("/api/layers?production=1")).get(0).get("id").asLong();
    return Path.of(server.rendered(1, layer).get("folder").asString());
  }

  /** Waits until a version is finished. */
  private static void done(ServerProcess server, int version) throws Exception {
    String state = "RUNNING";
    while (state.equals("RUNNING")) {
      Thread.sleep(100);
      for (JsonNode r : JSON.readTree(server.get("/api/runs/strands?production=1"))) {
        state = r.get("number").asInt() == version ? r.get("state").asString() : state;
      }
    }
    assertEquals("DONE", state);
  }

  private static void tab(Page page, String name) {
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName(name)).click();
  }

  private static void aBoxIsRenderedAgainAndCompared(Page page, ServerProcess server)
      throws Exception {
    tab(page, "Again");
    page.keyboard().press("Home");
    page.keyboard().press("ArrowRight");
    page.keyboard().press("ArrowRight");
    page.keyboard().press("b");
    BoundingBox well = page.getByTestId("part").boundingBox();
    page.mouse().move(well.x + 0.25 * well.width, well.y + 0.25 * well.height);
    page.mouse().down();
    page.mouse().move(well.x + 0.75 * well.width, well.y + 0.75 * well.height);
    page.mouse().up();
    assertThat(page.getByTestId("box")).isVisible();
    choose(page, "How they are rendered again", "with another");
    choose(page, "Recipe: ", "final");
    button(page, "Render box again").click();
    assertThat(page.getByText("is rendered again as v002")).isVisible();
    done(server, 2);
    tab(page, "Sequence");
    choose(page, "What is shown", "front main v002");
    page.waitForURL("**/v002?**");
    assertThat(page.getByText("px at 40, 22 rendered again")).isVisible();
    choose(page, "Against", "main v001");
    assertThat(page.getByTestId("apart")).containsText("of white apart");
    Locator wipe = page.getByRole(AriaRole.SLIDER, new Page.GetByRoleOptions().setName("Wipe"));
    wipe.press("ArrowLeft");
    assertThat(wipe).hasAttribute("aria-valuenow", "48");
    button(page, "difference").click();
    button(page, "difference 16 times as bright").click();
    // Only the box can differ.
    double[] light = new double[2];
    for (int k = 0; k < 2; k++) {
      light[k] =
          ((Number)
                  page.getByTestId("player")
                      .evaluate(
                          """
                          (c, outside) => {
                            const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
                            let sum = 0;
                            for (let i = 0; i < d.length; i += 4) {
                              const x = i / 4 % c.width / c.width;
                              const y = Math.floor(i / 4 / c.width) / c.height;
                              const far = Math.max(Math.abs(x - 0.5), Math.abs(y - 0.5));
                              if (outside ? far > 0.3 : far < 0.24) sum += d[i] + d[i + 1] + d[i + 2];
                            }
                            return sum / d.length;
                          }
                          """,
                          k == 1))
              .doubleValue();
    }
    assertTrue(light[0] > 10 * light[1], light[0] + " inside, " + light[1] + " outside");
    Accessible.check(page, "two versions compared");
    choose(page, "Against", "nothing");
  }

  private static void notesAndDecisionsAreKept(Page page, ServerProcess server) throws Exception {
    tab(page, "Notes");
    page.getByLabel("Note").last().fill("the rim flickers");
    page.getByLabel("Your name").fill("Ida");
    button(page, "Add note").click();
    assertThat(page.getByText("the rim flickers")).isVisible();
    button(page, "Approve …").click();
    page.getByLabel("Remark").fill("as agreed");
    button(page, "Approve").click();
    assertThat(page.getByTestId("decision")).containsText("✓ Approved by Ida");
    tab(page, "Again");
    page.getByLabel("Frames to render again").fill("5");
    button(page, "Render again").click();
    assertThat(page.getByText("is rendered again as v003")).isVisible();
    done(server, 3);
    tab(page, "Sequence");
    choose(page, "What is shown", "front main v003");
    page.waitForURL("**/v003?**");
    assertThat(page.getByTestId("decision")).containsText("v003 is new since v002 was approved");
    choose(page, "What is shown", "front main v002");
    page.waitForURL("**/v002?**");
    assertThat(page.getByTestId("decision")).containsText("as agreed");
  }

  private void thePackagePlaysFromTheDisk(Page page) throws Exception {
    tab(page, "Sequence");
    button(page, "Review package …").click();
    Accessible.check(page, "what goes into a package");
    Download download = page.waitForDownload(() -> link(page, "Make and download").click());
    Path into = Files.createDirectories(folder.resolve("package"));
    try (ZipFile zip = new ZipFile(download.path().toFile())) {
      for (ZipEntry e : zip.stream().toList()) {
        Path to = into.resolve(e.getName());
        Files.createDirectories(to.getParent());
        try (InputStream in = zip.getInputStream(e)) {
          Files.copy(in, to);
        }
      }
    }
    try (Chromium alone = new Chromium(into.resolve("index.html").toUri().toString())) {
      Page sheet = alone.page;
      sheet.waitForFunction("() => document.querySelector('video').readyState >= 2");
      double seconds = ((Number) sheet.locator("video").evaluate("v => v.duration")).doubleValue();
      assertEquals(FRAMES / 24.0, seconds, 0.01);
      sheet.getByText("the rim flickers").click();
      assertThat(sheet.getByAltText("Frame 3")).isVisible();
      assertThat(sheet.getByText("✓ Approved by Ida")).isVisible();
      sheet.keyboard().press("ArrowRight");
      assertThat(sheet.locator("#frame")).containsText("frame 4");
      button(sheet, "Play").click();
      sheet.waitForFunction("() => document.querySelector('video').ended");
      Accessible.check(sheet, "the review package");
    }
  }

  private static void theFilmOfAllShotsIsWatched(Page page) {
    choose(page, "What is shown", "All shots");
    assertThat(page.getByLabel("Shots of the film")).containsText("front");
    assertThat(page.getByTestId("player")).hasAttribute("data-painted", "3");
  }

  /** Frames as they come from elsewhere: one black, one that flickers, one not there, one odd. */
  private void plantedFaultsAreFoundThroughTheScreen(Page page, Path files) throws Exception {
    Path outside = Files.createDirectories(folder.resolve("outside"));
    for (int f = 1; f <= FRAMES; f++) {
      int frame = f;
      FrameImage image =
          ExrReader.read(files.resolve("all/front_main_all.%04d.exr".formatted(frame)));
      if (frame != 10) {
        Path to = outside.resolve("front.%04d.exr".formatted(frame));
        Files.write(
            to,
            ExrWriter.encode(
                spoilt(image, frame), ExrHeader.NONE, ExrCompression.ZIP, Workers.CALLER));
      }
    }
    open(page, outside);
    tab(page, "Checks");
    button(page, "Check what is there").click();
    Locator checks = page.getByLabel("Checks", new Page.GetByLabelOptions().setExact(true)).last();
    for (String found : List.of("4black", "6flicker", "8no number", "10not there")) {
      assertThat(checks).containsText(found);
    }
    finding(checks, "6flicker").click();
    assertThat(page.getByTestId("playhead")).hasText("6");
    assertThat(page.getByTestId("mark")).isVisible();
    finding(checks, "10not there").click();
    button(page, "fine …").click();
    page.getByLabel("Why it is fine").fill("cut by the editor");
    page.keyboard().press("Enter");
    assertThat(checks).containsText("fine: cut by the editor");
    page.reload();
    assertThat(page.getByText("fine: cut by the editor")).isVisible();
  }

  private static Locator finding(Locator checks, String begins) {
    return checks
        .getByRole(AriaRole.BUTTON)
        .filter(new Locator.FilterOptions().setHasText(Pattern.compile("^" + begins)));
  }

  private static FrameImage spoilt(FrameImage image, int frame) {
    List<Channel> all = new ArrayList<>();
    int w = image.width(), h = image.height();
    for (Channel c : image.channels()) {
      float[] data = c.data().clone();
      boolean colour = "RGB".contains(c.name());
      for (int i = 0; i < data.length && colour; i++) {
        int x = i % w, y = i / w;
        boolean part = x > w / 4 && x < 3 * w / 4 && y > h / 4 && y < 3 * h / 4;
        data[i] *= frame == 4 ? 0 : frame == 6 && part ? 2 : 1;
      }
      if (frame == 8 && c.name().equals("G")) {
        data[w * h / 2] = Float.NaN;
      }
      all.add(new Channel(c.name(), c.precision(), data));
    }
    return new FrameImage(w, h, all);
  }

  private static void open(Page page, Path folder) {
    tab(page, "Sequence");
    button(page, "Open a sequence …").click();
    page.getByLabel("Path").fill(folder.toString());
    button(page, "Open").click();
    page.waitForURL("**look=sequence-*");
  }

  /**
   * Four seconds of 1280 x 720 at 24 frames a second, around and around. On a machine with time to
   * spare every frame is shown; on any machine the clock is kept, what is left out is told, and
   * playing leaves the page about as fluent as it is at rest.
   */
  private void realTimeIsKept(Page page) throws Exception {
    Path reel = Files.createDirectories(folder.resolve("reel"));
    Process made =
        new ProcessBuilder(
                "ffmpeg",
                "-v",
                "error",
                "-f",
                "lavfi",
                "-i",
                "testsrc2=size=1280x720:rate=24:duration=4",
                "-q:v",
                "3",
                reel.resolve("reel.%04d.jpg").toString())
            .inheritIO()
            .start();
    assertEquals(0, made.waitFor());
    open(page, reel);
    assertThat(page.getByText("96 of 96")).isVisible();
    page.keyboard().press("Home");
    page.waitForURL("**frame=1");
    assertThat(page.getByTestId("player")).hasAttribute("data-painted", "1");
    double rest = Scrolling.pace(page);
    page.evaluate(
        """
        () => {
          const canvas = document.querySelector('[data-testid=player]');
          window.shown = [];
          new MutationObserver(() => {
            const now = Number(canvas.dataset.painted);
            if (window.shown.at(-1)?.[0] !== now) window.shown.push([now, performance.now()]);
          }).observe(canvas, { attributeFilter: ['data-painted'] });
        }
        """);
    page.keyboard().press(" ");
    page.waitForTimeout(3000);
    double playing = Scrolling.pace(page);
    page.waitForTimeout(1000);
    String dropped = page.getByTestId("dropped").textContent();
    @SuppressWarnings("unchecked")
    List<List<Number>> shown = (List<List<Number>>) page.evaluate("() => window.shown");
    page.keyboard().press(" ");
    int passed = passed(shown);
    int left = passed - (shown.size() - 1);
    double seconds =
        (shown.get(shown.size() - 1).get(1).doubleValue() - shown.get(0).get(1).doubleValue())
            / 1000;
    String why =
        "%d frames in %.2f s, %d left out, %s; %.1f ms a picture, %.1f ms at rest"
            .formatted(passed, seconds, left, dropped, playing, rest);
    System.out.println("1280 x 720 at 24 frames a second: " + why);
    assertEquals(24 * seconds, passed, 12, why);
    assertTrue(left == 0 || !dropped.equals("none dropped"), why);
    assertTrue(playing < 3 * Math.max(rest, 1000.0 / 60), why);
  }

  /** How many frames the playhead passed, shown or not. */
  private static int passed(List<List<Number>> shown) {
    int passed = 0;
    for (int i = 1; i < shown.size(); i++) {
      passed +=
          Math.floorMod(shown.get(i).get(0).intValue() - shown.get(i - 1).get(0).intValue(), 96);
    }
    return passed;
  }
}
