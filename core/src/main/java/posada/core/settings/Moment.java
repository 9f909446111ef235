package posada.core.settings;

/**
 * When a frame is.
 *
 * @param frame its number, which chooses the sampling pattern where that changes by frame
 * @param seconds time of the frame
 * @param framesPerSecond above 0, which the shutter's angle is of
 */
public record Moment(int frame, double seconds, double framesPerSecond) {
  public Moment {
    Limits.within("frames per second", framesPerSecond, 1e-3, 1e6);
  }

  /** Returns frame 0 at a time, at 24 frames per second. */
  public static Moment at(double seconds) {
    return new Moment(0, seconds, 24);
  }

  /** Returns when the shutter opens, seconds; the frame's time if nothing blurs. */
  public double opening(Shutter s) {
    return s.open() ? seconds + s.start() / 360 / framesPerSecond : seconds;
  }

  /** Returns how long the shutter is open, seconds. */
  public double exposure(Shutter s) {
    return s.open() ? s.angle() / 360 / framesPerSecond : 0;
  }
}
