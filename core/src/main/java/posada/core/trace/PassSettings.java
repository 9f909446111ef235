package posada.core.trace;

import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Into which passes a picture is taken apart, and how.
 *
 * @param wanted at least one; in catalogue order
 * @param lightGroups names of groups and patterns of the nodes whose light is in them; {@code *}
 *     and {@code ?} stand for any letters and one; a node that no pattern names belongs where its
 *     parent does. {@code surroundings} and {@code sun} name those.
 * @param occlusionRadius metres out to which ambient occlusion looks, above 0
 * @param occlusionFalloff 0 if everything inside the radius shuts in alike; with 1 what is far
 *     counts less, in a straight line, with 2 in a parabola
 */
public record PassSettings(
    Set<Pass> wanted,
    Map<String, List<String>> lightGroups,
    double occlusionRadius,
    double occlusionFalloff) {
  public static final PassSettings BEAUTY = new PassSettings(Set.of(Pass.BEAUTY), Map.of(), 1, 1);

  public PassSettings {
    if (wanted.isEmpty()) {
      throw new IllegalArgumentException("at least one pass is needed");
    }
    wanted = Collections.unmodifiableSet(EnumSet.copyOf(wanted));
    lightGroups = Collections.unmodifiableMap(new LinkedHashMap<>(lightGroups));
    for (Map.Entry<String, List<String>> e : lightGroups.entrySet()) {
      if (!e.getKey().matches("[a-z0-9][a-z0-9-]{0,39}") || e.getKey().equals(LightGroups.REST)) {
        throw new IllegalArgumentException(
            "a light group's name must be small letters, digits and dashes, and not \"rest\" (got"
                + " \""
                + e.getKey()
                + "\")");
      }
      if (e.getValue().isEmpty()) {
        throw new IllegalArgumentException(
            "light group \"" + e.getKey() + "\" needs at least one pattern");
      }
    }
    RenderSettings.within("occlusion radius", occlusionRadius, 1e-4, 1e6);
    RenderSettings.within("occlusion falloff", occlusionFalloff, 0, 16);
  }

  /** Returns these settings with other passes. */
  public PassSettings with(Set<Pass> passes) {
    return new PassSettings(passes, lightGroups, occlusionRadius, occlusionFalloff);
  }

  boolean wants(Pass p) {
    return wanted.contains(p);
  }

  /** Returns true if paths must be told apart by where their light went or came from. */
  boolean apart() {
    return wants(Pass.LIGHT_GROUPS) || Pass.LIGHT_PARTS.stream().anyMatch(this::wants);
  }

  /** Returns how many numbers are kept for a pixel of a pass, over all light groups. */
  int planes(Pass p) {
    return switch (p) {
      case LIGHT_GROUPS -> p.size() * (lightGroups.size() + 1);
      // What could have come, and what came.
      case SHADOW -> 2;
      default -> p.size();
    };
  }
}
