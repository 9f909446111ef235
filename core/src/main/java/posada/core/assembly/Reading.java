package posada.core.assembly;

/**
 * How the numbers of an input are to be read.
 *
 * @param rate its frames for each second, 1 .. 240; null as the file says, or as the stack has it
 */
public record Reading(Light light, Alpha alpha, Double rate) {
  /** As the file says. */
  public static final Reading AS_FILE = new Reading(Light.FILE, Alpha.FILE, null);

  /** What the colours are. */
  public enum Light {
    /** What the file's format and header say. */
    FILE,
    LINEAR,
    /** Values of a screen, sRGB. */
    DISPLAY
  }

  /** What alpha has done to the colours. */
  public enum Alpha {
    /** What the file's format says: EXR is premultiplied, display files are straight. */
    FILE,
    PREMULTIPLIED,
    STRAIGHT,
    /** There is none. */
    NONE
  }

  public Reading {
    if (rate != null && !(rate >= 1 && rate <= 240)) {
      throw new IllegalArgumentException(
          "the frame rate must be 1 .. 240 frames a second (got " + rate + ")");
    }
  }
}
