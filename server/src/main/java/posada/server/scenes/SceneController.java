package posada.server.scenes;

import java.io.IOException;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RequestPart;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;
import posada.core.plan.SceneDifference;
import posada.formats.gltf.ImportException;

@RestController
class SceneController {
  private final SceneService scenes;

  SceneController(SceneService scenes) {
    this.scenes = scenes;
  }

  @GetMapping("/api/revisions")
  List<Revision> revisions(@RequestParam long production) {
    return scenes.revisions(production);
  }

  @PostMapping(path = "/api/revisions", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
  Imported take(@RequestParam long production, @RequestPart("file") MultipartFile file)
      throws IOException, ImportException {
    String name = file.getOriginalFilename() == null ? "scene" : file.getOriginalFilename();
    return scenes.take(production, name, file.getInputStream());
  }

  /** What is another in a revision than in an earlier one of the same scene. */
  @GetMapping("/api/revisions/{id}/difference")
  SceneDifference difference(@PathVariable long id, @RequestParam long from)
      throws ImportException {
    return scenes.difference(from, id);
  }

  /**
   * A small picture of what a camera sees.
   *
   * @param rig counts changes of the scene's rig; only tells pictures apart
   */
  @GetMapping(path = "/api/revisions/{id}/picture", produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(
      @PathVariable long id,
      @RequestParam String camera,
      @RequestParam int frame,
      @RequestParam(defaultValue = "320") int width,
      @RequestParam(defaultValue = "0") int rig)
      throws IOException, ImportException {
    return ResponseEntity.ok()
        .cacheControl(CacheControl.maxAge(1, TimeUnit.HOURS).cachePrivate())
        .body(scenes.cameraPicture(id, camera, frame, width));
  }
}
