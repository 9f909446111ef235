package posada.formats.preview;

import java.util.Locale;

/** What may be written over each frame of a preview. */
public enum BurnIn {
  FRAME,
  TIMECODE,
  SHOT,
  CAMERA,
  LAYER,
  LENS,
  DATE;

  /** Returns the name as it is written in files. */
  public String text() {
    return name().toLowerCase(Locale.ROOT);
  }
}
