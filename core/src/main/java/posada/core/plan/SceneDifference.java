package posada.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/**
 * What is not the same in the next revision of a scene. Objects are matched by their names; of
 * those that are left, by shape, by what they hang on, by where they are and by how alike their
 * names are.
 *
 * @param added names of objects that were not there
 * @param changed objects that are there in both
 * @param gone names of objects that are there no more
 * @param renamed objects that have another name now
 */
public record SceneDifference(
    List<String> added, List<Changed> changed, List<String> gone, List<Renamed> renamed) {
  /** What of an object can be another. */
  public enum What {
    SHAPE,
    PLACE,
    PARENT,
    MATERIAL,
    MOVEMENT,
    CAMERA,
    LIGHT
  }

  /** An object that is not as it was. */
  public record Changed(String name, Set<What> what) {}

  /**
   * An object with another name.
   *
   * @param certain false if somebody should confirm it
   * @param what is another besides
   */
  public record Renamed(String from, String to, boolean certain, Set<What> what) {}

  /** Points for what two objects have in common; from so many on they are taken for one. */
  private static final int SHAPE = 4, PARENT = 2, PLACE = 2, NAME = 2, ENOUGH = 4, SURE = 6;

  /** Pairs of objects that are held against each other at most. */
  private static final int MOST = 4_000_000;

  /** A node as it is compared. */
  private record Item(
      String name,
      String parent,
      Object place,
      long shape,
      List<String> materials,
      Object camera,
      Object light,
      long movement) {}

  /** Returns what is another. */
  public static SceneDifference of(Scene before, Scene after) {
    Map<String, Item> old = items(before);
    Map<String, Item> now = items(after);
    List<Item> gone = old.values().stream().filter(a -> !now.containsKey(a.name)).toList();
    List<Item> added = now.values().stream().filter(b -> !old.containsKey(b.name)).toList();
    List<Pair> pairs = matched(gone, added);
    Map<String, String> names = new HashMap<>();
    pairs.forEach(p -> names.put(p.from.name, p.to.name));
    List<Renamed> renamed =
        pairs.stream()
            .map(p -> new Renamed(p.from.name, p.to.name, p.certain, compared(p.from, p.to, names)))
            .toList();
    List<Changed> changed = new ArrayList<>();
    for (Item a : old.values()) {
      Item b = now.get(a.name);
      Set<What> what = b == null ? Set.of() : compared(a, b, names);
      if (!what.isEmpty()) {
        changed.add(new Changed(a.name, what));
      }
    }
    Set<String> from = new HashSet<>();
    Set<String> to = new HashSet<>();
    renamed.forEach(
        r -> {
          from.add(r.from);
          to.add(r.to);
        });
    return new SceneDifference(
        added.stream().map(Item::name).filter(n -> !to.contains(n)).toList(),
        List.copyOf(changed),
        gone.stream().map(Item::name).filter(n -> !from.contains(n)).toList(),
        renamed);
  }

  /** Returns true if nothing is another. */
  public boolean same() {
    return added.isEmpty() && changed.isEmpty() && gone.isEmpty() && renamed.isEmpty();
  }

  private static Map<String, Item> items(Scene s) {
    long[] movement = new long[s.nodes().size()];
    for (Animation a : s.animations()) {
      for (Channel c : a.channels()) {
        movement[c.node()] =
            31 * movement[c.node()]
                + Objects.hash(
                    c.path(),
                    Arrays.hashCode(c.curve().times()),
                    Arrays.hashCode(c.curve().values()));
      }
    }
    long[] shapes = s.meshes().stream().mapToLong(m -> shape(m.primitives())).toArray();
    Map<String, Item> all = new LinkedHashMap<>();
    for (int i = 0; i < s.nodes().size(); i++) {
      Node n = s.nodes().get(i);
      List<String> materials =
          n.mesh() < 0
              ? List.of()
              : s.meshes().get(n.mesh()).primitives().stream()
                  .map(p -> s.materials().get(p.material()).name())
                  .toList();
      Camera c = n.camera() < 0 ? null : s.cameras().get(n.camera());
      Light l = n.light() < 0 ? null : s.lights().get(n.light());
      all.put(
          n.name(),
          new Item(
              n.name(),
              n.parent() < 0 ? "" : s.nodes().get(n.parent()).name(),
              Arrays.hashCode(n.local().toFloats()),
              n.mesh() < 0 ? 0 : shapes[n.mesh()],
              materials,
              c == null ? null : List.of(c.verticalAngle(), c.halfHeight()),
              l == null
                  ? null
                  : List.of(l.kind(), l.intensity(), Arrays.hashCode(l.color()), l.size()),
              movement[i]));
    }
    return all;
  }

  private static long shape(List<Primitive> primitives) {
    long h = 1;
    for (Primitive p : primitives) {
      h = 31 * h + Arrays.hashCode(p.positions());
      h = 31 * h + Arrays.hashCode(p.indices());
    }
    return h;
  }

  /**
   * @param names what objects are called now
   */
  private static Set<What> compared(Item a, Item b, Map<String, String> names) {
    Set<What> what = EnumSet.noneOf(What.class);
    put(what, What.SHAPE, a.shape == b.shape);
    put(what, What.PLACE, a.place.equals(b.place));
    put(what, What.PARENT, names.getOrDefault(a.parent, a.parent).equals(b.parent));
    put(what, What.MATERIAL, a.materials.equals(b.materials));
    put(what, What.MOVEMENT, a.movement == b.movement);
    put(what, What.CAMERA, Objects.equals(a.camera, b.camera));
    put(what, What.LIGHT, Objects.equals(a.light, b.light));
    return what;
  }

  private static void put(Set<What> what, What w, boolean same) {
    if (!same) {
      what.add(w);
    }
  }

  /** A pair that may be one object. */
  private record Pair(Item from, Item to, int points, boolean certain) {}

  private static List<Pair> matched(List<Item> gone, List<Item> added) {
    if ((long) gone.size() * added.size() > MOST) {
      return List.of();
    }
    Map<String, Integer> rivals = new HashMap<>();
    List<Pair> pairs = new ArrayList<>();
    for (Item a : gone) {
      for (Item b : added) {
        int points = points(a, b);
        if (points >= ENOUGH) {
          pairs.add(new Pair(a, b, points, false));
          rivals.merge("from " + a.name + points, 1, Integer::sum);
          rivals.merge("to " + b.name + points, 1, Integer::sum);
        }
      }
    }
    pairs.sort(Comparator.comparingInt(Pair::points).reversed());
    Set<String> taken = new HashSet<>();
    List<Pair> all = new ArrayList<>();
    for (Pair p : pairs) {
      if (!taken.contains("from " + p.from.name) && !taken.contains("to " + p.to.name)) {
        taken.add("from " + p.from.name);
        taken.add("to " + p.to.name);
        boolean alone =
            rivals.get("from " + p.from.name + p.points) == 1
                && rivals.get("to " + p.to.name + p.points) == 1;
        all.add(new Pair(p.from, p.to, p.points, alone && p.points >= SURE));
      }
    }
    return all;
  }

  private static int points(Item a, Item b) {
    boolean kind =
        (a.shape == 0) == (b.shape == 0)
            && (a.camera == null) == (b.camera == null)
            && (a.light == null) == (b.light == null);
    if (!kind) {
      return 0;
    }
    return (a.shape != 0 && a.shape == b.shape ? SHAPE : 0)
        + (a.parent.equals(b.parent) ? PARENT : 0)
        + (a.place.equals(b.place) ? PLACE : 0)
        + (alike(a.name, b.name) ? NAME : 0);
  }

  /** Returns true if names differ in no more than a third of their letters. */
  static boolean alike(String a, String b) {
    int most = Math.max(a.length(), b.length());
    return most <= 200 && 3 * apart(a.toLowerCase(Locale.ROOT), b.toLowerCase(Locale.ROOT)) <= most;
  }

  /** Returns how many letters must be put in, left out or changed (Levenshtein's distance). */
  private static int apart(String a, String b) {
    int[] row = new int[b.length() + 1];
    Arrays.setAll(row, k -> k);
    for (int i = 1; i <= a.length(); i++) {
      int diagonal = row[0];
      row[0] = i;
      for (int k = 1; k <= b.length(); k++) {
        int change = diagonal + (a.charAt(i - 1) == b.charAt(k - 1) ? 0 : 1);
        diagonal = row[k];
        row[k] = Math.min(change, 1 + Math.min(row[k], row[k - 1]));
      }
    }
    return row[b.length()];
  }
}
