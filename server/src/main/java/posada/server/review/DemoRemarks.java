package posada.server.review;

import java.time.Instant;
import org.springframework.stereotype.Component;
import org.springframework.transaction.event.TransactionalEventListener;
import posada.server.app.EventHub;
import posada.server.app.PosadaProperties;
import posada.server.app.Stale;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Writes two notes on the demo production's first strand when it is rendered. */
@Component
class DemoRemarks {
  private final PosadaProperties properties;
  private final RunService runs;
  private final RemarkRepository remarks;
  private final EventHub events;

  DemoRemarks(
      PosadaProperties properties, RunService runs, RemarkRepository remarks, EventHub events) {
    this.properties = properties;
    this.runs = runs;
    this.remarks = remarks;
    this.events = events;
  }

  @TransactionalEventListener(fallbackExecution = true)
  void rendered(RunService.StrandEnded e) {
    if (!properties.demo().isBlank()) {
      // Not in what is being committed.
      new Thread(() -> begin(e.strandId()), "demo-remarks").start();
    }
  }

  private void begin(long strand) {
    RunStrand s = runs.find(strand);
    if (!remarks.all(s.productionId()).isEmpty()) {
      return;
    }
    note(s, 1, "The lamps should warm the path a little more.", 0.18, 0.52, 0.16, 0.36);
    note(s, 45, "Does the car read well before the trees?", 0.24, 0.36, 0.14, 0.14);
    events.publish(new Stale(Stale.Kind.REMARKS));
  }

  private void note(
      RunStrand s, int frame, String text, double x, double y, double width, double height) {
    remarks.put(
        new Remark(
            0,
            FootageKey.strand(s.id()).toString(),
            s.productionId(),
            frame,
            text,
            x,
            y,
            width,
            height,
            "Ines",
            Instant.now(),
            false));
  }
}
