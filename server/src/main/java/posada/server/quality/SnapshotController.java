package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.util.List;
import org.springframework.core.io.FileSystemResource;
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
import org.springframework.web.bind.annotation.RestController;
import posada.formats.gltf.ImportException;

/** Pictures that are kept with their settings. */
@RestController
class SnapshotController {
  private final SnapshotService snapshots;

  SnapshotController(SnapshotService snapshots) {
    this.snapshots = snapshots;
  }

  /** The snapshots of a production, the newest first. */
  @GetMapping("/api/snapshots")
  List<Snapshot> all(@RequestParam long production) {
    return snapshots.all(production);
  }

  /**
   * Which picture is kept.
   *
   * @param viewer whose live picture it is
   * @param name null for the number of the frame
   */
  record NewSnapshot(
      long shotId, long layerId, String viewer, @Schema(types = {"string", "null"}) String name) {
    NewSnapshot {
      if (viewer == null) {
        throw new IllegalArgumentException("viewer must be given");
      }
    }
  }

  /** Keeps the picture that a viewer sees. */
  @PostMapping("/api/snapshots")
  Snapshot keep(@RequestBody NewSnapshot n) throws IOException {
    return snapshots.keep(n.shotId(), n.layerId(), n.viewer(), n.name());
  }

  /** A snapshot's picture. */
  @GetMapping(path = "/api/snapshots/{id}/picture", produces = MediaType.IMAGE_PNG_VALUE)
  ResponseEntity<FileSystemResource> picture(@PathVariable long id) throws IOException {
    return ResponseEntity.ok()
        .cacheControl(CacheControl.noCache())
        .body(new FileSystemResource(snapshots.picture(id)));
  }

  /** A name. */
  record SnapshotName(String name) {
    SnapshotName {
      if (name == null) {
        throw new IllegalArgumentException("a snapshot's name needs 1 .. 100 letters");
      }
    }
  }

  /** Calls a snapshot otherwise. */
  @PutMapping("/api/snapshots/{id}")
  Snapshot rename(@PathVariable long id, @RequestBody SnapshotName n) {
    return snapshots.rename(id, n.name());
  }

  @DeleteMapping("/api/snapshots/{id}")
  void remove(@PathVariable long id) throws IOException {
    snapshots.remove(id);
  }

  /** Brings the settings of a snapshot back. */
  @PostMapping("/api/snapshots/{id}/restore")
  Snapshot restore(@PathVariable long id) throws ImportException {
    return snapshots.restore(id);
  }

  /**
   * How far two pictures are apart.
   *
   * @param apart mean difference of luminance over luminance plus 0.05, 0 and more
   */
  record Apart(double apart) {}

  /** How far a snapshot's picture is from another's. */
  @GetMapping("/api/snapshots/{id}/apart")
  Apart apart(@PathVariable long id, @RequestParam long from) throws IOException {
    return new Apart(snapshots.apart(id, from));
  }
}
