package posada.server.shots;

import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.formats.gltf.ImportException;
import posada.formats.preview.PreviewRecipe;

@RestController
class PreviewController {
  private static final MediaType MP4 = MediaType.parseMediaType("video/mp4");
  private final PreviewService previews;

  PreviewController(PreviewService previews) {
    this.previews = previews;
  }

  @PostMapping("/api/shots/{id}/preview")
  PreviewJob start(
      @PathVariable long id,
      @RequestParam(required = false) Long layer,
      @RequestParam(required = false) String frames,
      @RequestBody PreviewRecipe recipe)
      throws ImportException {
    return previews.start(id, layer, frames, recipe);
  }

  /** Answers 204 where there is none yet. */
  @GetMapping("/api/shots/{id}/preview")
  ResponseEntity<PreviewJob> newest(@PathVariable long id) {
    return previews
        .newest(id)
        .map(ResponseEntity::ok)
        .orElseGet(() -> ResponseEntity.noContent().build());
  }

  @DeleteMapping("/api/shots/{id}/preview")
  PreviewJob stop(@PathVariable long id) {
    return previews.stop(id);
  }

  @GetMapping(path = "/api/shots/{id}/preview/{number}.mp4", produces = "video/mp4")
  ResponseEntity<Resource> film(@PathVariable long id, @PathVariable long number) {
    return ResponseEntity.ok()
        .contentType(MP4)
        .body(new FileSystemResource(previews.film(id, number)));
  }
}
