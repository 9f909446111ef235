package posada.server.runs;

import jakarta.jms.ConnectionFactory;
import java.util.List;
import org.springframework.jms.core.JmsTemplate;
import org.springframework.stereotype.Component;

/** The queue of frames to be rendered: one message for each, {@code run/frame}. */
@Component
public class FrameQueue {
  public static final String NAME = "posada.frames";
  private final JmsTemplate jms;

  FrameQueue(ConnectionFactory connections) {
    jms = new JmsTemplate(connections);
    jms.setDeliveryPersistent(true);
    jms.setReceiveTimeout(JmsTemplate.RECEIVE_TIMEOUT_NO_WAIT);
  }

  /** A message: which frame of which run. */
  public record Task(long runId, int frame) {
    String text() {
      return runId + "/" + frame;
    }

    /** Reads a message's text. */
    public static Task of(String text) {
      String[] parts = text.split("/");
      return new Task(Long.parseLong(parts[0]), Integer.parseInt(parts[1]));
    }
  }

  void send(long runId, List<Integer> frames) {
    jms.execute(
        NAME,
        (session, producer) -> {
          for (int f : frames) {
            producer.send(session.createTextMessage(new Task(runId, f).text()));
          }
          return null;
        });
  }

  /** Removes all messages; what waits is known from the ledger and is sent again. */
  void clear() {
    while (jms.receive(NAME) != null) {
      continue;
    }
  }
}
