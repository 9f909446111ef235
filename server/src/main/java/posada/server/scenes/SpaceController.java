package posada.server.scenes;

import io.swagger.v3.oas.annotations.media.Schema;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.springframework.http.CacheControl;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.context.request.WebRequest;
import posada.core.geometry.Vec3;
import posada.core.plan.ObjectDetails;
import posada.core.rig.Ease;
import posada.core.rig.PathSpeed;
import posada.core.rig.RigLight;
import posada.core.rig.Stops;
import posada.core.rig.ThreePanels;
import posada.formats.gltf.ImportException;

/** The view of a scene, and what helps to move a camera in it. */
@RestController
class SpaceController {
  private final SpaceService space;
  private final SceneService scenes;

  SpaceController(SpaceService space, SceneService scenes) {
    this.space = space;
    this.scenes = scenes;
  }

  /** What is placed where; docs/architecture.md says how the bytes are laid out. */
  @GetMapping(
      path = "/api/revisions/{id}/space",
      produces = MediaType.APPLICATION_OCTET_STREAM_VALUE)
  byte[] space(@PathVariable long id) throws ImportException {
    return space.space(id);
  }

  /** The shapes of the meshes; the same until a file, a light or a material changes. */
  @GetMapping(
      path = "/api/revisions/{id}/space/shapes",
      produces = MediaType.APPLICATION_OCTET_STREAM_VALUE)
  ResponseEntity<byte[]> shapes(
      @PathVariable long id,
      @RequestParam SpaceService.Detail detail,
      @Schema(hidden = true) WebRequest request)
      throws ImportException {
    String tag = space.shapesTag(scenes.revision(id)) + detail;
    if (request.checkNotModified(tag)) {
      return null;
    }
    return ResponseEntity.ok()
        .cacheControl(CacheControl.noCache().cachePrivate())
        .eTag(tag)
        .body(space.shapes(id, detail));
  }

  /** Where posed nodes are. */
  @GetMapping(
      path = "/api/revisions/{id}/space/poses",
      produces = MediaType.APPLICATION_OCTET_STREAM_VALUE)
  byte[] poses(@PathVariable long id, @RequestParam int first, @RequestParam int count)
      throws ImportException {
    return space.poses(id, first, count);
  }

  /** What joints and morph targets bend, as it is at frames. */
  @GetMapping(
      path = "/api/revisions/{id}/space/bent",
      produces = MediaType.APPLICATION_OCTET_STREAM_VALUE)
  byte[] bent(@PathVariable long id, @RequestParam int first, @RequestParam int count)
      throws ImportException {
    return space.bent(id, first, count);
  }

  /** What the rig adds, as a glTF file of its own. */
  @GetMapping(path = "/api/revisions/{id}/rig.glb", produces = "model/gltf-binary")
  ResponseEntity<byte[]> rig(@PathVariable long id) throws ImportException {
    String name = scenes.revision(id).scene() + "-rig.glb";
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment()
                .filename(name, StandardCharsets.UTF_8)
                .build()
                .toString())
        .body(space.rigFile(id));
  }

  /** How fast a camera is from frame to frame. */
  @GetMapping("/api/revisions/{id}/space/speed")
  PathSpeed.CameraSpeed speed(
      @PathVariable long id,
      @RequestParam String camera,
      @RequestParam int first,
      @RequestParam int last)
      throws ImportException {
    return space.speed(id, camera, first, last);
  }

  /** One object as it is at a frame, with what hangs on it. */
  @GetMapping("/api/revisions/{id}/space/object")
  ObjectDetails object(@PathVariable long id, @RequestParam String name, @RequestParam int frame)
      throws ImportException {
    return space.object(id, name, frame);
  }

  /** A move from stop to stop. */
  record StopsWanted(List<Stops.CameraStop> stops, int first, double rate, Ease ease) {}

  /** Turns stops with seconds into keys on frames, and says the move in words. */
  @PostMapping("/api/moves/stops")
  Stops.StopsMove stops(@RequestBody StopsWanted w) {
    return Stops.keys(w.stops(), w.first(), w.rate(), w.ease());
  }

  /**
   * What is to be lit.
   *
   * @param low corner of it, metres
   * @param high corner opposite
   * @param prefix of the lights' names
   */
  record ToLight(List<Double> low, List<Double> high, String prefix) {
    ToLight {
      if (low == null || high == null || low.size() != 3 || high.size() != 3) {
        throw new IllegalArgumentException("low and high must be three numbers each");
      }
      prefix = prefix == null ? "" : prefix;
    }

    private static Vec3 corner(List<Double> c) {
      return new Vec3(c.get(0), c.get(1), c.get(2));
    }
  }

  /** Returns three panels around something that has no light. */
  @PostMapping("/api/moves/panels")
  List<RigLight> panels(@RequestBody ToLight t) {
    return ThreePanels.around(ToLight.corner(t.low()), ToLight.corner(t.high()), t.prefix());
  }
}
