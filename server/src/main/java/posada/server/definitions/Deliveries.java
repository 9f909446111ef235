package posada.server.definitions;

import org.springframework.stereotype.Service;
import posada.formats.files.Delivery;
import posada.server.app.Stale;

/** Making and changing deliveries. */
@Service
public class Deliveries extends Definitions<Delivery> {
  public static final String KIND = "delivery";

  Deliveries(Parts parts) {
    super(KIND, Delivery.class, Stale.Kind.DELIVERIES, Standards.deliveries(), parts);
  }

  @Override
  String difference(Delivery a, Delivery b) {
    return a.formats().equals(b.formats()) ? "files" : "formats";
  }
}
