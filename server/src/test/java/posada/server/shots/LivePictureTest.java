package posada.server.shots;

import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.plan.FrameRate;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.scenes.SceneLibrary;

class LivePictureTest {
  private final SceneLibrary library = mock(SceneLibrary.class);
  private final LivePicture live =
      new LivePicture(library, mock(RenderThreads.class), new ViewerStreams(), new LastSeen());

  /** Hears what a viewer would. */
  private static final class Viewer extends SseEmitter {
    private final BlockingQueue<String> heard = new LinkedBlockingQueue<>();

    @Override
    public void send(SseEventBuilder event) {
      StringBuilder s = new StringBuilder();
      event.build().forEach(part -> s.append(part.getData()));
      heard.add(s.toString());
    }
  }

  /** Not every error of this kind says that the viewer has left. */
  @Test
  void aFaultIsToldToTheViewer() throws Exception {
    when(library.get(any(), any(RenderDocument.class)))
        .thenThrow(new IllegalStateException("a fault of our own"));
    Viewer v = new Viewer();
    live.show(
        new LivePicture.Request(
            "one",
            null,
            "wide",
            new FrameRate(24),
            1,
            64,
            48,
            LivePicture.Shown.BEAUTY,
            List.of(RenderDocument.DEFAULT),
            null),
        v);
    String told = v.heard.poll(60, TimeUnit.SECONDS);
    assertTrue(told.contains("event:failed") && told.contains("a fault of our own"), told);
  }
}
