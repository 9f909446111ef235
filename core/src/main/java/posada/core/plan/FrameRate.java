package posada.core.plan;

import posada.core.settings.Moment;

/** Frames per second and the time of a frame. */
public record FrameRate(double perSecond) {
  public FrameRate {
    if (!(perSecond >= 1 && perSecond <= 240)) {
      throw new IllegalArgumentException(
          "frame rate must be 1 .. 240 for each second (got " + perSecond + ")");
    }
  }

  /** Returns the time of a frame: its number divided by the rate, seconds. */
  public double secondsOf(int frame) {
    return frame / perSecond;
  }

  /** Returns a frame and when it is. */
  public Moment moment(int frame) {
    return new Moment(frame, secondsOf(frame), perSecond);
  }

  /**
   * Returns the frame's time code, hours, minutes, seconds and frames without drop, counted at the
   * nearest whole rate (SMPTE ST 12-1).
   */
  public String timecode(int frame) {
    int base = (int) Math.round(perSecond);
    int s = frame / base;
    return String.format("%02d:%02d:%02d:%02d", s / 3600 % 24, s / 60 % 60, s % 60, frame % base);
  }
}
