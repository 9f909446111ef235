package posada.server.review;

import java.io.IOException;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RequestPart;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;
import posada.formats.gltf.ImportException;
import posada.server.shots.PreviewService;

/** Sequences from elsewhere. */
@RestController
class OutsideController {
  private final OutsideService outside;
  private final PreviewService previews;

  OutsideController(OutsideService outside, PreviewService previews) {
    this.outside = outside;
    this.previews = previews;
  }

  @GetMapping("/api/sequences")
  List<OutsideSequence> all(@RequestParam long production) {
    return outside.all(production);
  }

  /**
   * Where a sequence lies.
   *
   * @param path of this machine: a folder or one of its files, a zip, or a film
   */
  record SequencePath(long productionId, String path) {}

  /** Has sequences looked at where they lie; a zip and a film are taken apart. */
  @PostMapping("/api/sequences")
  List<OutsideSequence> open(@RequestBody SequencePath p) throws IOException, ImportException {
    if (p.path() == null || p.path().isBlank()) {
      throw new IllegalArgumentException("Say where the sequence lies: a folder, a zip or a film.");
    }
    return outside.take(p.productionId(), p.path());
  }

  /**
   * A preview that is ready.
   *
   * @param number of the preview
   */
  record PreviewFilmOf(long productionId, long shotId, long number) {}

  /** Takes the frames of a preview's film. */
  @PostMapping("/api/sequences/preview")
  List<OutsideSequence> preview(@RequestBody PreviewFilmOf p) throws IOException, ImportException {
    return outside.take(p.productionId(), previews.film(p.shotId(), p.number()).toString());
  }

  /** Takes a zip, a film, or numbered pictures that are sent. */
  @PostMapping(path = "/api/sequences/files", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
  List<OutsideSequence> take(
      @RequestParam long production, @RequestPart("file") List<MultipartFile> file)
      throws IOException, ImportException {
    return outside.take(
        production,
        file.stream()
            .map(
                f ->
                    new OutsideService.Sent(
                        f.getOriginalFilename() == null ? "file" : f.getOriginalFilename(),
                        f::getInputStream))
            .toList());
  }

  /**
   * At what rate a sequence is played.
   *
   * @param frameRate frames of a second, 1 .. 240
   */
  record SequenceRate(double frameRate) {}

  @PutMapping("/api/sequences/{id}")
  OutsideSequence rate(@PathVariable long id, @RequestBody SequenceRate r) {
    return outside.rate(id, r.frameRate());
  }

  @DeleteMapping("/api/sequences/{id}")
  void remove(@PathVariable long id) throws IOException {
    outside.remove(id);
  }
}
