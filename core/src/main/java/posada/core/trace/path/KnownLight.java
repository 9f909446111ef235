package posada.core.trace.path;

import posada.core.irradiance.BakedLight;
import posada.core.irradiance.LightFit;
import posada.core.irradiance.LightLookup;
import posada.core.trace.stage.SurfacePoint;

/** Baked light as paths look it up. Scratch of one worker thread. */
final class KnownLight {
  /**
   * Width of a path over the distance of points from which on it blurs shadows more than these do:
   * about a quarter of what is seen from there by half of the light.
   */
  private static final float BLURRED = 0.25f;

  /** How much light straight from lights may differ between points for it to be looked up. */
  private static final float UNEVEN = 0.25f;

  private final LightLookup lookup;
  private final boolean direct;

  /** What was found at the two places that were seen last through this pixel. */
  private final LightFit[] seen = {new LightFit(), new LightFit()};

  private int turn;
  private final LightFit elsewhere = new LightFit();

  /** True if what was found last holds light straight from lights, too. */
  boolean full;

  KnownLight(BakedLight light) {
    lookup = light.lookup();
    direct = light.info().direct();
  }

  /** Begins a pixel: what it shows is the same whatever was looked at before. */
  void begin() {
    for (LightFit f : seen) {
      f.clear();
    }
  }

  /**
   * Returns the light at a surface; null if there are no points around.
   *
   * @param first true if the camera sees it; roughly found otherwise
   * @param width of the path there, metres
   * @param apart true to have no light straight from lights, unless all of it was baked with it
   * @param shorter over how many surfaces less the light is to have come than it was baked with
   */
  LightFit at(SurfacePoint p, boolean first, float width, boolean apart, int shorter) {
    full = direct;
    if (first) {
      for (LightFit f : seen) {
        if (f.covers(p.x, p.y, p.z, p.gx, p.gy, p.gz)) {
          return f;
        }
      }
    }
    float any = Float.POSITIVE_INFINITY;
    float wanted = first ? any : LightLookup.PLENTY;
    float coarsest = first ? LightLookup.COARSEST * width : any;
    if (lookup.look(p.x, p.y, p.z, p.gx, p.gy, p.gz, wanted, coarsest) < LightLookup.ENOUGH) {
      return null;
    }
    full |= !first && !apart && width > BLURRED * lookup.apart() && lookup.unevenness() < UNEVEN;
    LightFit f = first ? seen[turn ^= 1] : elsewhere;
    lookup.fit(full, shorter, f);
    return f;
  }
}
