package posada.server.changes;

import io.swagger.v3.oas.annotations.Parameter;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;

@RestController
class ChangeController {
  private final ChangeLog log;

  ChangeController(ChangeLog log) {
    this.log = log;
  }

  @GetMapping("/api/productions/{id}/steps")
  ChangeLog.Steps steps(
      @PathVariable long id,
      @Parameter(hidden = true) @RequestHeader(ChangeLog.WINDOW) String window) {
    return log.steps(id, window);
  }

  @PostMapping("/api/productions/{id}/undo")
  ChangeLog.Done undo(
      @PathVariable long id,
      @Parameter(hidden = true) @RequestHeader(ChangeLog.WINDOW) String window) {
    return log.undo(id, window);
  }

  @PostMapping("/api/productions/{id}/redo")
  ChangeLog.Done redo(
      @PathVariable long id,
      @Parameter(hidden = true) @RequestHeader(ChangeLog.WINDOW) String window) {
    return log.redo(id, window);
  }
}
