package posada.core.settings;

/**
 * What is done about noise.
 *
 * @param picture true if the picture is cleaned; to clean it later, there is the pass guides
 * @param amount of the noise that is taken away, 0 .. 1
 */
public record Denoising(boolean picture, double amount) {
  public static final Denoising OFF = new Denoising(false, 1);

  public Denoising {
    Limits.within("denoising amount", amount, 0, 1);
  }
}
