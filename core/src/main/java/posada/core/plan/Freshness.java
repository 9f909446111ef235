package posada.core.plan;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.trace.FrameContent.Input;
import posada.core.trace.FrameContent.Part;
import posada.core.trace.FrameContent.Thing;

/** The rule by which a written frame is fresh or stale. */
public final class Freshness {
  /** Things that are named in a list of changes; the others are counted. */
  private static final int MOST_NAMED = 4;

  /** The changes of a frame that another recipe alone has made. */
  public static final List<String> RECIPE_ALONE = List.of(word(Part.RECIPE));

  /** Parts that what no ray met may change without changing the picture. */
  private static final Set<Part> OF_THINGS = EnumSet.of(Part.OBJECTS, Part.MATERIALS);

  private Freshness() {}

  /**
   * What a frame was made from.
   *
   * @param parts fingerprints; empty if that is not known
   * @param things objects and lights with their places, in the scene's order
   * @param met numbers of the things that any ray met; null if that is not known
   */
  public record Made(Map<Part, String> parts, List<Thing> things, BitSet met) {
    boolean met(int thing) {
      return met == null || met.get(thing);
    }
  }

  /**
   * Returns why a frame is stale, each reason a short phrase such as {@code material of rock-3}:
   * none if it is fresh, since what no ray met may have another material or be gone.
   */
  public static List<String> changes(Made was, Input now) {
    Set<Part> parts = EnumSet.noneOf(Part.class);
    if (was.parts.isEmpty()) {
      return List.of("what it was made from is not known");
    }
    now.parts()
        .forEach(
            (part, text) -> {
              if (!text.equals(was.parts.get(part))) {
                parts.add(part);
              }
            });
    if (parts.isEmpty()) {
      return List.of();
    }
    Map<Part, List<String>> found = new EnumMap<>(Part.class);
    boolean sameOrder = compare(was, now.placed(), parts, found);
    boolean excused = OF_THINGS.containsAll(parts) && found.isEmpty() && sameOrder;
    if (excused) {
      return List.of();
    }
    List<String> all = new ArrayList<>();
    for (Part p : parts) {
      List<String> things = found.getOrDefault(p, List.of());
      all.addAll(things.subList(0, Math.min(MOST_NAMED, things.size())));
      if (things.size() > MOST_NAMED) {
        all.add(things.size() - MOST_NAMED + " more " + word(p));
      }
      if (things.isEmpty() && !OF_THINGS.contains(p)) {
        all.add(word(p));
      }
    }
    return all.isEmpty() ? List.of("order of the objects") : all;
  }

  /** Returns what a part is called in sentences. */
  static String word(Part p) {
    return p.name().toLowerCase(java.util.Locale.ROOT).replace('_', ' ');
  }

  /**
   * Finds what of the things counts as changed.
   *
   * @return false if those that are in both have another order
   */
  private static boolean compare(
      Made was, List<Thing> now, Set<Part> parts, Map<Part, List<String>> found) {
    Map<List<Object>, Thing> after = new LinkedHashMap<>();
    now.forEach(t -> after.put(key(t), t));
    List<List<Object>> stayed = new ArrayList<>();
    for (int i = 0; i < was.things.size(); i++) {
      Thing old = was.things.get(i);
      Thing t = after.get(key(old));
      boolean matters = was.met(i) || old.glows();
      if (t == null) {
        if (matters) {
          add(found, of(old), parts, old.name() + " is gone");
        }
        continue;
      }
      stayed.add(key(t));
      if (!old.place().equals(t.place())) {
        add(found, of(t), parts, old.name() + " moved");
      }
      if (old.shape() != t.shape()) {
        add(found, of(t), parts, (light(t) ? "light " : "shape or role of ") + t.name());
      }
      if (old.material() != t.material() && (matters || t.glows())) {
        add(found, Part.MATERIALS, parts, "material of " + t.name());
      }
    }
    Set<List<Object>> before = new java.util.HashSet<>();
    was.things.forEach(t -> before.add(key(t)));
    List<List<Object>> order = new ArrayList<>();
    for (Thing t : now) {
      if (before.contains(key(t))) {
        order.add(key(t));
      } else {
        add(found, of(t), parts, t.name() + " is new");
      }
    }
    return order.equals(stayed);
  }

  private static void add(Map<Part, List<String>> found, Part of, Set<Part> parts, String what) {
    // A thing that came or went changes several parts, and is told once; one that only has another
    // name changes none.
    Part p = parts.contains(of) || of == Part.LIGHTS ? of : Part.MATERIALS;
    if (parts.contains(p)) {
      found.computeIfAbsent(p, x -> new ArrayList<>()).add(what);
    }
  }

  private static Part of(Thing t) {
    return light(t) ? Part.LIGHTS : Part.OBJECTS;
  }

  private static boolean light(Thing t) {
    return t.material() == 0;
  }

  /** A node may hold a mesh and a light. */
  private static List<Object> key(Thing t) {
    return List.of(t.name(), light(t));
  }
}
