package posada.server.app;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

@RestController
class EventController {
  private final EventHub hub;

  EventController(EventHub hub) {
    this.hub = hub;
  }

  @ApiResponse(
      responseCode = "200",
      content =
          @Content(
              mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
              schema = @Schema(ref = EventSchemas.NAME)))
  @GetMapping(path = "/api/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter events() {
    return hub.connect();
  }
}
