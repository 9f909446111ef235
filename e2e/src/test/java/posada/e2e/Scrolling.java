package posada.e2e;

import static org.junit.jupiter.api.Assertions.fail;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.BoundingBox;
import java.util.List;

/** How fluently something scrolls, against the same page at rest. */
final class Scrolling {
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

  private Scrolling() {}

  /** Tries, of which one has to be fluent: something else may have had the processors. */
  private static final int TRIES = 4;

  /** Fails if pictures come much more slowly while something scrolls. */
  static void staysFluent(Page page, String selector, boolean across) {
    StringBuilder tries = new StringBuilder();
    for (int i = 0; i < TRIES; i++) {
      double scrolled = median(page, selector, across);
      double still = pace(page);
      tries.append(
          "scrolling %s %s: %.1f ms a picture, %.1f ms at rest%n"
              .formatted(selector, across ? "across" : "down", scrolled, still));
      if (scrolled < 2.5 * still) {
        System.out.print(tries);
        return;
      }
    }
    fail(tries.toString());
  }

  /** Milliseconds between two pictures of the page as it is, over two seconds. */
  static double pace(Page page) {
    return median(page, "body", false);
  }

  /**
   * Turns the view of a scene for two seconds, or until there is a picture; answers the
   * milliseconds of a picture, infinite if a minute brings none.
   */
  static double orbit(Page page) {
    BoundingBox well = page.getByTestId("space").boundingBox();
    double x = well.x + well.width / 2, y = well.y + well.height / 2;
    page.mouse().move(x, y);
    page.mouse().down();
    int before = pictures(page);
    long start = System.nanoTime();
    double seconds = 0;
    int shown = 0;
    for (int i = 0; seconds < 2 || shown == 0 && seconds < 60; i++) {
      page.mouse().move(x + 2 * (i % 90), y + i % 20);
      seconds = (System.nanoTime() - start) * 1e-9;
      shown = seconds < 2 ? 0 : pictures(page) - before;
    }
    page.mouse().up();
    return shown == 0 ? Double.POSITIVE_INFINITY : 1000 * seconds / shown;
  }

  private static int pictures(Page page) {
    return Integer.parseInt(page.getByTestId("space").getAttribute("data-pictures"));
  }

  private static double median(Page page, String selector, boolean across) {
    List<?> all = (List<?>) page.evaluate(SCROLL, List.of(selector, across));
    return ((Number) all.get(all.size() / 2)).doubleValue();
  }
}
