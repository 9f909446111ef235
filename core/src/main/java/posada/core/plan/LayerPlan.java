package posada.core.plan;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import posada.core.scene.Animation;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;

/** Layers that suit a scene, made from what is in it. */
public final class LayerPlan {
  /** Most layers that are made at once. */
  private static final int MOST = 12;

  private static final int LONGEST_NAME = 40;

  /** Ways of taking a scene apart. */
  public enum Way {
    /** What moves, with the shadows that it throws, apart from what stands still. */
    MOVING_AND_STILL,
    /** Each group at the top of the scene, cut out of the others. */
    GROUPS,
    /** Everything in clay, to approve movement. */
    CLAY
  }

  private LayerPlan() {}

  /**
   * Returns layers, by their names, in order.
   *
   * @throws IllegalArgumentException if the scene has nothing to tell apart that way, or too much
   */
  public static Map<String, Layer> of(Scene scene, Way way) {
    return switch (way) {
      case MOVING_AND_STILL -> movingAndStill(scene);
      case GROUPS -> groups(scene);
      case CLAY -> Map.of("clay", Layer.MAIN.of(Layer.Plain.CLAY).named("clay"));
    };
  }

  private static Map<String, Layer> movingAndStill(Scene scene) {
    List<String> moving = moving(scene);
    BitSet shown = withMeshes(scene);
    boolean allMove =
        scene.nodes().stream()
            .filter(n -> n.mesh() >= 0)
            .allMatch(n -> underAny(scene, scene.nodes().indexOf(n), moving));
    if (moving.isEmpty() || allMove || shown.isEmpty()) {
      throw new IllegalArgumentException(
          moving.isEmpty()
              ? "No object of this scene moves; there is nothing to take apart."
              : "Every object of this scene moves; there is nothing to take apart.");
    }
    Map<String, Layer> all = new LinkedHashMap<>();
    all.put("still", layer("still", Role.SEEN, moving, Role.LEFT_OUT));
    all.put("moving", layer("moving", Role.SHADOW_CATCHER, moving, Role.SEEN));
    return all;
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
    BitSet moves = new BitSet();
    for (Animation a : scene.animations()) {
      a.channels().forEach(c -> moves.set(c.node()));
    }
    for (int i = 0; i < scene.nodes().size(); i++) {
      if (scene.nodes().get(i).skin() >= 0) {
        moves.set(i);
      }
    }
    BitSet shown = withMeshes(scene);
    Set<String> names = new LinkedHashSet<>();
    for (int i = moves.nextSetBit(0); i >= 0; i = moves.nextSetBit(i + 1)) {
      if (shown.get(i) && !anyAbove(scene, i, moves)) {
        names.add(scene.nodes().get(i).name());
      }
    }
    return new ArrayList<>(names);
  }

  private static boolean anyAbove(Scene scene, int node, BitSet some) {
    for (int p = scene.nodes().get(node).parent(); p >= 0; p = scene.nodes().get(p).parent()) {
      if (some.get(p)) {
        return true;
      }
    }
    return false;
  }

  private static boolean underAny(Scene scene, int node, List<String> names) {
    for (int p = node; p >= 0; p = scene.nodes().get(p).parent()) {
      if (names.contains(scene.nodes().get(p).name())) {
        return true;
      }
    }
    return false;
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
