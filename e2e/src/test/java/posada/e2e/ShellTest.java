package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.io.IOException;
import java.nio.file.Path;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What holds at every station: addresses, undo, the finder, productions. */
class ShellTest {
  @TempDir Path folder;

  @Test
  void oneFindsOnesWayBackFromEverywhere() throws Exception {
    Path home = folder.resolve("home");
    String deep;
    try (ServerProcess server = new ServerProcess(home);
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      assertThat(page.getByText("Drop a scene here")).isVisible();
      Accessible.check(page, "an empty production");
      importScene(page, SmallScene.write(folder));
      button(page, "Make a shot").click();
      addressesLeadBack(page, server);
      changesAreUndoneAcrossStationsAndReloads(page);
      windowsShareOneStream(page, server);
      aRemovedShotComesBack(page);
      theFinderGoesAnywhere(page);
      productionsLieSideBySide(page);
      deep = page.url();
    }
    try (ServerProcess server = new ServerProcess(home);
        Chromium chromium =
            new Chromium(server.url(deep.substring(deep.indexOf('/', "http://".length()))))) {
      assertThat(chromium.page.getByLabel("Production: Second reel")).isVisible();
    }
  }

  private static Locator samples(Page page, int n) {
    return page.getByLabel("Samples: " + n);
  }

  private static void addressesLeadBack(Page page, ServerProcess server) {
    page.waitForURL("**/shots/front?frame=1");
    // The address is there before the station, which listens to keys.
    assertThat(page.getByText("00:00:00:01")).isVisible();
    page.locator("body").press("ArrowRight");
    page.waitForURL("**/shots/front?frame=2");
    page.keyboard().press("6");
    page.waitForURL("**/run/front?frame=2");
    Accessible.check(page, "Run without a run");
    page.goBack();
    page.waitForURL("**/shots/front?frame=2");
    page.reload();
    assertThat(page.getByTestId("live-picture")).isVisible();
    assertThat(page.getByText("00:00:00:02")).isVisible();
    page.navigate(server.url("/nowhere/shots"));
    assertThat(page.getByText("No production at this address")).isVisible();
    page.goBack();
    page.waitForURL("**/shots/front?frame=2");
    assertEquals(
        "[\"posada-theme\"]",
        page.evaluate("JSON.stringify(Object.keys(localStorage))").toString());
  }

  private static void changesAreUndoneAcrossStationsAndReloads(Page page) {
    link(page, "Board").click();
    choose(page, "Samples: 64", "8");
    assertThat(samples(page, 8)).isVisible();
    page.waitForResponse(
        r ->
            r.request().method().equals("PUT")
                && r.request().postData().contains("\"picture\":false"),
        () -> choose(page, "Denoise: on", "off"));
    page.reload();
    assertThat(samples(page, 8)).isVisible();
    assertThat(page.getByLabel("Denoise: off").first()).isVisible();
    page.keyboard().press("1");
    page.waitForURL("**/scene/**");
    page.keyboard().press("Control+z");
    assertThat(page.getByRole(AriaRole.STATUS)).containsText("Undone: denoise");
    page.keyboard().press("5");
    assertThat(page.getByLabel("Denoise: on").first()).isVisible();
    page.keyboard().press("Control+z");
    assertThat(samples(page, 64)).isVisible();
    page.keyboard().press("Control+Shift+z");
    assertThat(samples(page, 8)).isVisible();
  }

  private static void windowsShareOneStream(Page page, ServerProcess server) throws IOException {
    Page other = page.context().newPage();
    other.navigate(page.url());
    choose(page, "Samples: 8", "16");
    assertThat(samples(other, 16)).isVisible();
    assertEquals(1, server.streams());
    page.keyboard().press("Control+z");
    assertThat(samples(other, 8)).isVisible();
    theLaterWindowIsTold(page, other);
    other.close();
    assertThat(samples(page, 8)).isVisible();
  }

  /** What is typed in one window stays while another one changes it; then the lead decides. */
  private static void theLaterWindowIsTold(Page page, Page other) {
    Locator mine = page.getByLabel("Name of the layer");
    Locator theirs = other.getByLabel("Name of the layer");
    mine.fill("mine");
    theirs.fill("theirs");
    theirs.press("Enter");
    Locator told = page.getByRole(AriaRole.STATUS);
    assertThat(told).containsText("was changed to \"theirs\" in another window while you typed");
    assertThat(mine).hasValue("mine");
    mine.press("Enter");
    assertThat(theirs).hasValue("mine");
    assertThat(told).not().containsText("was changed");
    mine.fill("more");
    theirs.fill("main");
    theirs.press("Enter");
    assertThat(told).containsText("was changed to \"main\"");
    mine.press("Escape");
    assertThat(mine).hasValue("main");
    assertThat(told).not().containsText("was changed");
  }

  private static void aRemovedShotComesBack(Page page) {
    link(page, "Shots").click();
    button(page, "Remove shot").click();
    assertThat(page.getByText("No shots yet")).isVisible();
    button(page, "Undo").click();
    assertThat(page.getByText("8 samples").first()).isVisible();
  }

  private static void theFinderGoesAnywhere(Page page) {
    page.keyboard().press("Control+k");
    assertThat(page.getByPlaceholder("Find a station")).isVisible();
    Accessible.check(page, "the finder");
    page.keyboard().type("rev");
    page.keyboard().press("Enter");
    page.waitForURL("**/review/**");
    Accessible.check(page, "Review without frames");
    page.keyboard().press("Control+k");
    page.keyboard().type("front");
    page.keyboard().press("Enter");
    page.waitForURL("**/shots/front?**");
  }

  private static void productionsLieSideBySide(Page page) {
    page.getByLabel(Pattern.compile("^Production: ")).click();
    page.getByRole(AriaRole.MENUITEM, new Page.GetByRoleOptions().setName("Copy")).click();
    page.waitForURL("**/copy-of-**");
    Accessible.check(page, "a production's dialog");
    Locator dialog = page.getByRole(AriaRole.DIALOG);
    dialog.getByLabel("Frame rate").fill("0");
    button(page, "Save").click();
    assertThat(dialog.getByRole(AriaRole.ALERT)).containsText("frame rate must be");
    dialog.getByLabel("Frame rate").fill("25");
    dialog.getByLabel("Name").fill("Second reel");
    button(page, "Save").click();
    page.waitForURL("**/second-reel/scene**");
    link(page, "Board").click();
    assertThat(samples(page, 8)).isVisible();
    assertThat(page.getByText("25 fps").first()).isVisible();
    choose(page, "Samples: 8", "256");
    assertThat(samples(page, 256)).isVisible();
    page.getByLabel("Production: Second reel").click();
    page.getByRole(AriaRole.MENUITEM).first().click();
    link(page, "Board").click();
    assertThat(samples(page, 8)).isVisible();
    page.goBack();
    page.goBack();
    assertThat(page.getByLabel("Production: Second reel")).isVisible();
  }
}
