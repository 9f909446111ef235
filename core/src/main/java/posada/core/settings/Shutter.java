package posada.core.settings;

/**
 * While the film is exposed.
 *
 * @param motionBlur false for a moment, whatever else is set
 * @param angle degrees of a turn of 360 for each frame, 0 .. 720
 * @param start degrees from the frame's time to the opening, -720 .. 720; minus half the angle puts
 *     the frame's time in the middle
 * @param transforms true if moving objects blur
 * @param deformations true if bending meshes blur
 * @param camera true if the camera's own move blurs
 * @param steps of a curved motion, 1 .. 16: straight lines between one more places
 */
public record Shutter(
    boolean motionBlur,
    double angle,
    double start,
    boolean transforms,
    boolean deformations,
    boolean camera,
    int steps) {
  public static final Shutter DEFAULT = new Shutter(false, 180, 0, true, true, true, 2);

  public Shutter {
    Limits.within("shutter angle", angle, 0, 720);
    Limits.within("shutter start", start, -720, 720);
    Limits.whole("motion steps", steps, 1, 16);
  }

  /** Returns true if anything can blur. */
  public boolean open() {
    return motionBlur && angle > 0 && (transforms || deformations || camera);
  }
}
