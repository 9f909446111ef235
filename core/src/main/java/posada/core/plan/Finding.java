package posada.core.plan;

/**
 * Something that is wrong, or may be, with a batch before it starts.
 *
 * @param rule by which it was found
 * @param shot whose strand it is about; null for the whole batch
 * @param layer likewise; null with a shot for several layers of it
 * @param text a sentence with the value
 * @param remedy what mends it; null if nothing does by itself
 */
public record Finding(
    Severity severity, Rule rule, String shot, String layer, String text, Remedy remedy) {
  /** An error stops a run; a warning can be lived with; a note is only to be known. */
  public enum Severity {
    ERROR,
    WARNING,
    NOTE
  }

  /** What is looked for. */
  public enum Rule {
    NAME_WITHOUT_FRAME,
    PADDING,
    FILE_NAMES,
    SAME_FOLDER,
    VERSION_TAKEN,
    DISPLAY_IN_EXR,
    ONLY_DISPLAY_FILES,
    ANIMATION_CUT_OFF,
    FRAMES_WITHOUT_ANIMATION,
    FRAME_RATE,
    MISSING_FILES,
    NOT_IN_SCENE,
    NAMES_FIT_NOTHING,
    NOTHING_VISIBLE,
    NO_LIGHT,
    CAMERA_INSIDE,
    NEAR_PLANE,
    CAMERA_STANDS_STILL,
    CAMERA_NOT_PROOFED,
    NO_PROOF,
    PROOF_REJECTED,
    BAKED_LIGHT_MOVES,
    NOISE_IN_BLUR,
    MEMORY,
    DISK,
    DEADLINE,
    NOT_USED
  }

  /**
   * What mends it.
   *
   * @param value that is to be taken: frames, a name pattern, samples, a camera; empty where the
   *     kind says all
   */
  public record Remedy(Kind kind, String value) {
    /** What is to be changed. */
    public enum Kind {
      FRAMES,
      PATTERN,
      SAMPLES,
      CAMERA,
      ADD_EXR,
      SCENE_LINEAR,
      NO_BAKED_LIGHT,
      PROOF,
      FIT
    }
  }
}
