package posada.server.shots;

import java.nio.charset.StandardCharsets;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
class CutController {
  private final CutService cuts;

  CutController(CutService cuts) {
    this.cuts = cuts;
  }

  /** Begins to draw several shots. */
  @PostMapping("/api/productions/{id}/cut")
  CutJob start(@PathVariable long id, @RequestBody CutWish wish) {
    return cuts.start(id, wish);
  }

  /** Answers 204 where there is none yet. */
  @GetMapping("/api/productions/{id}/cut")
  ResponseEntity<CutJob> newest(@PathVariable long id) {
    return cuts.newest(id)
        .map(ResponseEntity::ok)
        .orElseGet(() -> ResponseEntity.noContent().build());
  }

  @DeleteMapping("/api/productions/{id}/cut")
  CutJob stop(@PathVariable long id) {
    return cuts.stop(id);
  }

  /**
   * What was drawn.
   *
   * @param save true to have it kept under its name
   */
  @GetMapping("/api/productions/{id}/cut/{number}")
  ResponseEntity<Resource> file(
      @PathVariable long id,
      @PathVariable long number,
      @RequestParam(defaultValue = "false") boolean save) {
    CutService.Made made = cuts.file(id, number);
    ContentDisposition how =
        (save ? ContentDisposition.attachment() : ContentDisposition.inline())
            .filename(made.name(), StandardCharsets.UTF_8)
            .build();
    return ResponseEntity.ok()
        .contentType(MediaType.parseMediaType(made.type()))
        .header(HttpHeaders.CONTENT_DISPOSITION, how.toString())
        .body(new FileSystemResource(made.file()));
  }
}
