package posada.core.settings;

/**
 * How light that other surfaces send is baked.
 *
 * @param use true if a sequence is to be rendered with it
 * @param every frames between those that are looked at, 1 .. 10000
 * @param accuracy radius of a light point over the harmonic mean of the distances around it, 0.02
 *     .. 1; smaller is finer
 * @param tolerance standard error of a point's light over it, 0.001 .. 1
 * @param paths most of a point, 512 .. 65536
 * @param direct true if light that comes straight from lights is in it, too: soft shadows alone
 */
public record Irradiance(
    boolean use, int every, double accuracy, double tolerance, int paths, boolean direct) {
  public static final Irradiance DEFAULT = new Irradiance(false, 8, 0.12, 0.032, 16384, false);

  public Irradiance {
    Limits.whole("bake every frame", every, 1, 10_000);
    Limits.within("bake accuracy", accuracy, 0.02, 1);
    Limits.within("bake tolerance", tolerance, 1e-3, 1);
    Limits.whole("bake paths", paths, 512, RenderSettings.MOST_SAMPLES);
  }

  /** Returns the same, used or not. */
  public Irradiance used(boolean on) {
    return new Irradiance(on, every, accuracy, tolerance, paths, direct);
  }

  /** Returns the same for every Nth frame. */
  public Irradiance each(int n) {
    return new Irradiance(use, n, accuracy, tolerance, paths, direct);
  }
}
