package posada.e2e;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static posada.e2e.Chromium.button;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.nio.file.Path;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Where the server asks for a password the pages do too, and say what it lets one do. */
class SignInTest {
  @TempDir Path folder;

  @Test
  void onlyThePasswordLetsOneIn() throws Exception {
    Map<String, String> passwords =
        Map.of("POSADA_PASSWORD", "opens-all", "POSADA_VIEW_PASSWORD", "only-looks");
    try (ServerProcess server = new ServerProcess(folder.resolve("home"), passwords);
        Chromium chromium = new Chromium(server.url("/"))) {
      Page page = chromium.page;
      Locator password = page.getByLabel("Password");
      assertThat(password).isFocused();
      Accessible.check(page, "signing in");
      password.fill("guess");
      password.press("Enter");
      assertThat(page.getByRole(AriaRole.ALERT)).containsText("The password is wrong.");
      password.fill("only-looks");
      button(page, "Sign in").click();
      assertThat(page.getByText("view only")).isVisible();
      assertThat(page.getByText("Drop a scene here")).isVisible();
      page.getByLabel("Sign out").click();
      assertThat(password).isVisible();
      password.fill("opens-all");
      password.press("Enter");
      assertThat(page.getByText("Drop a scene here")).isVisible();
      assertThat(page.getByText("view only")).isHidden();
      page.context().clearCookies();
      page.reload();
      assertThat(password).isVisible();
    }
  }
}
