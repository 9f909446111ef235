package posada.server.door;

import java.net.InetAddress;
import java.net.UnknownHostException;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;

/** Who can reach the server: this machine only, or others. */
@Component
class Reach {
  private final boolean others;

  /**
   * @param address that the server listens at; blank for all that the machine has
   */
  Reach(@Value("${server.address:}") String address) throws UnknownHostException {
    others = address.isBlank() || !InetAddress.getByName(address.strip()).isLoopbackAddress();
  }

  /** Returns true if programs on other machines can reach the server. */
  boolean others() {
    return others;
  }
}
