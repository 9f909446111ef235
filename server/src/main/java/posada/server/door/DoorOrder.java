package posada.server.door;

import org.springframework.core.Ordered;

/** In which order a request passes: where it comes from, who asks, and what. */
final class DoorOrder {
  static final int HOST = Ordered.HIGHEST_PRECEDENCE + 10;
  static final int DOOR = 0;

  private DoorOrder() {}
}
