package posada.core.plan;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;
import posada.core.settings.RuleEdit;

/** Layers that suit a scene, made from what is in it. */
public final class LayerPlan {
  /** Most layers that are made at once. */
  private static final int MOST = 12;

  private static final int LONGEST_NAME = 40;

  /** Ways of taking a scene apart. */
  public enum Way {
    /** What moves and the shadows that it throws, each apart from what stands still. */
    MOVING_AND_STILL,
    /** Each group at the top of the scene, cut out of the others. */
    GROUPS,
    /** What is near, and what is far, each cut out of the other. */
    NEAR_AND_FAR,
    /** Some objects, their shadow and what mirrors show of them, each by itself. */
    OBJECTS,
    /** What stands still in light that is baked once; what moves in a region that follows it. */
    BAKED_BACKGROUND,
    /** Everything in clay, to approve movement. */
    CLAY
  }

  /**
   * What a way of taking apart may need beside the scene.
   *
   * @param objects names of the objects that are wanted by themselves
   * @param seen of which node each pixel is, -1 for none; null if nobody looked
   * @param depths of the same pixels, metres
   */
  public record Looked(List<String> objects, int[] seen, float[] depths) {
    public static final Looked NOTHING = new Looked(List.of(), null, null);
  }

  /** Pixels around what a region follows: room for its glow and its blur. */
  private static final int PAD = 48;

  private static final int SNAP = 16;

  /** Share of the seen pixels below which nobody asks whether an object is near or far. */
  private static final double SMALL = 0.002;

  private LayerPlan() {}

  /**
   * Returns layers, by their names, in order.
   *
   * @throws IllegalArgumentException if the scene has nothing to tell apart that way, or too much
   */
  public static Map<String, Layer> of(Scene scene, Way way, Looked looked) {
    return switch (way) {
      case MOVING_AND_STILL -> movingAndStill(scene);
      case GROUPS -> groups(scene);
      case NEAR_AND_FAR -> nearAndFar(scene, looked);
      case OBJECTS -> objects(scene, looked.objects);
      case BAKED_BACKGROUND -> bakedBackground(scene);
      case CLAY -> Map.of("clay", Layer.MAIN.of(Layer.Plain.CLAY).named("clay"));
    };
  }

  /**
   * Returns which of such layers have the background: those that show all but some objects, or the
   * lowest if each of them shows some. What is cut out lies over those.
   */
  public static Set<String> withBackground(Map<String, Layer> all) {
    Set<String> some = new LinkedHashSet<>();
    all.forEach(
        (name, l) -> {
          if (l.otherwise() == Role.SEEN) {
            some.add(name);
          }
        });
    return some.isEmpty() ? Set.of(all.keySet().iterator().next()) : some;
  }

  private static Map<String, Layer> movingAndStill(Scene scene) {
    List<String> moving = moving(scene);
    BitSet under = under(scene, moving);
    List<Node> nodes = scene.nodes();
    boolean allMove =
        IntStream.range(0, nodes.size()).allMatch(i -> under.get(i) || nodes.get(i).mesh() < 0);
    if (moving.isEmpty() || allMove) {
      throw new IllegalArgumentException(
          moving.isEmpty()
              ? "No object of this scene moves; there is nothing to take apart."
              : "Every object of this scene moves; there is nothing to take apart.");
    }
    Map<String, Layer> all = new LinkedHashMap<>();
    all.put("still", layer("still", Role.SEEN, moving, Role.LEFT_OUT));
    all.put("moving-shadow", shadow(scene, "moving-shadow", moving));
    all.put("moving", layer("moving", Role.HOLDOUT, moving, Role.SEEN));
    return all;
  }

  private static Map<String, Layer> bakedBackground(Scene scene) {
    Map<String, Layer> all = new LinkedHashMap<>();
    Map<String, Layer> apart = movingAndStill(scene);
    Layer moving = apart.get("moving");
    all.put("background", apart.get("still").named("background"));
    Layer.Region region = new Layer.Region(null, moving.objects().get(0).match(), PAD, SNAP, false);
    // Shadows may fall anywhere.
    all.put("moving-shadow", apart.get("moving-shadow"));
    all.put("moving", moving.of(region));
    return all;
  }

  /**
   * Takes some objects out of a layer: itself without them, the shadows that they throw, and they,
   * cut out by the rest, in a region that follows them unless the layer has one. What the layer
   * does not show is not shown, nor does it cut out, beside it; what it makes of them they stay.
   *
   * @param movers names of the objects
   */
  public static List<Layer> without(Layer from, List<String> movers, Scene scene) {
    Layer.Rule out = new Layer.Rule(movers, Role.LEFT_OUT, null, null, null);
    Layer.Region follow = new Layer.Region(null, movers, PAD, SNAP, false);
    Layer.Region own = from.region();
    String base = from.name().substring(0, Math.min(LONGEST_NAME - 15, from.name().length()));
    Layer shadow = shadow(scene, base + "-moving-shadow", movers);
    Layer moving = layer(base + "-moving", Role.HOLDOUT, movers, Role.SEEN);
    BitSet under = under(scene, movers);
    List<Role> was = from.roles(scene);
    IntPredicate cast = castShadows(scene, from);
    return List.of(
        exactly(
            scene,
            from.with(RuleEdit.say(from.objects(), out)),
            i -> under.get(i) ? Role.LEFT_OUT : was.get(i),
            cast),
        exactly(
            scene,
            beside(from, shadow, Role.SHADOW_CATCHER).of(own),
            i -> beside(was.get(i), under.get(i) ? Role.UNSEEN : Role.SHADOW_CATCHER),
            i -> under.get(i) && cast.test(i)),
        exactly(
            scene,
            beside(from, moving, Role.HOLDOUT).of(own == null ? follow : own),
            i -> under.get(i) ? was.get(i) : beside(was.get(i), Role.HOLDOUT),
            cast));
  }

