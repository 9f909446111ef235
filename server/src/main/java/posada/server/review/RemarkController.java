package posada.server.review;

import java.time.Instant;
import java.util.List;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;

/** Notes on frames. */
@RestController
class RemarkController {
  private static final int LONGEST = 2000, LONGEST_NAME = 100;

  private final RemarkRepository remarks;
  private final FootageService footage;
  private final EventHub events;

  RemarkController(RemarkRepository remarks, FootageService footage, EventHub events) {
    this.remarks = remarks;
    this.footage = footage;
    this.events = events;
  }

  @GetMapping("/api/remarks")
  List<Remark> all(@RequestParam long production) {
    return remarks.all(production);
  }

  /** A note that is written; see {@link Remark}. */
  record NewRemark(
      String footage,
      int frame,
      String text,
      double x,
      double y,
      double width,
      double height,
      String who) {}

  @PostMapping("/api/remarks")
  Remark add(@RequestBody NewRemark n) {
    long production = footage.find(FootageKey.of(n.footage())).production();
    String who = n.who() == null ? "" : n.who().strip();
    return put(
        new Remark(
            0,
            n.footage(),
            production,
            n.frame(),
            n.text(),
            n.x(),
            n.y(),
            n.width(),
            n.height(),
            who,
            Instant.now(),
            false));
  }

  /** What is changed about a note. */
  record RemarkChange(String text, boolean done) {}

  @PutMapping("/api/remarks/{id}")
  Remark change(@PathVariable long id, @RequestBody RemarkChange c) {
    Remark m = find(id);
    return put(
        new Remark(
            m.id(),
            m.footage(),
            m.productionId(),
            m.frame(),
            c.text(),
            m.x(),
            m.y(),
            m.width(),
            m.height(),
            m.who(),
            m.writtenAt(),
            c.done()));
  }

  private Remark put(Remark m) {
    if (m.text() == null || m.text().isBlank() || m.text().length() > LONGEST) {
      throw new IllegalArgumentException("a note has 1 .. 2000 letters");
    }
    if (m.who().length() > LONGEST_NAME) {
      throw new IllegalArgumentException("a name has at most 100 letters");
    }
    for (double v : new double[] {m.x(), m.y(), m.width(), m.height()}) {
      if (!(v >= 0 && v <= 1)) {
        throw new IllegalArgumentException(
            "a box's shares of the picture are 0 .. 1 (got " + v + ")");
      }
    }
    Remark kept = find(remarks.put(m));
    events.publish(new Stale(Stale.Kind.REMARKS));
    return kept;
  }

  private Remark find(long id) {
    return remarks
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no note " + id + " any more."));
  }

  @DeleteMapping("/api/remarks/{id}")
  void remove(@PathVariable long id) {
    find(id);
    remarks.remove(id);
    events.publish(new Stale(Stale.Kind.REMARKS));
  }
}
