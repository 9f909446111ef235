package posada.core.trace.path;

/**
 * How light is looked for: by choosing lights, by scattering rays, or by both, weighted against
 * each other by the power heuristic (E. Veach, "Robust Monte Carlo Methods for Light Transport
 * Simulation", 1997, section 9.2). All of them find the same, with more or less noise.
 */
public enum Strategy {
  LIGHTS,
  SURFACES,
  BOTH;

  /**
   * Returns the weight of what a scattered ray found.
   *
   * @param scatterDensity with which rays are scattered there
   * @param lightDensity with which lights are chosen there; 0 if none is
   */
  float found(float scatterDensity, float lightDensity) {
    return switch (this) {
      case LIGHTS -> lightDensity > 0 ? 0 : 1;
      case SURFACES -> 1;
      case BOTH -> powerHeuristic(scatterDensity, lightDensity);
    };
  }

  /**
   * Returns the weight of a chosen light.
   *
   * @param lightDensity with which lights are chosen there
   * @param scatterDensity with which rays are scattered there
   */
  float chosen(float lightDensity, float scatterDensity) {
    return switch (this) {
      case LIGHTS -> 1;
      case SURFACES -> 0;
      case BOTH -> powerHeuristic(lightDensity, scatterDensity);
    };
  }

  private static float powerHeuristic(float a, float b) {
    // Divided first, since squares of densities leave the range of floats.
    if (!(a > 0)) {
      return 0;
    }
    float q = b / a;
    return 1 / (1 + q * q);
  }
}
