package posada.server.workers;

import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.annotation.Order;
import org.springframework.jms.config.JmsListenerEndpointRegistry;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import posada.server.runs.RunService;
import posada.server.storage.Health;
import posada.server.storage.StorageHealth;

/** Takes up runs and lets the worker begin, once everything else is there. */
@Component
class WorkerStart {
  private final RunService runs;
  private final JmsListenerEndpointRegistry listeners;

  private final StorageHealth storage;
  private volatile boolean begun;

  WorkerStart(RunService runs, JmsListenerEndpointRegistry listeners, StorageHealth storage) {
    this.runs = runs;
    this.listeners = listeners;
    this.storage = storage;
  }

  @EventListener(ApplicationReadyEvent.class)
  @Order(0)
  void begin() {
    runs.recover();
    listeners.getListenerContainer(FrameWorker.LISTENER).start();
    begun = true;
  }

  /** Lets go on what somebody could not let go on while the database was down. */
  @Scheduled(fixedDelay = 15_000)
  void goOn() {
    if (begun && storage.now().state() == Health.State.READY) {
      runs.goOn();
    }
  }
}