  private static IntPredicate castShadows(Scene scene, Layer layer) {
    String shadows = LayerRoles.of(scene, layer).shadows();
    return i -> shadows.charAt(i) == '1';
  }

  /**
   * Puts rules before those of a layer for the objects of which they make something else than is
   * wanted: a pattern that fits what hangs below an object counts there before what is said of it.
   *
   * @param role of each node; null for any
   */
  private static Layer exactly(
      Scene scene, Layer layer, IntFunction<Role> role, IntPredicate castsShadows) {
    Map<Role, Set<String>> roles = new EnumMap<>(Role.class);
    Map<Boolean, Set<String>> casts = new TreeMap<>();
    Layer now = layer;
    boolean more;
    do {
      more = false;
      List<Role> is = now.roles(scene);
      IntPredicate does = castShadows(scene, now);
      for (int i = 0; i < is.size(); i++) {
        Node n = scene.nodes().get(i);
        Role wanted = role.apply(i);
        boolean throwing = castsShadows.test(i);
        if (n.mesh() >= 0 && wanted != null && is.get(i) != wanted) {
          more |= roles.computeIfAbsent(wanted, r -> new LinkedHashSet<>()).add(n.name());
        }
        if (n.mesh() >= 0 && does.test(i) != throwing) {
          more |= casts.computeIfAbsent(throwing, t -> new LinkedHashSet<>()).add(n.name());
        }
      }
      List<Layer.Rule> rules = new ArrayList<>();
      roles.forEach((r, of) -> rules.add(new Layer.Rule(List.copyOf(of), r, null, null, null)));
      casts.forEach((t, of) -> rules.add(new Layer.Rule(List.copyOf(of), null, t, null, null)));
      rules.addAll(layer.objects());
      now = layer.with(rules);
    } while (more);
    return now;
  }

  /**
   * A layer of some objects beside one that is without them.
   *
   * @param shown what becomes of what that one shows
   */
  private static Layer beside(Layer from, Layer some, Role shown) {
    List<Layer.Rule> rules = new ArrayList<>(some.objects());
    for (Layer.Rule r : from.objects()) {
      Role role = r.role() == null ? null : beside(r.role(), shown);
      rules.add(new Layer.Rule(r.match(), role, r.castsShadows(), r.reflected(), r.receives()));
    }
    return new Layer(
        some.name(),
        beside(from.otherwise(), shown),
        rules,
        from.material(),
        from.lights(),
        from.environment(),
        from.textures(),
        from.under(),
        null);
  }

  private static Role beside(Role role, Role shown) {
    return role == Role.SEEN || role == Role.SHADOW_CATCHER ? shown : role;
  }

  private static Map<String, Layer> objects(Scene scene, List<String> names) {
    if (names.isEmpty()) {
      throw new IllegalArgumentException("Choose the objects that are wanted by themselves.");
    }
    for (String n : names) {
      if (scene.node(n) < 0) {
        throw new IllegalArgumentException("There is no object \"" + n + "\" in this scene.");
      }
    }
    Map<String, Layer> all = new LinkedHashMap<>();
    String first = name(names.get(0), Set.of());
    // Room for what is said before or behind it.
    String own = first.substring(0, Math.min(LONGEST_NAME - 10, first.length()));
    String clean = "without-" + own;
    all.put(clean, layer(clean, Role.SEEN, names, Role.LEFT_OUT));
    // Against the layer without it this one has what mirrors show of it.
    Layer mirrored =
        layer(own, Role.SEEN, names, Role.UNSEEN)
            .with(List.of(new Layer.Rule(names, Role.UNSEEN, false, null, null)));
    all.put(own + "-reflected", mirrored);
    all.put(own + "-shadow", shadow(scene, own, names));
    all.put(own, layer(own, Role.HOLDOUT, names, Role.SEEN));
    Map<String, Layer> named = new LinkedHashMap<>();
    all.forEach((n, l) -> named.put(n, l.named(n)));
    return named;
  }

