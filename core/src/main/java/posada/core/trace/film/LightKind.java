package posada.core.trace.film;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import posada.core.denoise.CleanPicture;
import posada.core.settings.Pass;

/** Light that is cleaned together. */
public enum LightKind {
  DIFFUSE(Pass.DIFFUSE_DIRECT, Pass.DIFFUSE_INDIRECT),
  GLOSSY(Pass.SPECULAR_DIRECT, Pass.COAT),
  SEEN(Pass.EMISSION, Pass.ENVIRONMENT);

  private final Set<Pass> parts;

  LightKind(Pass first, Pass last) {
    parts = EnumSet.range(first, last);
  }

  /** Returns one colour of a sample's light of this kind. */
  float of(LightParts apart, int color) {
    float sum = 0;
    for (Pass p : parts) {
      sum += apart.sums[3 * (p.ordinal() - Pass.DIFFUSE_DIRECT.ordinal()) + color];
    }
    return sum;
  }

  /** Returns the planes of the light, and behind them those of the parts that are wanted. */
  float[][] planes(float[][] light, Predicate<Pass> wanted, Function<Pass, float[][]> planes) {
    List<float[]> out = new ArrayList<>(List.of(light));
    parts.stream().filter(wanted).forEach(p -> out.addAll(List.of(planes.apply(p))));
    return out.toArray(new float[0][]);
  }

  /** Returns the planes of each pass that was cleaned. */
  public static Map<Pass, float[][]> cleaned(CleanPicture c, Predicate<Pass> wanted) {
    Map<Pass, float[][]> out = new EnumMap<>(Pass.class);
    out.put(Pass.BEAUTY, c.beauty());
    for (LightKind k : values()) {
      float[][] planes =
          switch (k) {
            case DIFFUSE -> c.diffuse();
            case GLOSSY -> c.glossy();
            case SEEN -> c.seen();
          };
      int at = 3;
      for (Pass p : k.parts) {
        if (wanted.test(p)) {
          out.put(p, new float[][] {planes[at], planes[at + 1], planes[at + 2]});
          at += 3;
        }
      }
    }
    if (wanted.test(Pass.LIGHT_GROUPS)) {
      out.put(Pass.LIGHT_GROUPS, c.groups());
    }
    return out;
  }
}
