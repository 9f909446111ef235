package posada.core.plan;

/**
 * Something that is wrong, or may be, with a batch before it starts.
 *
 * @param rule by which it was found
 * @param shot whose strand it is about; null for the whole batch
 * @param layer likewise
 * @param text a sentence with the value
 * @param frames the range that mends it; null if none does
 */
public record Finding(
    Severity severity, Rule rule, String shot, String layer, String text, String frames) {
  /** An error stops a run; a warning can be lived with. */
  public enum Severity {
    ERROR,
    WARNING
  }

  /** What is looked for. */
  public enum Rule {
    NAME_WITHOUT_FRAME,
    FILE_NAMES,
    ANIMATION_CUT_OFF,
    FRAMES_WITHOUT_ANIMATION,
    MISSING_FILES,
    CAMERA_STANDS_STILL,
    ONLY_DISPLAY_FILES,
    NOISE_IN_BLUR,
    MEMORY,
    DISK,
    SAME_FOLDER,
    NOT_IN_SCENE
  }
}
