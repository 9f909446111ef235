package posada.core.denoise;

/** What a {@link NoisyPicture} becomes; the planes are its own. */
public record CleanPicture(float[][] diffuse, float[][] glossy, float[][] seen, float[][] groups) {
  /** Returns red, green and blue of all light. */
  public float[][] beauty() {
    float[][] out = new float[3][diffuse[0].length];
    for (int c = 0; c < 3; c++) {
      for (int i = 0; i < out[c].length; i++) {
        out[c][i] = diffuse[c][i] + glossy[c][i] + seen[c][i];
      }
    }
    return out;
  }
}
