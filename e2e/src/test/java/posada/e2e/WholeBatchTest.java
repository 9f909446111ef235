package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.choose;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.assertions.LocatorAssertions;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A batch that is rendered, changed, and brought up to date by rendering what changed. */
class WholeBatchTest {
  @TempDir Path folder;

  private static LocatorAssertions.ContainsTextOptions patiently() {
    return new LocatorAssertions.ContainsTextOptions().setTimeout(180_000);
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
      button(page, "Start 1 strand").click();
      Locator ready = page.getByTestId("ready");
      assertThat(ready).containsText("done", patiently());
      assertThat(page.getByLabel("Report")).containsText("4 rendered");
      Accessible.check(page, "Run");

      // The same again renders nothing.
      link(page, "Board").click();
      assertThat(page.getByText("4 fresh").first()).isVisible();
      button(page, "Start 1 strand").click();
      assertThat(ready).containsText("all fresh", patiently());

      // A new revision of the scene in which one material is another.
      Path other = Files.createDirectories(folder.resolve("other"));
      link(page, "Scene").click();
      Path green = SmallScene.write(other, "0.1,0.8,0.1");
      page.waitForFileChooser(() -> button(page, "Import").click()).setFiles(green);
      assertThat(page.getByText("r2").first()).isVisible();
      link(page, "Board").click();
      assertThat(page.getByText("4 stale").first()).isVisible();
      Locator why = page.getByLabel("Why frames are not fresh");
      assertThat(why).containsText("1-4 material of slider");
      button(page, "keep as they are").click();
      assertThat(page.getByText("4 fresh").first()).isVisible();
      button(page, "kept; render again").click();
      assertThat(page.getByText("4 stale").first()).isVisible();
      button(page, "Start 1 strand").click();
      assertThat(page.getByTestId("folder")).containsText("v002", patiently());
      assertThat(ready).containsText("done", patiently());
      assertThat(page.getByLabel("Report")).containsText("4 rendered");
    }
  }
}
