package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import posada.core.light.LightSample;
import posada.core.light.PunctualLight;
import posada.core.scene.NameMask;
import posada.core.scene.Scene;
import posada.core.settings.ChannelNames;
import posada.core.settings.PassSettings;

/** To which light group the nodes of a scene, its environment and its sun belong. Immutable. */
public final class LightGroups {
  private static final String ENVIRONMENT_NAME = "environment";
  private static final String SUN_NAME = "sun";
  private final List<String> names = new ArrayList<>();
  private final int[] ofNode;
  private final int environmentLight;
  private final int sun;

  /** What the scene does not have counts for nothing. */
  public LightGroups(Scene scene, PassSettings settings) {
    Map<String, List<String>> groups = settings.lightGroups();
    names.addAll(groups.keySet());
    names.add(ChannelNames.REST);
    environmentLight = rest(find(groups, ENVIRONMENT_NAME));
    sun = rest(find(groups, SUN_NAME));
    ofNode = NameMask.inherited(scene.nodes(), groups.values());
    Arrays.setAll(ofNode, i -> rest(ofNode[i]));
  }

  private int rest(int found) {
    return found < 0 ? names.size() - 1 : found;
  }

  private static int find(Map<String, List<String>> groups, String name) {
    int g = 0;
    for (List<String> patterns : groups.values()) {
      if (patterns.stream().anyMatch(p -> NameMask.fits(p, name))) {
        return g;
      }
      g++;
    }
    return -1;
  }

  /** Returns the names of all groups, that of the rest last. */
  public List<String> names() {
    return names;
  }

  public int of(int node) {
    return ofNode[node];
  }

  /** Returns the group of a light, by its node or by what stands for one. */
  public int ofLight(int node) {
    return switch (node) {
      case LightSample.ENVIRONMENT -> environmentLight;
      case PunctualLight.SUN -> sun;
      default -> of(node);
    };
  }

  public int environmentLight() {
    return environmentLight;
  }
}
