package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.formats.gltf.ImportException;
import posada.server.scenes.SceneService;

@RestController
class ShotController {
  private final ShotService shots;
  private final SceneService scenes;
  private final PreviewService previews;
  private final LivePicture live;
  private final CutEdits edits;

  ShotController(
      ShotService shots,
      SceneService scenes,
      PreviewService previews,
      LivePicture live,
      CutEdits edits) {
    this.edits = edits;
    this.shots = shots;
    this.previews = previews;
    this.scenes = scenes;
    this.live = live;
  }

  @GetMapping("/api/shots")
  List<Shot> all(@RequestParam long production) {
    return shots.all(production);
  }

  /** What a new shot is made from. */
  record NewShot(long revisionId, String camera) {}

  @PostMapping("/api/shots")
  Shot add(@RequestBody NewShot s) {
    return shots.add(s.revisionId(), s.camera());
  }

  /** Which revision's cameras shots are made of. */
  record AllCameras(long revisionId) {}

  /** Makes a shot of each camera that has none. */
  @PostMapping("/api/shots/all")
  List<Shot> addAll(@RequestBody AllCameras c) {
    return shots.addAll(c.revisionId());
  }

  /** Which camera is seen from which frames on, up to the last. */
  record Cut(long revisionId, List<CutEdits.Bound> bound, int last, Integer handles) {
    Cut {
      handles = handles == null ? 0 : handles;
    }
  }

  /** Makes a shot of each stretch that a camera is seen in. */
  @PostMapping("/api/shots/cut")
  List<Shot> cut(@RequestBody Cut c) {
    return edits.cut(c.revisionId(), c.bound(), c.last(), c.handles());
  }

  /** Makes another shot like one. */
  @PostMapping("/api/shots/{id}/copy")
  Shot copy(@PathVariable long id) {
    return edits.copy(id);
  }

  /**
   * How shots are named.
   *
   * @param pattern see {@link posada.core.plan.ShotNames}
   * @param take false to only say what they would be called
   */
  record Naming(
      long productionId, List<Long> ids, String pattern, int first, int step, boolean take) {}

  /** Gives shots names by a pattern; answers the names. */
  @PostMapping("/api/shots/names")
  List<String> rename(@RequestBody Naming n) {
    return edits.rename(n.productionId(), n.ids(), n.pattern(), n.first(), n.step(), n.take());
  }

  /** The angle of view behind the shot's lens at frames, degrees; or the height of view, metres. */
  @GetMapping("/api/shots/{id}/views")
  List<Double> views(@PathVariable long id, @RequestParam int first, @RequestParam int count)
      throws ImportException {
    return shots.views(id, first, count);
  }

  /** Brings a production's shots into the order of the numbers. */
  @PutMapping("/api/shots/order")
  List<Shot> order(@RequestParam long production, @RequestBody List<Long> ids) {
    return shots.order(production, ids);
  }

  @PutMapping("/api/shots/{id}")
  Shot change(@PathVariable long id, @RequestBody Shot s) throws ImportException {
    if (s.id() != id) {
      throw new IllegalArgumentException("the shot's number does not match its address");
    }
    return shots.change(s);
  }

  @GetMapping("/api/shots/{id}/estimate")
  ShotService.Estimate estimate(@PathVariable long id, @RequestParam(required = false) Long layer)
      throws ImportException {
    return shots.estimate(id, layer);
  }

  @PostMapping("/api/shots/{id}/meter")
  ShotService.Metered meter(@PathVariable long id, @RequestParam(required = false) Long layer)
      throws ImportException {
    return shots.meter(id, layer);
  }

  @DeleteMapping("/api/shots/{id}/meter")
  void stopMetering(@PathVariable long id) {
    shots.stopMetering(id);
  }

  @DeleteMapping("/api/shots/{id}")
  void remove(@PathVariable long id) {
    shots.remove(id);
    previews.remove(id);
  }

  /** The frames of a range as it is written. */
  record Frames(int count, int first, int last, String shortest) {}

  /**
   * Frames that are written.
   *
   * @param rate frames a second of timecodes in it; 0 if there are none
   */
  @GetMapping("/api/frames")
  Frames frames(@RequestParam String text, @RequestParam(defaultValue = "0") double rate) {
    FrameRange r = FrameRange.parse(rate > 0 ? new FrameRate(rate).frames(text) : text);
    return new Frames(r.size(), r.first(), r.last(), r.toString());
  }

  private static PicturePart part(List<Double> p) {
    if (p == null) {
      return null;
    }
    if (p.size() != 4) {
      throw new IllegalArgumentException("part must be x, y, width and height (got " + p + ")");
    }
    PicturePart part = new PicturePart(p.get(0), p.get(1), p.get(2), p.get(3));
    part.of(1, 1); // Refuses what does not lie in the picture.
    return part;
  }

  /**
   * Sends a {@code picture} for each state; or {@code failed} with a sentence.
   *
   * @param part of the picture: x, y, width and height as shares of it; left out for the whole
   */
  @ApiResponse(
      responseCode = "200",
      content =
          @Content(
              mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
              schema = @Schema(implementation = LivePicture.Update.class)))
  @GetMapping(path = "/api/shots/{id}/live", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter live(
      @PathVariable long id,
      @RequestParam String viewer,
      @RequestParam int frame,
      @RequestParam(defaultValue = "960") int most,
      @RequestParam(defaultValue = "BEAUTY") LivePicture.Shown shown,
      @RequestParam(required = false) Long layer,
      @RequestParam(required = false) List<Double> part) {
    Shot s = shots.find(id);
    Shot.Size size = s.within(Math.max(16, most));
    return live.show(
        new LivePicture.Request(
            viewer,
            scenes.revision(s.revisionId()),
            s.camera(),
            new FrameRate(scenes.productionOf(scenes.revision(s.revisionId())).frameRate()),
            frame,
            size.width(),
            size.height(),
            shown,
            shown.merges() ? shots.documents(s) : List.of(shots.document(s, layer)),
            part(part)));
  }
}
