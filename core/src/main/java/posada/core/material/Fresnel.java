package posada.core.material;

/** Reflection at the border of two clear media. */
public final class Fresnel {
  private Fresnel() {}

  /**
   * Returns the share of unpolarised light that is reflected, 0 .. 1; 1 beyond the critical angle.
   *
   * <p>Source: M. Born and E. Wolf, "Principles of Optics", section 1.5.2.
   *
   * @param cos of the angle of incidence, 0 .. 1
   * @param eta index beyond the border over the index on this side, above 0
   */
  public static float dielectric(float cos, float eta) {
    float sin2 = (1 - cos * cos) / (eta * eta);
    if (sin2 >= 1) {
      return 1;
    }
    float t = (float) Math.sqrt(1 - sin2);
    float s = (cos - eta * t) / (cos + eta * t);
    float p = (eta * cos - t) / (eta * cos + t);
    return 0.5f * (s * s + p * p);
  }
}
