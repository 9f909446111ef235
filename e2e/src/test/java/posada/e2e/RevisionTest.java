package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static posada.e2e.Chromium.button;
import static posada.e2e.Chromium.importScene;
import static posada.e2e.Chromium.link;
import static posada.e2e.Chromium.pick;

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

/** A cut of one scene, previewed as one film, and its next revision, there and back. */
class RevisionTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  @Test
  void aCutIsPreviewedAndItsSceneReplaced() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"));
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      importScene(page, SmallScene.write(folder, "0.8,0.1,0.1", true));
      assertThat(page.getByText("1 – 12").first()).isVisible();
      fourShotsBecomeOneFilm(page);
      theNextRevisionIsTaken(page, server);
      bothAreSeenAndOneGoesBack(page, server);
      theFileIsReadOtherwise(page);
    }
  }

  private static void fourShotsBecomeOneFilm(Page page) {
    link(page, "Shots").click();
    button(page, "Make a shot").click();
    page.getByRole(AriaRole.MENUITEM).first().click();
    button(page, "Remove shot").isVisible();
    page.getByText("Shots from bound cameras").click();
    for (int i = 1; i < 4; i++) {
      button(page, "Another camera").click();
    }
    for (int i = 1; i <= 4; i++) {
      page.getByLabel("Camera " + i + " from frame").fill("" + (3 * i - 2));
    }
    pick(page, "Camera 3:", "front");
    pick(page, "Camera 4:", "side");
    button(page, "Make 4 shots").click();
    assertThat(page.getByText("4 shots are made.")).isVisible();
    assertThat(page.getByLabel("Shots").getByText("through side")).hasCount(2);

    page.getByText("Rename shots").click();
    page.getByLabel("Pattern").fill("cut-{number:2}");
    assertThat(page.getByLabel("New names")).containsText("cut-50");
    Accessible.check(page, "Rename shots");
    page.getByRole(AriaRole.CHECKBOX).first().uncheck();
    assertThat(page.getByLabel("New names")).not().containsText("cut-50");
    button(page, "Rename 4 shots").click();
    assertThat(page.getByText("4 shots are renamed.")).isVisible();

    button(page, "Preview").click();
    pick(page, "Of:", "all shots");
    pick(page, "As:", "one film");
    page.getByLabel("Range").fill("1-11");
    button(page, "Make preview").click();
    LocatorAssertions.IsVisibleOptions patiently =
        new LocatorAssertions.IsVisibleOptions().setTimeout(120_000);
    assertThat(page.getByTestId("preview-film")).isVisible(patiently);
    // The first shot is of the whole scene: 11 frames, and the cut's 11 again.
    assertThat(page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("Film")))
        .containsText("22 frames, 960 × 540");
    pick(page, "As:", "a contact sheet, PNG");
    button(page, "Make preview").click();
    assertThat(page.getByAltText("Contact sheet")).isVisible(patiently);
    Accessible.check(page, "Preview");
    button(page, "Close").click();
  }

  private static long revisionOf(ServerProcess server, int shot) throws Exception {
    JsonNode all = JSON.readTree(server.get("/api/shots?production=1"));
    assertEquals(5, all.size());
    return all.get(shot).get("revisionId").asLong();
  }

  private void theNextRevisionIsTaken(Page page, ServerProcess server) throws Exception {
    link(page, "Scene").click();
    Path next = SmallScene.renamed(Files.createDirectories(folder.resolve("next")));
    page.waitForFileChooser(() -> button(page, "Import").click()).setFiles(next);
    Locator other = page.getByLabel("What is another");
    assertThat(other).containsText("slider is sledge now");
    Accessible.check(page, "what a revision changes");
    // It waits for as long as nobody decides.
    button(page, "Later").click();
    assertThat(page.getByText("r2 has arrived.")).isVisible();
    page.reload();
    button(page, "see what changes").click();
    button(page, "Take r2").click();
    assertThat(page.getByText("Everything of slider uses r2 now.")).isVisible();
    assertThat(page.getByText("r2 has arrived.")).hasCount(0);
    for (int i = 0; i < 5; i++) {
      assertEquals(2, revisionOf(server, i));
    }
  }

  private static void bothAreSeenAndOneGoesBack(Page page, ServerProcess server) throws Exception {
    page.getByRole(AriaRole.TAB, new Page.GetByRoleOptions().setName("Wipe")).click();
    assertThat(page.getByLabel("Wipe between r1 and r2"))
        .isVisible(new LocatorAssertions.IsVisibleOptions().setTimeout(60_000));
    Accessible.check(page, "two revisions");
    pick(page, "Revision:", "slider r1");
    assertThat(page.getByText("5 shots are of r2")).isVisible();
    button(page, "use r1").click();
    assertThat(page.getByLabel("What is another")).containsText("sledge is slider now");
    button(page, "Use r1").click();
    assertThat(page.getByText("Everything of slider uses r1 now.")).isVisible();
    assertEquals(1, revisionOf(server, 4));
  }

  private static void theFileIsReadOtherwise(Page page) {
    pick(page, "Unit of the file", "centimetres");
    assertThat(page.getByText("The file is read in centimetres.")).isVisible();
    assertThat(page.getByLabel("Report")).containsText("2.0 cm across");
    page.getByLabel("slide plays").uncheck();
    assertThat(page.getByText("slide does not play.")).isVisible();
    assertThat(page.getByLabel("Report")).not().containsText("1-12");
    for (int i = 0; i < 2; i++) {
      page.keyboard().press("Control+z");
    }
    assertThat(page.getByLabel("Report")).containsText("2.00 m across");
    assertThat(page.getByLabel("slide plays")).isChecked();
  }
}
