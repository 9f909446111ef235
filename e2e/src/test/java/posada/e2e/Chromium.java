package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import com.microsoft.playwright.Browser;
import com.microsoft.playwright.BrowserType;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Playwright;
import com.microsoft.playwright.assertions.PlaywrightAssertions;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** Debian's Chromium with one page; closing it fails if the page had an error of its own. */
final class Chromium implements AutoCloseable {
  private static final List<String> FLAGS =
      List.of(
          "--no-sandbox",
          "--disable-background-networking",
          "--disable-component-update",
          "--disable-sync",
          "--no-first-run",
          "--disable-quic");

  private final List<String> faults = new ArrayList<>();
  private final Playwright playwright = Playwright.create();
  private final Browser browser;
  final Page page;

  Chromium(String url) {
    // A busy machine is slow, not wrong.
    PlaywrightAssertions.setDefaultAssertionTimeout(60_000);
    browser =
        playwright
            .chromium()
            .launch(
                new BrowserType.LaunchOptions()
                    .setExecutablePath(Path.of("/usr/bin/chromium"))
                    .setArgs(FLAGS));
    page = browser.newContext(new Browser.NewContextOptions().setViewportSize(1280, 800)).newPage();
    page.setDefaultTimeout(120_000);
    page.onPageError(faults::add);
    page.onResponse(
        r -> {
          if (r.status() == 404) {
            faults.add("not there: " + r.url());
          }
        });
    page.navigate(url);
  }

  static Locator button(Page page, String name) {
    return page.getByRole(
        AriaRole.BUTTON, new Page.GetByRoleOptions().setName(name).setExact(true));
  }

  static Locator link(Page page, String name) {
    return page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName(name));
  }

  /** Opens a list and chooses what begins like this. */
  static void choose(Page page, String list, String begins) {
    page.getByLabel(list).press("ArrowDown");
    // What is typed before the list is there would be lost.
    page.getByRole(AriaRole.LISTBOX).waitFor();
    page.keyboard().type(begins);
    page.keyboard().press("Enter");
  }

  /** Opens a list and presses one of its options. */
  static void pick(Page page, String list, String option) {
    page.getByLabel(list).press("ArrowDown");
    page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName(option)).click();
  }

  /** Starts what a button starts, in spite of what is warned of. */
  static void startAnyway(Page page, String name) {
    button(page, name).click();
    Locator accept = button(page, "Accept and start");
    accept.or(page.getByTestId("ready")).first().waitFor();
    if (accept.isVisible()) {
      accept.click();
    }
  }

  static void importScene(Page page, Path file) {
    page.waitForFileChooser(() -> button(page, "Choose a file").click()).setFiles(file);
  }

  /** Imports a scene with a camera "front" and makes a shot of that. */
  static void shotOf(Page page, Path file) {
    importScene(page, file);
    button(page, "Make a shot").click();
    page.waitForURL("**/shots/front?frame=1");
  }

  @Override
  public void close() {
    browser.close();
    playwright.close();
    assertEquals(List.of(), faults);
  }
}
