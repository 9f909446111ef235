package posada.core.scene;

import posada.core.image.RgbImage;

/**
 * Everything around the objects. Its parts add up.
 *
 * @param sky gradient, glow and haze
 * @param picture an image of all directions; null for none
 * @param day sun and sky of a place and time; null for none
 * @param ambient radiance that reaches every diffuse surface unshadowed: red, green, blue
 * @param gain factor on all of it: red, green, blue
 */
public record Environment(Sky sky, Picture picture, DaySky day, float[] ambient, float[] gain) {
  public static final Environment NONE = of(Sky.NONE);

  /**
   * An image of all directions.
   *
   * @param image scene-linear; columns run once around the horizon, rows from straight up to
   *     straight down, -Z is in the middle and +X a quarter further right
   * @param rotation degrees about +Y, counter-clockwise seen from above
   * @param strength factor
   */
  public record Picture(String name, RgbImage image, Track rotation, Track strength) {
    public Picture {
      strength.within("environment strength", 0, 1e6);
      rotation.within("environment rotation", -36000, 36000);
    }
  }

  public Environment {
    for (float a : ambient) {
      if (!(a >= 0 && a < 1e9f)) {
        throw new IllegalArgumentException("ambient light must be 0 or more (got " + a + ")");
      }
    }
  }

  /** An environment as bright as its parts say. */
  public Environment(Sky sky, Picture picture, DaySky day, float[] ambient) {
    this(sky, picture, day, ambient, new float[] {1, 1, 1});
  }

  /** Returns this environment with another factor on all of them. */
  public Environment times(float[] factor) {
    return new Environment(sky, picture, day, ambient, factor);
  }

  /** Returns the environment of a plain sky. */
  public static Environment of(Sky sky) {
    return new Environment(sky, null, null, new float[3]);
  }

  /** Returns true if it is not the same at all times. */
  public boolean changes() {
    return day != null && day.changes()
        || picture != null && (picture.rotation().changes() || picture.strength().changes());
  }

  /** Returns true if nothing here gives light. */
  public boolean dark() {
    return sky.dark()
        && picture == null
        && day == null
        && ambient[0] + ambient[1] + ambient[2] <= 0;
  }
}
