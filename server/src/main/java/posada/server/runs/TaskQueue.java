package posada.server.runs;

import jakarta.jms.ConnectionFactory;
import org.springframework.jms.core.JmsTemplate;
import org.springframework.stereotype.Component;

/** The queue from which workers take tasks: a message for each, which says its number. */
@Component
public class TaskQueue {
  public static final String NAME = "posada.tasks";
  private final JmsTemplate jms;

  TaskQueue(ConnectionFactory connections) {
    jms = new JmsTemplate(connections);
    jms.setDeliveryPersistent(true);
    jms.setReceiveTimeout(JmsTemplate.RECEIVE_TIMEOUT_NO_WAIT);
  }

  void send(long task) {
    jms.convertAndSend(NAME, Long.toString(task));
  }

  /** Removes all messages; what waits is known and is sent again. */
  void clear() {
    while (jms.receive(NAME) != null) {
      continue;
    }
  }
}
