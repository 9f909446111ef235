package posada.server.scenes;

import java.io.IOException;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
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
import posada.core.plan.SceneDifference;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneReading;

@RestController
class SceneController {
  private final SceneService scenes;
  private final RevisionService revisions;

  SceneController(SceneService scenes, RevisionService revisions) {
    this.scenes = scenes;
    this.revisions = revisions;
  }

  @GetMapping("/api/revisions")
  List<Revision> revisions(@RequestParam long production) {
    return scenes.revisions(production);
  }

  /**
   * Imports a scene file.
   *
   * @param hold true to let a newer revision wait until it is taken
   */
  @PostMapping(path = "/api/revisions", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
  Imported take(
      @RequestParam long production,
      @RequestParam(defaultValue = "false") boolean hold,
      @RequestPart("file") MultipartFile file)
      throws IOException, ImportException {
    return scenes.take(production, name(file, "scene"), file.getInputStream(), hold);
  }

  private static String name(MultipartFile file, String otherwise) {
    String given = file.getOriginalFilename();
    return given == null || given.isBlank() ? otherwise : given;
  }

  /** Revisions that have arrived and wait to be taken, newest first. */
  @GetMapping("/api/revisions/waiting")
  List<Revision> waiting(@RequestParam long production) {
    return revisions.waiting(production);
  }

  /**
   * How a revision is taken.
   *
   * @param renamed objects and cameras that have other names in it
   */
  record Taking(List<RevisionService.Renaming> renamed) {
    Taking {
      renamed = renamed == null ? List.of() : renamed;
    }
  }

  /** A sentence for each thing that would not fit a revision. */
  @PostMapping("/api/revisions/{id}/unfit")
  List<String> unfit(@PathVariable long id, @RequestBody Taking taking) throws ImportException {
    return revisions.unfit(id, taking.renamed);
  }

  /** Takes a revision that waits. */
  @PostMapping("/api/revisions/{id}/take")
  Imported accept(@PathVariable long id, @RequestBody Taking taking)
      throws IOException, ImportException {
    return revisions.accept(id, taking.renamed);
  }

  /** Lets everything go to another revision that is there, such as back to an older one. */
  @PostMapping("/api/revisions/{id}/use")
  Imported use(@PathVariable long id, @RequestBody Taking taking)
      throws IOException, ImportException {
    return revisions.use(id, taking.renamed);
  }

  /** Throws a revision away that waits. */
  @DeleteMapping("/api/revisions/{id}")
  void discard(@PathVariable long id) throws IOException {
    revisions.discard(id);
  }

  /** Lets a revision's file be read otherwise. */
  @PutMapping("/api/revisions/{id}/reading")
  Revision read(@PathVariable long id, @RequestBody SceneReading reading)
      throws IOException, ImportException {
    return revisions.read(id, reading);
  }

  /**
   * Adds a picture to a revision's files.
   *
   * @param instead name of a missing file in whose place it is used
   */
  @PostMapping(
      path = "/api/revisions/{id}/pictures",
      consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
  RevisionService.AddedPicture add(
      @PathVariable long id,
      @RequestParam(required = false) String instead,
      @RequestPart("file") MultipartFile file)
      throws IOException, ImportException {
    return revisions.add(id, name(file, "picture"), file.getInputStream(), instead);
  }

  /** What is another in a revision than in an earlier one of the same scene. */
  @GetMapping("/api/revisions/{id}/difference")
  SceneDifference difference(@PathVariable long id, @RequestParam long from)
      throws ImportException {
    return revisions.difference(from, id);
  }

  /**
   * A small picture of what a camera sees.
   *
   * @param rig counts changes of the scene's rig; only tells pictures apart
   * @param read tells states of the scene apart likewise
   */
  @GetMapping(path = "/api/revisions/{id}/picture", produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(
      @PathVariable long id,
      @RequestParam String camera,
      @RequestParam int frame,
      @RequestParam(defaultValue = "320") int width,
      @RequestParam(defaultValue = "0") int rig,
      @RequestParam(defaultValue = "") String read)
      throws IOException, ImportException {
    return ResponseEntity.ok()
        .cacheControl(CacheControl.maxAge(1, TimeUnit.HOURS).cachePrivate())
        .body(scenes.cameraPicture(id, camera, frame, width));
  }
}
