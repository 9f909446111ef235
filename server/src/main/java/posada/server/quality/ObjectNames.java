package posada.server.quality;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import posada.core.assembly.BrightPlaces;
import posada.core.scene.Material;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.trace.ObjectMap;
import posada.server.quality.EffortController.Spot;
import posada.server.shots.PicturePart;

/** Names the places of a map by objects; many that are numbered are named as one. */
final class ObjectNames {
  /** So many objects whose names differ by a number are one to a lead: {@code pine-*}. */
  private static final int MANY = 8;

  private static final Pattern NUMBERED = Pattern.compile("(.*?[-_. ])\\d+");

  private final Scene scene;

  /** The first of those that a node is named with. */
  private final int[] first;

  /** Names of those that stand for several. */
  private final Map<Integer, String> several = new HashMap<>();

  ObjectNames(Scene scene) {
    this.scene = scene;
    first = new int[scene.nodes().size()];
    Map<String, List<Integer>> alike = new HashMap<>();
    for (int i = 0; i < first.length; i++) {
      first[i] = i;
      Matcher m = NUMBERED.matcher(scene.nodes().get(i).name());
      if (m.matches()) {
        alike.computeIfAbsent(m.group(1), k -> new ArrayList<>()).add(i);
      }
    }
    alike.forEach(
        (stem, nodes) -> {
          if (nodes.size() >= MANY) {
            several.put(nodes.get(0), stem + "*");
            nodes.forEach(n -> first[n] = nodes.get(0));
          }
        });
  }

  /** Returns where a map is brightest. */
  List<Spot> spots(float[] map, ObjectMap seen, int most) {
    int[] nodes = seen.nodes().clone();
    for (int i = 0; i < nodes.length; i++) {
      nodes[i] = nodes[i] < 0 ? -1 : first[nodes[i]];
    }
    double w = seen.width(), h = seen.height();
    List<Spot> all = new ArrayList<>();
    for (BrightPlaces.Place p : BrightPlaces.of(map, nodes, seen.width(), seen.height(), most)) {
      Material m = p.node() < 0 ? null : material(p.node());
      all.add(
          new Spot(
              p.node() < 0 ? null : name(p.node()),
              m == null ? null : m.name(),
              m != null && m.transmits(),
              p.share(),
              p.pixels(),
              new PicturePart(p.x() / w, p.y() / h, p.width() / w, p.height() / h)));
    }
    return all;
  }

  private String name(int node) {
    return several.getOrDefault(node, scene.nodes().get(node).name());
  }

  /** The one material of a node; null if it has none or several. */
  private Material material(int node) {
    int mesh = scene.nodes().get(node).mesh();
    if (mesh < 0) {
      return null;
    }
    List<Integer> of =
        scene.meshes().get(mesh).primitives().stream().map(Primitive::material).distinct().toList();
    return of.size() == 1 && of.get(0) >= 0 && of.get(0) < scene.materials().size()
        ? scene.materials().get(of.get(0))
        : null;
  }
}
