package posada.core.denoise;

/**
 * Means of samples with what is known of their noise.
 *
 * @param planes width times height values each, row by row; the first three, or the only one, are
 *     what is compared, further ones go the same way
 * @param variance square of the standard error, summed over the planes that are compared; at least
 *     0
 */
public record Noisy(float[][] planes, float[] variance) {
  public Noisy {
    for (float[] p : planes) {
      if (p.length != variance.length) {
        throw new IllegalArgumentException(
            "planes need as many values as the variance has, "
                + variance.length
                + " (got "
                + p.length
                + ")");
      }
    }
  }
}
