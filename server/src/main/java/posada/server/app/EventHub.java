package posada.server.app;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.util.Set;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.web.ErrorResponseException;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Pushes what happens to every open page. Each has a thread and a queue of its own, so that one
 * which does not read holds up neither the sender nor the others; one that falls too far behind is
 * dropped, and loads everything anew when it connects again.
 */
@Component
public class EventHub {
  /** Events that a page may be behind. */
  static final int MOST_BEHIND = 2000;

  /** Says that from here on everything is heard. */
  @Pushed("connected")
  record Connected() {}

  /** Pages that may be open. */
  private static final int MOST_PAGES = 1000;

  /** Says nothing but that the stream is open. */
  @Pushed("beat")
  record Beat() {}

  /** Where events go: an open page. */
  interface Reader {
    void send(String name, Object body) throws IOException;

    void close();
  }

  private final Set<Page> open = ConcurrentHashMap.newKeySet();
  private final AtomicLong numbers = new AtomicLong();

  /** An open page and what it has not read yet. */
  private final class Page implements Runnable {
    private final Reader reader;
    private final BlockingQueue<Object> waiting = new ArrayBlockingQueue<>(MOST_BEHIND);
    private final Thread thread;

    private Page(Reader reader) {
      this.reader = reader;
      thread = new Thread(this, "events-" + numbers.incrementAndGet());
      thread.setDaemon(true);
    }

    private void offer(Object body) {
      if (!waiting.offer(body)) {
        drop();
      }
    }

    private void drop() {
      open.remove(this);
      thread.interrupt();
    }

    @Override
    public void run() {
      try {
        while (open.contains(this)) {
          Object body = waiting.take();
          reader.send(name(body), body);
        }
      } catch (IOException | IllegalStateException | InterruptedException gone) {
        open.remove(this);
      } finally {
        reader.close();
      }
    }
  }

  SseEmitter connect() {
    if (open.size() >= MOST_PAGES) {
      ErrorResponseException full = new ErrorResponseException(HttpStatus.SERVICE_UNAVAILABLE);
      full.setDetail(MOST_PAGES + " pages are open already; close one.");
      throw full;
    }
    SseEmitter emitter = new SseEmitter(0L);
    Runnable leave =
        connect(
            new Reader() {
              @Override
              public void send(String name, Object body) throws IOException {
                emitter.send(SseEmitter.event().name(name).data(body, MediaType.APPLICATION_JSON));
              }

              @Override
              public void close() {
                emitter.complete();
              }
            });
    emitter.onCompletion(leave);
    emitter.onError(e -> leave.run());
    return emitter;
  }

  /** Adds a reader; running what is returned takes it away. */
  Runnable connect(Reader reader) {
    Page page = new Page(reader);
    open.add(page);
    // What the page shows may have changed since it was loaded: it loads again when it hears this.
    page.offer(new Connected());
    page.thread.start();
    return page::drop;
  }

  /** Returns how many pages are open. */
  int pages() {
    return open.size();
  }

  /**
   * Sends an event, once what it tells of is kept.
   *
   * @param body of a {@link Pushed} class; turned into JSON
   * @throws IllegalArgumentException if it is of another class
   */
  public void publish(Object body) {
    name(body);
    if (TransactionSynchronizationManager.isSynchronizationActive()) {
      // Whoever hears of it will look: not before it is there.
      TransactionSynchronizationManager.registerSynchronization(
          new TransactionSynchronization() {
            @Override
            public void afterCommit() {
              send(body);
            }
          });
    } else {
      send(body);
    }
  }

  private void send(Object body) {
    open.forEach(p -> p.offer(body));
  }

  private static String name(Object body) {
    Pushed kind = body.getClass().getAnnotation(Pushed.class);
    if (kind == null) {
      throw new IllegalArgumentException("not pushed: " + body.getClass().getName());
    }
    return kind.value();
  }

  /** Keeps idle connections alive through anything between, and finds those that are gone. */
  @Scheduled(fixedRate = 15_000)
  void beat() {
    publish(new Beat());
  }

  @PreDestroy
  void close() {
    open.forEach(Page::drop);
  }
}
