package posada.server.assembly;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
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
import posada.formats.handover.HandoverCheck;
import posada.server.app.NotFoundException;
import posada.server.assembly.HandoverService.Handed;

/** Handovers over the API. */
@RestController
class HandoverController {
  private final HandoverService handovers;

  HandoverController(HandoverService handovers) {
    this.handovers = handovers;
  }

  @GetMapping("/api/handovers")
  List<Handed> handovers(@RequestParam long production) {
    return handovers.all(production);
  }

  /** What can be handed over, and what should be known before. */
  @GetMapping("/api/handovers/offers")
  List<HandoverService.Offer> offers(@RequestParam long production) throws IOException {
    return handovers.offers(production);
  }

  @PostMapping("/api/handovers")
  Handed start(@RequestBody HandoverService.NewHandover n) throws IOException {
    return handovers.start(n);
  }

  @PostMapping("/api/handovers/{id}/cancel")
  Handed cancel(@PathVariable long id) {
    return handovers.cancel(id);
  }

  @DeleteMapping("/api/handovers/{id}")
  void remove(@PathVariable long id) throws IOException {
    handovers.remove(id);
  }

  /** Reads a folder back: whether everything is there and whole. */
  @PostMapping("/api/handovers/{id}/check")
  HandoverCheck check(@PathVariable long id) throws IOException {
    return handovers.check(id);
  }

  /** The zip; a part of it can be asked for, so that a download can go on. */
  @GetMapping("/api/handovers/{id}/zip")
  ResponseEntity<Resource> zip(@PathVariable long id) {
    Handed h = handovers.find(id);
    Path file = Path.of(h.path());
    if (!h.zip() || !Files.isRegularFile(file)) {
      throw new NotFoundException("This zip is not there any more; hand over again.");
    }
    ContentDisposition as =
        ContentDisposition.attachment()
            .filename(file.getFileName().toString(), StandardCharsets.UTF_8)
            .build();
    return ResponseEntity.ok()
        .header(HttpHeaders.CONTENT_DISPOSITION, as.toString())
        .contentType(MediaType.parseMediaType("application/zip"))
        .body(new FileSystemResource(file));
  }
}
