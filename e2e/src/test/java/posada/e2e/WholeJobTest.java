package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.startAnyway;

import com.microsoft.playwright.Download;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A lead's way from a scene file to a watched sequence, in real Chromium. */
class WholeJobTest {
  @TempDir Path folder;

  private static LocatorAssertions.ContainsTextOptions patiently() {
    return new LocatorAssertions.ContainsTextOptions().setTimeout(180_000);
  }

  @Test
  void fromASceneFileToAWatchedSequence() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      takeIn(page);
      setUpTheShot(page);
      setUpTheStrand(page);
      run(page);
      review(page);
      theFinishedRunIsWatchedWhileAnotherHasNothingYet(page);
    }
  }

  /** A file that is no scene is refused with a sentence; then the right one is dropped in. */
  private void takeIn(Page page) throws Exception {
    assertThat(page.getByText("Drop a scene here")).isVisible();
    Path broken = Files.writeString(folder.resolve("broken.glb"), "not a scene");
    importScene(page, broken);
    assertThat(page.getByRole(AriaRole.ALERT)).containsText("broken.glb: the file is not glTF");
    Path zip = SmallScene.write(folder);
    Object dropped =
        page.evaluateHandle(
            "b64 => { const d = new DataTransfer(); d.items.add(new File("
                + "[Uint8Array.from(atob(b64), c => c.charCodeAt(0))], 'slider.zip')); return d; }",
            Base64.getEncoder().encodeToString(Files.readAllBytes(zip)));
    page.getByTestId("drop").dispatchEvent("drop", Map.of("dataTransfer", dropped));
    assertThat(page.getByText("1 – 12").first()).isVisible();
    assertThat(page.getByText("The scene has no light; it got a plain sky.")).isVisible();
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Cameras")).click();
    assertThat(page.getByAltText("View of camera front")).isVisible();
    page.waitForFunction(
        "() => document.querySelector('img[alt=\"View of camera front\"]')?.naturalWidth > 100");
    Accessible.check(page, "Scene");
    button(page, "Make a shot").click();
  }

  /** The range comes from the animation; it and the scale are changed; the picture follows. */
  private void setUpTheShot(Page page) {
    Locator frames = page.getByLabel("Frames", new Page.GetByLabelOptions().setExact(true));
    assertThat(frames).hasValue("1-12");
    Locator picture = page.getByTestId("live-picture");
    assertThat(picture).isVisible();
    page.waitForFunction(
        "() => Number(document.querySelector('[data-testid=live-picture]')?.dataset.samples) > 2");
    frames.fill("1-x");
    frames.press("Enter");
    assertThat(page.getByRole(AriaRole.STATUS)).containsText("cannot be read");
    frames.fill("1-8");
    frames.press("Enter");
    assertThat(page.getByText("The animation goes on to frame 12")).isVisible();
    button(page, "Extend to 12").click();
    assertThat(frames).hasValue("1-12");
    page.getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("25 %")).click();
    Accessible.check(page, "Shots");
    theExposureIsMetered(page);
    thePreviewPlays(page);
  }

  /** How well and into which files: said on the Board, for the strand that is chosen there. */
  private void setUpTheStrand(Page page) {
    link(page, "Board").click();
    page.getByLabel("Samples: 64").click();
    page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("8").setExact(true))
        .click();
    assertThat(page.getByLabel("Samples: 8")).isVisible();
    theLivePictureGoesOnUntouchedAndIsCleaned(page);
    passesAreChosenByKeyboard(page);
    page.getByText("How files are written").click();
    choose(page, "EXR files: one for all passes", "one for e");
    choose(page, "Other files: nothing", "tiff1");
    assertThat(page.getByLabel("Other files: tiff16")).isVisible();
    assertThat(page.getByLabel("EXR files: one for each pass")).isVisible();
    aLayerIsAddedAndRemoved(page);
  }

  private static void aLayerIsAddedAndRemoved(Page page) {
    button(page, "Add layers").click();
    page.getByRole(AriaRole.MENUITEM, new Page.GetByRoleOptions().setName("A copy of main"))
        .click();
    Locator tick = page.getByLabel("Switch front, layer main-2 on");
    tick.click();
    assertThat(button(page, "Start 2 strands")).isVisible();
    Accessible.check(page, "Board");
    page.getByLabel("front, layer main-2, on").click();
    page.waitForURL("**/board/front/main-2?**");
    button(page, "Remove layer main-2").click();
    assertThat(button(page, "Start 1 strand")).isVisible();
    page.getByLabel("front, layer main, on").click();
    page.waitForURL("**/board/front/main?**");
  }

  private static void theLivePictureGoesOnUntouchedAndIsCleaned(Page page) {
    assertThat(page.getByText("more than the recipe’s 8")).isVisible();
    page.waitForRequest("**/live?**", () -> choose(page, "Denoise: on", "off"));
    assertThat(page.getByLabel("Denoise: off").first()).isVisible();
    // The stream of before is closed by now: the next picture is of the new one.
    page.waitForFunction(
        "was => document.querySelector('[data-testid=live-picture]').src !== was",
        page.getByTestId("live-picture").getAttribute("src"));
    assertThat(page.getByText("more than the recipe’s 8")).isVisible();
  }

  /** A picture that shows nothing offers the way out. */
  private static void theExposureIsMetered(Page page) {
    Locator stops = page.getByLabel("Exposure in stops");
    stops.fill("-20");
    stops.press("Enter");
    assertThat(page.getByText("% black")).isVisible();
    Locator meter = button(page, "Meter the exposure");
    meter.click();
    assertThat(meter).isHidden();
    assertThat(stops).hasValue(Pattern.compile("^-?\\d(\\.\\d)?$"));
    stops.fill("0");
    stops.press("Enter");
    assertThat(stops).hasValue("0");
  }

  /** A film of the whole range is drawn and plays; the choice made for it stays. */
  private static void thePreviewPlays(Page page) {
    button(page, "Preview").click();
    Locator dialog = page.getByRole(AriaRole.DIALOG);
    assertThat(dialog).containsText("Drawn quickly");
    choose(page, "Size: 50 %", "25");
    assertThat(dialog).containsText("480 × 270");
    choose(page, "Style: shaded", "outl");
    assertThat(dialog).containsText("12 drawn");
    button(page, "Make preview").click();
    page.waitForFunction(
        "() => { const v = document.querySelector('[data-testid=preview-film]');"
            + " return v && v.readyState >= 2 && v.videoWidth === 480 && v.currentTime > 0.1; }");
    assertThat(dialog).containsText("12 frames, 480 × 270, drawn in");
    assertEquals(
        12 / 24.0,
        (double) page.evaluate("document.querySelector('[data-testid=preview-film]').duration"),
        0.01);
    page.keyboard().press("Escape");
    assertThat(dialog).isHidden();
    button(page, "Preview").click();
    assertThat(page.getByLabel("Style: outlined")).isVisible();
    assertThat(page.getByTestId("preview-film")).isVisible();
    page.keyboard().press("Escape");
  }

  private static void passesAreChosenByKeyboard(Page page) {
    page.getByLabel("Passes: beauty and 3 more").press("ArrowDown");
    assertThat(option(page, "transmission-indirect")).isVisible();
    page.keyboard().type("sha");
    page.keyboard().press("Enter");
    page.keyboard().press("Escape");
    page.getByLabel("Passes: beauty and 4 more").press("ArrowDown");
    assertThat(option(page, "shadow")).hasAttribute("aria-selected", "true");
    page.keyboard().press("Escape");
  }

  private static Locator option(Page page, String pass) {
    return page.getByRole(
        AriaRole.OPTION, new Page.GetByRoleOptions().setName(Pattern.compile("^" + pass + "\\b")));
  }

  /** Frames land while they are watched; then the files can be had. */
  private void run(Page page) throws Exception {
    startAnyway(page, "Start 1 strand");
    page.waitForURL("**/run/**");
    assertThat(page.getByTestId("ready")).containsText("done", patiently());
    assertThat(page.getByAltText("Frame 12", new Page.GetByAltTextOptions().setExact(true)))
        .isVisible();
    assertThat(page.getByTestId("folder")).containsText("front/main/v001");
    Accessible.check(page, "Run");
    Download download = page.waitForDownload(() -> page.getByText("Download as a zip").click());
    try (ZipFile zip = new ZipFile(download.path().toFile())) {
      assertEquals((5 + 1) * 12, zip.size());
      assertTrue(zip.getEntry("shadow/front_main_shadow.0012.exr") != null);
      assertTrue(zip.getEntry("beauty/front_main_beauty.0012.tif") != null);
    }
    button(page, "Review").click();
  }

  /** Real time, every frame, steps, in and out, channels and exposure. */
  private void review(Page page) {
    page.waitForURL("**/review/**");
    Locator canvas = page.getByTestId("player");
    page.waitForFunction("() => document.querySelector('[data-testid=player]')?.dataset.painted");
    everyFrameIsThere(page);
    Accessible.check(page, "Review");
    page.keyboard().press("Home");
    page.keyboard().press("ArrowRight");
    assertThat(page.getByTestId("playhead")).hasText("2");
    assertThat(page.getByText("00:00:00:02")).isVisible();
    assertThat(canvas).hasAttribute("data-painted", "2");
    page.keyboard().press(" ");
    assertThat(page.getByTestId("rate")).containsText(Pattern.compile("2[34]\\.\\d of 24 fps"));
    page.keyboard().press(" ");
    page.keyboard().press("Home");
    page.keyboard().press("o");
    assertThat(page.getByText("out 1").first()).isVisible();
    page.keyboard().press("Backspace");
    String colour = (String) canvas.evaluate("c => c.toDataURL()");
    page.getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("depth")).click();
    page.waitForFunction(
        "was => document.querySelector('[data-testid=player]')?.toDataURL() !== was", colour);
    page.getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("beauty")).click();
    page.keyboard().press("-");
    assertThat(page.getByTestId("stops")).hasText("-0.5");
    page.keyboard().press("f");
    assertThat(page.getByLabel("Zoom: 1:1")).isVisible();
  }

  private static void everyFrameIsThere(Page page) {
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Sequence")).click();
    assertThat(page.getByText("12 of 12").first()).isVisible();
  }

  private static void theFinishedRunIsWatchedWhileAnotherHasNothingYet(Page page) {
    link(page, "Shots").click();
    page.getByRole(AriaRole.RADIO, new Page.GetByRoleOptions().setName("100 %")).click();
    choose(page, "Recipe: medium", "final");
    assertThat(page.getByLabel("Recipe: final")).isVisible();
    startAnyway(page, "Start render");
    page.waitForURL("**/run/**");
    link(page, "Review").click();
    assertThat(page.getByText("No finished frames yet")).isVisible();
    button(page, "Review front v001").click();
    everyFrameIsThere(page);
  }
}
