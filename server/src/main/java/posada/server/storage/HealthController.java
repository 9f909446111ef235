package posada.server.storage;

import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

@RestController
class HealthController {
  private final StorageHealth health;

  HealthController(StorageHealth health) {
    this.health = health;
  }

  @GetMapping("/api/health")
  Health health() {
    return health.now();
  }
}
