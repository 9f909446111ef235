package posada.core.plan;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** What a frame was made from, as one short text: equal inputs, equal text. */
public final class Fingerprint {
  private Fingerprint() {}

  /** Returns the first 32 hexadecimal digits of the SHA-256 of the parts, each ended by a zero. */
  public static String of(String... parts) {
    try {
      MessageDigest d = MessageDigest.getInstance("SHA-256");
      for (String p : parts) {
        d.update(p.getBytes(StandardCharsets.UTF_8));
        d.update((byte) 0);
      }
      return HexFormat.of().formatHex(d.digest()).substring(0, 32);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }
}
