package posada.core.plan;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import posada.core.scene.Scene;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;

/**
 * Whether light can be baked once for some frames, and what stands in the way.
 *
 * @param movers names of the uppermost objects that move or change and could be put in a layer of
 *     their own
 * @param why sentences that name what changes, and in which frames, or what else is in the way;
 *     none if it can be used
 */
public record BakeCheck(List<String> movers, List<String> why) {
  private static final String OBJECT = "object ";

  public BakeCheck {
    movers = List.copyOf(movers);
    why = List.copyOf(why);
  }

  /** Looks at all frames of a sequence; objects are told by what moves them. */
  public static BakeCheck of(RenderScene built, List<Moment> moments, RenderSettings settings) {
    Scene scene = built.scene();
    BitSet moving = ObjectList.moving(scene);
    Map<String, TreeSet<Integer>> movers = new LinkedHashMap<>();
    Map<String, Integer> parts = new LinkedHashMap<>();
    List<String> rest = new ArrayList<>();
    built
        .differing(moments, settings)
        .forEach(
            (name, frames) -> {
              int node = name.startsWith(OBJECT) ? scene.node(name.substring(OBJECT.length())) : -1;
              if (node < 0) {
                rest.add(name + " changes in " + where(frames));
                return;
              }
              String top = scene.nodes().get(top(scene, moving, node)).name();
              movers.computeIfAbsent(top, k -> new TreeSet<>()).addAll(frames);
              parts.merge(top, 1, Integer::sum);
            });
    List<String> why = new ArrayList<>();
    movers.forEach(
        (name, frames) ->
            why.add(
                name
                    + (parts.get(name) > 1 ? " with " + parts.get(name) + " objects" : "")
                    + " moves or changes in "
                    + where(List.copyOf(frames))));
    why.addAll(rest);
    if (settings.passes().wants(Pass.LIGHT_GROUPS)) {
      why.add("light groups cannot be told apart in baked light: leave out the pass light-groups");
    }
    return new BakeCheck(List.copyOf(movers.keySet()), why);
  }

  private static String where(List<Integer> frames) {
    return (frames.size() == 1 ? "frame " : "frames ") + new FrameRange(frames);
  }

  /** The uppermost node that moves, of those in a row above a node; or the node itself. */
  private static int top(Scene scene, BitSet moving, int node) {
    int top = node;
    for (int p = node; p >= 0 && (moving.get(p) || p == node); p = scene.nodes().get(p).parent()) {
      top = p;
    }
    return top;
  }
}
