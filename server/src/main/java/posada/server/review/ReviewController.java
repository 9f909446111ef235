package posada.server.review;

import java.io.IOException;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import org.springframework.http.CacheControl;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;
import posada.core.image.ViewTransform.Shown;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

@RestController
class ReviewController {
  private final ReviewService review;
  private final RunService runs;

  ReviewController(ReviewService review, RunService runs) {
    this.review = review;
    this.runs = runs;
  }

  @GetMapping(
      path = "/api/runs/strands/{id}/frames/{frame}/picture",
      produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(
      @PathVariable long id,
      @PathVariable int frame,
      @RequestParam(defaultValue = "colour") String channel,
      @RequestParam(defaultValue = "0") double stops,
      @RequestParam(defaultValue = "1920") int most)
      throws IOException {
    Shown shown;
    try {
      shown = Shown.valueOf(channel.toUpperCase(Locale.ROOT));
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(
          "there is no view \"" + channel + "\"; there are colour, red, green, blue, alpha, depth");
    }
    return ResponseEntity.ok()
        .cacheControl(CacheControl.maxAge(1, TimeUnit.HOURS).cachePrivate())
        .body(review.picture(id, frame, shown, stops, most));
  }

  @GetMapping(path = "/api/runs/strands/{id}/archive", produces = "application/zip")
  ResponseEntity<StreamingResponseBody> archive(@PathVariable long id) {
    RunStrand run = runs.find(id);
    String name = String.format("%s_v%03d.zip", run.shot(), run.number());
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment().filename(name).build().toString())
        .body(out -> review.archive(run, out));
  }
}
