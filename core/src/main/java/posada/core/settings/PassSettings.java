package posada.core.settings;

import java.util.Collections;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Into which passes a picture is taken apart, and how.
 *
 * @param wanted at least one; in catalogue order
 * @param lightGroups names of groups and patterns of the nodes whose light is in them; {@code *}
 *     and {@code ?} stand for any letters and one; a node that no pattern names belongs where its
 *     parent does. {@code environment} and {@code sun} name those.
 * @param occlusionRadius metres out to which ambient occlusion looks, above 0
 * @param occlusionFalloff 0 if everything inside the radius shuts in alike; with 1 what is far
 *     counts less, in a straight line, with 2 in a parabola
 * @param matteRanks how many names of each ID matte a pixel holds, 2 .. 16 and even
 * @param own the user's own passes by name
 * @param deepTolerance 0 for no deep picture; else depths that differ by less than this part of
 *     them are joined in one sample
 */
public record PassSettings(
    Set<Pass> wanted,
    Map<String, List<String>> lightGroups,
    double occlusionRadius,
    double occlusionFalloff,
    int matteRanks,
    Map<String, OwnPass> own,
    double deepTolerance) {
  /** What fits into the bits of a number, with the rest. */
  private static final int MOST_GROUPS = 60;

  /** Names of an ID matte that are followed in a pixel beyond those that are kept. */
  public static final int MATTE_SPARE = 2;

  public static final PassSettings BEAUTY =
      new PassSettings(Set.of(Pass.BEAUTY), Map.of(), 1, 1, 6, Map.of(), 0);

  public PassSettings {
    if (wanted.isEmpty()) {
      throw new IllegalArgumentException("at least one pass is needed");
    }
    wanted = Collections.unmodifiableSet(EnumSet.copyOf(wanted));
    lightGroups = Collections.unmodifiableMap(new LinkedHashMap<>(lightGroups));
    if (lightGroups.size() > MOST_GROUPS) {
      throw new IllegalArgumentException(
          "at most "
              + MOST_GROUPS
              + " light groups are told apart (got "
              + lightGroups.size()
              + ")");
    }
    for (Map.Entry<String, List<String>> e : lightGroups.entrySet()) {
      name("light group", e.getKey(), e.getKey().equals(ChannelNames.REST));
      if (e.getValue().isEmpty()) {
        throw new IllegalArgumentException(
            "light group \"" + e.getKey() + "\" needs at least one pattern");
      }
    }
    Limits.within("occlusion radius", occlusionRadius, 1e-4, 1e6);
    Limits.within("occlusion falloff", occlusionFalloff, 0, 16);
    Limits.whole("matte ranks", matteRanks, 2, 16);
    if (matteRanks % 2 != 0) {
      throw new IllegalArgumentException("matte ranks must be even (got " + matteRanks + ")");
    }
    Limits.within("deep tolerance", deepTolerance, 0, 1);
    own = Collections.unmodifiableMap(new LinkedHashMap<>(own));
    for (String name : own.keySet()) {
      name("pass of your own", name, taken(name));
    }
    if (wanted.contains(Pass.OWN) && own.isEmpty()) {
      throw new IllegalArgumentException(
          "the pass own needs at least one entry in passes.own of the settings");
    }
  }

  /** Settings with six names in each matte and no passes of the user's own. */
  public PassSettings(
      Set<Pass> wanted,
      Map<String, List<String>> lightGroups,
      double occlusionRadius,
      double occlusionFalloff) {
    this(wanted, lightGroups, occlusionRadius, occlusionFalloff, 6, Map.of(), 0);
  }

  private static void name(String what, String name, boolean taken) {
    if (taken || !name.matches("[a-z0-9][a-z0-9-]{0,39}")) {
      throw new IllegalArgumentException(
          "the name of a "
              + what
              + " must be small letters, digits and dashes, and none that the catalogue has (got \""
              + name
              + "\")");
    }
  }

  private static boolean taken(String name) {
    return name.startsWith("light-") || Pass.CATALOGUE.contains(name);
  }

  /** Returns these settings with other passes. */
  public PassSettings with(Set<Pass> passes) {
    return new PassSettings(
        passes, lightGroups, occlusionRadius, occlusionFalloff, matteRanks, own, deepTolerance);
  }

  /** Returns these settings with nodes in light groups besides; those of a group are together. */
  public PassSettings with(Map<String, List<String>> more) {
    Map<String, List<String>> all = new LinkedHashMap<>(lightGroups);
    more.forEach(
        (group, nodes) ->
            all.merge(
                group, nodes, (a, b) -> Stream.concat(a.stream(), b.stream()).distinct().toList()));
    return all.equals(lightGroups)
        ? this
        : new PassSettings(
            wanted, all, occlusionRadius, occlusionFalloff, matteRanks, own, deepTolerance);
  }

  /** Returns these settings with a deep picture; 0 for none. */
  public PassSettings withDeep(double tolerance) {
    return new PassSettings(
        wanted, lightGroups, occlusionRadius, occlusionFalloff, matteRanks, own, tolerance);
  }

  /** Returns true if a deep picture is made. */
  public boolean deep() {
    return deepTolerance > 0;
  }

  public boolean wants(Pass p) {
    return wanted.contains(p);
  }

  /** Returns true if paths must be told apart by where their light went or came from. */
  public boolean apart() {
    return wants(Pass.LIGHT_GROUPS) || Pass.LIGHT_PARTS.stream().anyMatch(this::wants);
  }

  /** Returns how many numbers are kept for a pixel of a pass, over all light groups. */
  public int planes(Pass p) {
    return switch (p) {
      case LIGHT_GROUPS -> p.size() * (lightGroups.size() + 1);
      // What could have come, and what came.
      case SHADOW -> 2;
      case OWN -> p.size() * own.size();
      default -> p.size();
    };
  }

  /** Returns the bytes that are kept for a pixel of a pass. */
  public long bytes(Pass p) {
    return p.matte() ? 8L * (matteRanks + MATTE_SPARE) : (long) Float.BYTES * planes(p);
  }
}
