package posada.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import posada.core.scene.NameMask;
import posada.core.scene.Node;
import posada.core.scene.Scene;

/** What is odd about light groups in a scene. */
public final class LightGroupCheck {
  /** What stands for lights that are no nodes. */
  private static final List<String> SKY = List.of("environment", "sun");

  private static final int MOST_NAMED = 3;

  private LightGroupCheck() {}

  /** Returns the names of all lights of a scene, with those of the environment and its sun. */
  public static List<String> lights(Scene scene) {
    List<String> names = new ArrayList<>();
    for (Node n : scene.nodes()) {
      if (n.light() >= 0) {
        names.add(n.name());
      }
    }
    names.addAll(SKY);
    return names;
  }

  /** Returns a sentence for each pattern that fits nothing. */
  static List<String> unfit(Scene scene, Map<String, List<String>> groups) {
    List<String> names = new ArrayList<>(scene.nodes().stream().map(Node::name).toList());
    names.addAll(SKY);
    List<String> found = new ArrayList<>();
    groups.forEach(
        (group, patterns) ->
            patterns.stream()
                .filter(p -> names.stream().noneMatch(n -> NameMask.fits(p, n)))
                .forEach(
                    p -> found.add("Group " + group + ": no object is called \"" + p + "\".")));
    return found;
  }

  /** Returns sentences, one for each trouble: patterns that fit nothing, lights in two groups. */
  public static List<String> of(Scene scene, Map<String, List<String>> groups) {
    List<String> found = new ArrayList<>(unfit(scene, groups));
    Map<String, List<String>> shared = new TreeMap<>();
    for (String light : lights(scene)) {
      List<String> in =
          groups.entrySet().stream()
              .filter(g -> g.getValue().stream().anyMatch(p -> NameMask.fits(p, light)))
              .map(Map.Entry::getKey)
              .toList();
      if (in.size() > 1) {
        shared.computeIfAbsent(String.join(" and ", in), k -> new ArrayList<>()).add(light);
      }
    }
    shared.forEach(
        (in, lights) -> {
          int more = lights.size() - MOST_NAMED;
          found.add(
              String.join(", ", lights.subList(0, Math.min(MOST_NAMED, lights.size())))
                  + (more > 0 ? " and " + more + " more" : "")
                  + (lights.size() == 1 ? " is" : " are")
                  + " in "
                  + in
                  + "; the first counts.");
        });
    return found;
  }
}
