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
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RequestPart;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;
import posada.formats.gltf.ImportException;

@RestController
class SceneController {
  private final SceneService scenes;
  private final List<RevisionFollower> followers;

  SceneController(SceneService scenes, List<RevisionFollower> followers) {
    this.scenes = scenes;
    this.followers = followers;
  }

  @GetMapping("/api/production")
  Production production() {
    return scenes.production();
  }

  @PutMapping("/api/production")
  Production change(@RequestBody Production p) {
    return scenes.change(p);
  }

  @GetMapping("/api/revisions")
  List<Revision> revisions() {
    return scenes.revisions();
  }

  /**
   * A revision that was taken in.
   *
   * @param unfit shots that could not follow it, each with the reason
   */
  record Taken(Revision revision, List<String> unfit) {}

  @PostMapping(path = "/api/revisions", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
  Taken take(@RequestPart("file") MultipartFile file) throws IOException, ImportException {
    String name = file.getOriginalFilename() == null ? "scene" : file.getOriginalFilename();
    Revision r = scenes.take(name, file.getInputStream());
    return new Taken(r, followers.stream().flatMap(f -> f.follow(r).stream()).toList());
  }

  @GetMapping(
      path = "/api/revisions/{id}/cameras/{camera}/picture",
      produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(
      @PathVariable long id,
      @PathVariable String camera,
      @RequestParam int frame,
      @RequestParam(defaultValue = "320") int width)
      throws IOException, ImportException {
    return ResponseEntity.ok()
        .cacheControl(CacheControl.maxAge(1, TimeUnit.HOURS).cachePrivate())
        .body(scenes.cameraPicture(id, camera, frame, width));
  }
}
