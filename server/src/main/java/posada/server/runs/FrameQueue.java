package posada.server.runs;

import jakarta.jms.ConnectionFactory;
import java.util.List;
import org.springframework.jms.core.JmsTemplate;
import org.springframework.stereotype.Component;

/**
 * The queue of what is to be rendered: one message for each frame, {@code run/frame}, and before
 * them {@code run/light} if the run's light is to be baked.
 */
@Component
public class FrameQueue {
  public static final String NAME = "posada.frames";
  private final JmsTemplate jms;

  FrameQueue(ConnectionFactory connections) {
    jms = new JmsTemplate(connections);
    jms.setDeliveryPersistent(true);
    jms.setReceiveTimeout(JmsTemplate.RECEIVE_TIMEOUT_NO_WAIT);
  }

  /**
   * A message: which frame of which run.
   *
   * @param frame null for the run's light
   */
  public record Task(long runId, Integer frame) {
    private static final String LIGHT = "light";

    String text() {
      return runId + "/" + (frame == null ? LIGHT : frame);
    }

    /** Reads a message's text. */
    public static Task of(String text) {
      String[] parts = text.split("/");
      Integer frame = parts[1].equals(LIGHT) ? null : Integer.valueOf(parts[1]);
      return new Task(Long.parseLong(parts[0]), frame);
    }
  }

  void send(long runId, boolean light, List<Integer> frames) {
    jms.execute(
        NAME,
        (session, producer) -> {
          if (light) {
            producer.send(session.createTextMessage(new Task(runId, null).text()));
          }
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
