package posada.server.review;

import java.util.List;
import java.util.concurrent.TimeUnit;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.review.LightBands;
import posada.core.review.Look;
import posada.formats.review.ChannelGroup;
import posada.formats.review.PixelValues;
import posada.server.review.FootageService.Looked;

/** What can be looked at: strands of runs and sequences from elsewhere. */
@RestController
class FootageController {
  private final FootageService footage;

  FootageController(FootageService footage) {
    this.footage = footage;
  }

  /**
   * A pass of a file.
   *
   * @param light true if exposure and view change how it looks
   */
  record FootagePass(String name, boolean light) {}

  /**
   * What is looked at.
   *
   * @param frames that are there
   * @param width pixels of the first of them that can be read; 0 if none can; height likewise
   * @param passes of the first of them that can be read
   */
  record FootageInfo(
      String key,
      String name,
      List<Integer> frames,
      double frameRate,
      int width,
      int height,
      List<FootagePass> passes) {}

  @GetMapping("/api/footage/{key}")
  FootageInfo info(@PathVariable String key) {
    Looked l = footage.find(FootageKey.of(key));
    FootageService.First first = footage.first(l);
    return new FootageInfo(
        key,
        l.footage().name(),
        l.footage().written(),
        l.rate(),
        first.width(),
        first.height(),
        first.passes().stream().map(g -> new FootagePass(g.name(), g.light())).toList());
  }

  /** A frame as it is looked at; with nothing said, the proxy. */
  @GetMapping(
      path = "/api/footage/{key}/frames/{frame}/picture",
      produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(
      @PathVariable String key,
      @PathVariable int frame,
      @RequestParam(defaultValue = ChannelGroup.BEAUTY) String pass,
      @RequestParam(defaultValue = "COLOUR") Look.Shown shown,
      @RequestParam(defaultValue = "STANDARD") Look.View view,
      @RequestParam(defaultValue = "0") double stops,
      @RequestParam(defaultValue = "1") double gamma,
      @RequestParam(defaultValue = "" + FootageService.PROXY) int most) {
    Look look = new Look(shown, view, stops, gamma);
    return ResponseEntity.ok()
        .cacheControl(CacheControl.maxAge(1, TimeUnit.HOURS).cachePrivate())
        .body(footage.picture(FootageKey.of(key), frame, pass, look, most));
  }

  /** What all passes of a frame hold at a pixel. */
  @GetMapping("/api/footage/{key}/frames/{frame}/values")
  List<PixelValues> values(
      @PathVariable String key, @PathVariable int frame, @RequestParam int x, @RequestParam int y) {
    return footage.values(FootageKey.of(key), frame, x, y);
  }

  /**
   * A colour that stands for luminance.
   *
   * @param from stops from middle grey at which it begins; -20 for the darkest
   * @param colour such as {@code #22377f}
   */
  record LightBand(double from, String colour) {}

  /** What the colours of the view BANDS mean, the darkest first. */
  @GetMapping("/api/looks/bands")
  List<LightBand> bands() {
    return LightBands.all().stream()
        .map(b -> new LightBand(Math.max(-20, b.from()), "#%06x".formatted(b.colour())))
        .toList();
  }
}
