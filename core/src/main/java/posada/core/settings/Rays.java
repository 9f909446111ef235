package posada.core.settings;

/** What the settings cost in rays, known before rendering. */
public record Rays(int cameraRays, int firstScattered, int firstLights, int mostSegments) {
  /** Returns the sentence that says so. */
  public String sentence() {
    return String.format(
        "%d camera rays for each pixel; at the first surface up to %d scattered rays and %d light"
            + " rays for each of them; every path ends after at most %d segments",
        cameraRays, firstScattered, firstLights, mostSegments);
  }
}
