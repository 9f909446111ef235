package posada.core.plan;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
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

  private static final Pattern TIMECODE =
      Pattern.compile("(\\d{1,2}):([0-5]?\\d):([0-5]?\\d):(\\d{1,2})");

  /**
   * Returns a range whose timecodes are the numbers of their frames; what is none stays. It counts
   * like {@link #timecode}.
   *
   * @throws IllegalArgumentException if a timecode has more frames than a second has
   */
  public String frames(String text) {
    int base = (int) Math.round(perSecond);
    Matcher m = TIMECODE.matcher(text);
    StringBuilder all = new StringBuilder();
    while (m.find()) {
      int frame = Integer.parseInt(m.group(4));
      if (frame >= base) {
        throw new IllegalArgumentException(
            "timecode " + m.group() + " has frame " + frame + "; a second has 0 .. " + (base - 1));
      }
      long seconds =
          (Integer.parseInt(m.group(1)) * 60L + Integer.parseInt(m.group(2))) * 60
              + Integer.parseInt(m.group(3));
      m.appendReplacement(all, Long.toString(seconds * base + frame));
    }
    return m.appendTail(all).toString();
  }
}