  /** Parts what is seen at the middle of its depths, by objects. */
  private static Map<String, Layer> nearAndFar(Scene scene, Looked looked) {
    if (looked.seen == null) {
      throw new IllegalArgumentException("What is near and far is told through a shot's camera.");
    }
    int n = scene.nodes().size();
    double[] sum = new double[n];
    int[] pixels = new int[n];
    int all = 0;
    double mean = 0;
    for (int i = 0; i < looked.seen.length; i++) {
      int node = looked.seen[i];
      if (node >= 0 && looked.depths[i] > 0 && looked.depths[i] < Float.POSITIVE_INFINITY) {
        double depth = Math.log(looked.depths[i]);
        sum[node] += depth;
        pixels[node]++;
        mean += depth;
        all++;
      }
    }
    List<String> near = new ArrayList<>();
    BitSet nearer = new BitSet(), farther = new BitSet();
    for (int i = 0; i < n; i++) {
      if (pixels[i] > SMALL * all && pixels[i] > 0) {
        if (sum[i] / pixels[i] < mean / all) {
          near.add(scene.nodes().get(i).name());
          nearer.set(i);
        } else {
          farther.set(i);
        }
      }
    }
    if (near.isEmpty() || farther.isEmpty()) {
      throw new IllegalArgumentException(
          "All that this camera sees is about as far away; there is nothing to take apart.");
    }
    Map<String, Layer> two = new LinkedHashMap<>();
    two.put("far", layer("far", Role.SEEN, near, Role.HOLDOUT));
    two.put("near", layer("near", Role.HOLDOUT, near, Role.SEEN));
    // What is far may hang below what is near.
    two.replaceAll(
        (name, l) -> {
          Role is = l.objects().get(0).role();
          return exactly(
              scene,
              l,
              i -> nearer.get(i) ? is : farther.get(i) ? l.otherwise() : null,
              castShadows(scene, l));
        });
    return two;
  }

  private static Map<String, Layer> groups(Scene scene) {
    BitSet shown = withMeshes(scene);
    Set<String> tops = new LinkedHashSet<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      if (scene.nodes().get(i).parent() < 0 && shown.get(i)) {
        tops.add(scene.nodes().get(i).name());
      }
    }
    if (tops.size() < 2 || tops.size() > MOST) {
      throw new IllegalArgumentException(
          "The scene has "
              + tops.size()
              + (tops.size() == 1 ? " group" : " groups")
              + " of objects at its top; layers are made of 2 to "
              + MOST
              + ".");
    }
    Map<String, Layer> all = new LinkedHashMap<>();
    for (String top : tops) {
      String name = name(top, all.keySet());
      all.put(name, layer(name, Role.HOLDOUT, List.of(top), Role.SEEN));
    }
    return all;
  }

  /** The shadows that some objects throw on all others, and none that those throw. */
  private static Layer shadow(Scene scene, String name, List<String> match) {
    BitSet under = under(scene, match);
    Layer all =
        layer(name, Role.SHADOW_CATCHER, match, Role.UNSEEN)
            .with(
                List.of(
                    new Layer.Rule(match, Role.UNSEEN, true, null, null),
                    new Layer.Rule(List.of("*"), null, false, null, null)));
    return exactly(scene, all, i -> under.get(i) ? Role.UNSEEN : Role.SHADOW_CATCHER, under::get);
  }

  private static Layer layer(String name, Role otherwise, List<String> match, Role role) {
    Layer m = Layer.MAIN;
    return new Layer(
        name,
        otherwise,
        List.of(new Layer.Rule(match, role, null, null, null)),
        m.material(),
        m.lights(),
        m.environment(),
        m.textures(),
        m.under(),
        m.region());
  }

  /** Names of the uppermost nodes that move and have objects in or below them. */
  private static List<String> moving(Scene scene) {
    BitSet moves = ObjectList.moving(scene);
    BitSet shown = withMeshes(scene);
    Set<String> names = new LinkedHashSet<>();
    for (int i = moves.nextSetBit(0); i >= 0; i = moves.nextSetBit(i + 1)) {
      int parent = scene.nodes().get(i).parent();
      if (shown.get(i) && (parent < 0 || !moves.get(parent))) {
        names.add(scene.nodes().get(i).name());
      }
    }
    return new ArrayList<>(names);
  }

  /** The nodes of these names and all below them. */
  private static BitSet under(Scene scene, List<String> names) {
    Set<String> some = new HashSet<>(names);
    BitSet all = new BitSet();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      all.set(i, some.contains(n.name()) || n.parent() >= 0 && all.get(n.parent()));
    }
    return all;
  }

  /** The nodes that have objects in or below them. */
  private static BitSet withMeshes(Scene scene) {
    BitSet some = new BitSet();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      for (int p = n.mesh() >= 0 ? i : -1; p >= 0 && !some.get(p); ) {
        some.set(p);
        p = scene.nodes().get(p).parent();
      }
    }
    return some;
  }

  /** A name that a layer may have and that no other has. */
  private static String name(String of, Set<String> taken) {
    String plain =
        of.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9_-]+", "-").replaceAll("^[-_]+|-+$", "");
    String first = plain.isEmpty() ? "group" : plain;
    first = first.substring(0, Math.min(LONGEST_NAME - 3, first.length()));
    String free = first;
    for (int k = 2; taken.contains(free); k++) {
      free = first + "-" + k;
    }
    return free;
  }
}
