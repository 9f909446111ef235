package posada.server.estimates;

import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import posada.formats.batch.WhatIf;
import posada.formats.gltf.ImportException;

@RestController
class WhatIfController {
  private final WhatIfService whatIf;
  private final WhatIfChanges changes;

  WhatIfController(WhatIfService whatIf, WhatIfChanges changes) {
    this.whatIf = whatIf;
    this.changes = changes;
  }

  /** What the batch takes as it is, and with each change; what is tried out is told as stale. */
  @GetMapping("/api/whatif")
  List<WhatIfService.Line> all(@RequestParam long production) {
    return whatIf.all(production);
  }

  /** A change of all strands that are on. */
  record Taken(long productionId, WhatIf change) {}

  /** Changes all strands that are on; it is one step to undo. */
  @PostMapping("/api/whatif")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void take(@RequestBody Taken t) throws ImportException {
    changes.take(t.productionId(), t.change());
  }

  /** The samples by which the strands are as clean as a time allows. */
  @GetMapping("/api/fit")
  WhatIfService.Fitting fit(@RequestParam long production, @RequestParam double seconds) {
    return whatIf.fit(production, seconds);
  }

  /** The time that there is. */
  record Time(long productionId, double seconds) {}

  /** Gives strands recipes with those samples; it is one step to undo. */
  @PostMapping("/api/fit")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void take(@RequestBody Time t) {
    changes.fit(t.productionId(), t.seconds());
  }
}
