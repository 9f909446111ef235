package posada.server.workers;

import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.annotation.Order;
import org.springframework.jms.config.JmsListenerEndpointRegistry;
import org.springframework.stereotype.Component;
import posada.server.runs.RunService;

/** Takes up runs and lets the worker begin, once everything else is there. */
@Component
class WorkerStart {
  private final RunService runs;
  private final JmsListenerEndpointRegistry listeners;

  WorkerStart(RunService runs, JmsListenerEndpointRegistry listeners) {
    this.runs = runs;
    this.listeners = listeners;
  }

  @EventListener(ApplicationReadyEvent.class)
  @Order(0)
  void begin() {
    runs.recover();
    listeners.getListenerContainer(FrameWorker.LISTENER).start();
  }
}
