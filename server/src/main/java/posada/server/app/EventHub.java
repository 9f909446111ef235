package posada.server.app;

import java.io.IOException;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.springframework.http.MediaType;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Pushes what happens to every open page; slow pages do not hold up the sender. */
@Component
public class EventHub {
  private final Set<SseEmitter> open = ConcurrentHashMap.newKeySet();
  private final ExecutorService sender =
      Executors.newSingleThreadExecutor(
          r -> {
            Thread t = new Thread(r, "events");
            t.setDaemon(true);
            return t;
          });

  SseEmitter connect() {
    SseEmitter emitter = new SseEmitter(0L);
    emitter.onCompletion(() -> open.remove(emitter));
    emitter.onError(e -> open.remove(emitter));
    open.add(emitter);
    publish("hello", "connected");
    return emitter;
  }

  /**
   * Sends an event.
   *
   * @param type what the page listens for
   * @param body turned into JSON
   */
  public void publish(String type, Object body) {
    sender.execute(
        () -> {
          for (SseEmitter e : open) {
            try {
              e.send(SseEmitter.event().name(type).data(body, MediaType.APPLICATION_JSON));
            } catch (IOException | IllegalStateException gone) {
              open.remove(e);
            }
          }
        });
  }

  /** Keeps idle connections alive through anything between, and finds those that are gone. */
  @Scheduled(fixedRate = 15_000)
  void beat() {
    publish("beat", "");
  }
}
