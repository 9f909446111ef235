package posada.core.irradiance;

import java.util.List;
import java.util.Map;

/**
 * What baked light was made of, and what it depends on.
 *
 * @param camera through which it was baked
 * @param frames that were looked at
 * @param width of the picture that was looked at, pixels; likewise height
 * @param accuracy distance of points over the harmonic mean of the distances around them
 * @param tolerance standard error of a point's light over it
 * @param direct true if light that comes straight from lights is in it, too
 * @param seconds that baking took
 * @param depends a fingerprint of each thing that it depends on, by name
 */
public record BakeInfo(
    String camera,
    List<Integer> frames,
    int width,
    int height,
    double accuracy,
    double tolerance,
    boolean direct,
    double seconds,
    Map<String, String> depends) {
  public static final BakeInfo NONE = new BakeInfo("", List.of(), 1, 1, 1, 1, false, 0, Map.of());
}
