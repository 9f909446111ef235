package posada.core.scene;

import posada.core.geometry.Vec3;

/**
 * What surrounds the scene: a gradient over elevation with an optional glow around one direction,
 * and haze that lets distance fade into it. All colours are scene-linear radiance.
 *
 * @param zenith radiance straight up
 * @param horizon radiance at elevation 0
 * @param ground radiance straight down
 * @param glowDirection towards the middle of the glow
 * @param glow radiance added in the middle of the glow
 * @param glowSharpness exponent: the glow falls as {@code ((1 + cos angle) / 2)^sharpness}
 * @param haze extinction for each metre; 0 for clear air
 */
public record Sky(
    float[] zenith,
    float[] horizon,
    float[] ground,
    Vec3 glowDirection,
    float[] glow,
    double glowSharpness,
    double haze) {
  public static final Sky NONE = constant(0);

  /** The plain sky of a scene that has no light of its own. */
  public static final Sky PLAIN =
      new Sky(
          new float[] {0.75f, 0.85f, 1f},
          new float[] {1f, 1f, 1f},
          new float[] {0.35f, 0.34f, 0.33f},
          new Vec3(0, 1, 0),
          new float[3],
          1,
          0);

  public Sky {
    if (!(haze >= 0 && haze < 1)) {
      throw new IllegalArgumentException("haze must be 0 .. 1 for each metre (got " + haze + ")");
    }
    if (!(glowSharpness >= 0 && glowSharpness <= 10_000)) {
      throw new IllegalArgumentException(
          "glow sharpness must be 0 .. 10000 (got " + glowSharpness + ")");
    }
    for (float[] c : new float[][] {zenith, horizon, ground, glow}) {
      for (float v : c) {
        if (!(v >= 0 && v < 1e9f)) {
          throw new IllegalArgumentException("a sky colour must be 0 or more (got " + v + ")");
        }
      }
    }
  }

  /** Returns a sky of the same radiance everywhere. */
  public static Sky constant(float radiance) {
    float[] c = {radiance, radiance, radiance};
    return new Sky(c, c, c, new Vec3(0, 1, 0), new float[3], 1, 0);
  }

  public boolean dark() {
    for (float[] c : new float[][] {zenith, horizon, ground, glow}) {
      if (c[0] > 0 || c[1] > 0 || c[2] > 0) {
        return false;
      }
    }
    return true;
  }
}
