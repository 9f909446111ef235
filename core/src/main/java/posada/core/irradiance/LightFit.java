package posada.core.irradiance;

/** Light around one place, as {@link LightLookup} has found it there. */
public final class LightFit {
  /** Distance up to which the light is taken to be the same, over that between points. */
  private static final float SAME = 0.15f;

  private static final float LEAST_COSINE = 0.999f;

  float x, y, z, nx, ny, nz;

  /** Distance between points, metres; 0 if there is nothing here. */
  float apart;

  /** Flux vectors of red, green and blue. */
  final float[] flux = new float[9];

  /** Part of the light that comes over at least one surface less than the most; 1 if unknown. */
  float shallow = 1;

  /** Forgets the light. */
  public void clear() {
    apart = 0;
  }

  /** Returns the part of it that comes over at least one surface less than the most. */
  public float shallow() {
    return shallow;
  }

  /**
   * Returns true if the light is that of this place, too.
   *
   * @param nx unit normal of the flat surface
   */
  public boolean covers(float x, float y, float z, float nx, float ny, float nz) {
    float dx = x - this.x, dy = y - this.y, dz = z - this.z;
    float reach = SAME * apart;
    return dx * dx + dy * dy + dz * dz < reach * reach
        && nx * this.nx + ny * this.ny + nz * this.nz > LEAST_COSINE;
  }

  /**
   * Stores the irradiance.
   *
   * @param nx unit normal with bumps
   * @param out red, green and blue, watts for each square metre
   */
  public void irradiance(float nx, float ny, float nz, float[] out) {
    for (int c = 0; c < 3; c++) {
      out[c] = Math.max(0, nx * flux[3 * c] + ny * flux[3 * c + 1] + nz * flux[3 * c + 2]);
    }
  }
}
