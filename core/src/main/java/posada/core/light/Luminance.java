package posada.core.light;

/** Brightness of scene-linear colours (ITU-R BT.709, item 3.2). */
public final class Luminance {
  private Luminance() {}

  public static float of(float r, float g, float b) {
    return 0.2126f * r + 0.7152f * g + 0.0722f * b;
  }

  public static float of(float[] rgb) {
    return of(rgb[0], rgb[1], rgb[2]);
  }
}
