package posada.server.productions;

import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;
import posada.core.plan.FrameRate;
import posada.core.settings.Limits;

/**
 * The folder of work for one film or job.
 *
 * @param version counts changes, for noticing two at once
 * @param address under which its pages are found; made from the name
 * @param frameRate frames per second
 * @param width default of new shots, pixels
 * @param height likewise
 * @param deadline when all is to be ready; null if that does not matter
 * @param archived true if it is put away: still there, not listed among the others
 */
public record Production(
    long id,
    int version,
    String name,
    String address,
    double frameRate,
    int width,
    int height,
    @Schema(types = {"string", "null"}) Instant deadline,
    boolean archived) {
  private static final int LEAST_SIDE = 16;

  public Production {
    if (name == null || name.isBlank() || name.length() > 100) {
      throw new IllegalArgumentException("a production's name needs 1 .. 100 letters");
    }
    new FrameRate(frameRate);
    side("width", width);
    side("height", height);
  }

  private static void side(String what, int pixels) {
    if (pixels < LEAST_SIDE || pixels > Limits.MAX_SIDE) {
      throw new IllegalArgumentException(
          what + " must be " + LEAST_SIDE + " .. " + Limits.MAX_SIDE + " px (got " + pixels + ")");
    }
  }

  Production archived(boolean away) {
    return new Production(id, version, name, address, frameRate, width, height, deadline, away);
  }

  Production with(int otherVersion, String otherAddress) {
    return new Production(
        id, otherVersion, name, otherAddress, frameRate, width, height, deadline, archived);
  }
}
