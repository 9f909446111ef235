package posada.core.settings;

import posada.core.scene.Track;

/**
 * The lens in front of the film. What it does not say comes from the scene's camera.
 *
 * @param focalLength millimetres; null for the camera's angle of view
 * @param filmWidth millimetres of the film back, above 0; the picture is the largest part of it
 *     that has the picture's shape
 * @param filmHeight likewise
 * @param depthOfField false for a pinhole, whatever else is set
 * @param fStop focal length over the opening's diameter
 * @param focusDistance metres along the view axis; null to focus on what is in the middle of the
 *     picture
 * @param focusObject name of a node to focus on instead; null for none
 * @param blades of the aperture; 0 for a round one
 * @param bladeRotation degrees
 * @param exposure stops, -32 .. 32: each doubles all light that the camera takes, before it is
 *     limited, weighed against noise or written
 */
public record Lens(
    Track focalLength,
    double filmWidth,
    double filmHeight,
    boolean depthOfField,
    Track fStop,
    Track focusDistance,
    String focusObject,
    int blades,
    double bladeRotation,
    Track exposure) {
  /** Most stops of an exposure, either way. */
  public static final double MOST_STOPS = 32;

  public static final Lens DEFAULT =
      new Lens(null, 36, 24, false, Track.of(2), null, null, 0, 0, Track.of(0));

  public Lens {
    if (focalLength != null) {
      focalLength.within("focal length", 1, 10_000);
    }
    Limits.within("film back width", filmWidth, 1, 1000);
    Limits.within("film back height", filmHeight, 1, 1000);
    fStop.within("f-stop", 0.1, 1000);
    if (focusDistance != null) {
      focusDistance.within("focus distance", 1e-3, 1e6);
    }
    if (blades != 0) {
      Limits.whole("aperture blades", blades, 3, 32);
    }
    Limits.within("blade rotation", bladeRotation, -3600, 3600);
    exposure.within("exposure", -MOST_STOPS, MOST_STOPS);
  }

  /** Returns true if what is in the middle of the picture is to be sharp. */
  public boolean focusesOnTheMiddle() {
    return depthOfField && focusDistance == null && focusObject == null;
  }

  /** Returns the height in metres of the largest part of the film back of a picture's shape. */
  public double film(int width, int height) {
    return Math.min(filmHeight, filmWidth * height / width) * 1e-3;
  }

  /**
   * Returns the full vertical angle of view of a perspective camera behind this lens, radians.
   *
   * @param own the camera's own, which is kept without a focal length
   * @param width of the picture; only its shape counts
   */
  public double verticalAngle(double own, int width, int height, double seconds) {
    return focalLength == null
        ? own
        : 2 * StrictMath.atan(film(width, height) / 2 / (focalLength.at(seconds) * 1e-3));
  }

  /** Returns the same lens at another exposure in stops. */
  public Lens exposed(Track stops) {
    return new Lens(
        focalLength,
        filmWidth,
        filmHeight,
        depthOfField,
        fStop,
        focusDistance,
        focusObject,
        blades,
        bladeRotation,
        stops);
  }

  /** Returns what light is multiplied by at an exposure in stops. */
  public static float gain(double stops) {
    return (float) StrictMath.pow(2, stops);
  }
}
