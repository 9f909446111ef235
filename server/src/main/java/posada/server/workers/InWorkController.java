package posada.server.workers;

import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

@RestController
class InWorkController {
  private final InWork inWork;

  InWorkController(InWork inWork) {
    this.inWork = inWork;
  }

  /** The frame in work as far as it is; 204 if there is nothing to see yet. */
  @GetMapping(path = "/api/runs/strands/{id}/now", produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> now(@PathVariable long id) {
    return inWork
        .of(id)
        .map(jpeg -> ResponseEntity.ok().cacheControl(CacheControl.noStore()).body(jpeg))
        .orElse(ResponseEntity.noContent().build());
  }
}
