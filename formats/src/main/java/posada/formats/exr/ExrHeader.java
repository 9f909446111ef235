package posada.formats.exr;

import java.util.Map;
import posada.core.image.Primaries;
import posada.core.plan.FrameRate;

/**
 * What an EXR says beside its pixels.
 *
 * @param rate frame rate; null if the picture is a still
 * @param frame frame number, for the time code
 * @param texts further text attributes by name, Posada's own among them
 * @param primaries that red, green and blue have
 */
public record ExrHeader(FrameRate rate, int frame, Map<String, String> texts, Primaries primaries) {
  /** With the primaries in which pictures are rendered. */
  public ExrHeader(FrameRate rate, int frame, Map<String, String> texts) {
    this(rate, frame, texts, Primaries.BT709);
  }

  public static final ExrHeader NONE = new ExrHeader(null, 0, Map.of());

  /** Name of the text attribute that holds the frame's number. */
  public static final String FRAME = "posadaFrame";

  /** Name of the text attribute that says how much of the noise was taken away. */
  public static final String DENOISED = "posadaDenoised";

  /** Name of the text attribute that holds the exposure in stops: light was taken times 2^stops. */
  public static final String EXPOSURE = "posadaExposure";

  /** Name of the text attribute that says that the colours went through the view transform. */
  public static final String DISPLAY = "posadaDisplay";

  /** Name of the text attribute that holds what the frame was made from. */
  public static final String FINGERPRINT = "posadaFingerprint";
}
