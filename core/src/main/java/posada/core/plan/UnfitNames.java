package posada.core.plan;

import java.util.ArrayList;
import java.util.List;
import posada.core.scene.Scene;
import posada.core.settings.RenderSettings;

/**
 * What settings name and a scene does not have. Such a name counts for nothing there, since one
 * layer may serve shots of several scenes; but it may also be a slip of the pen.
 */
public final class UnfitNames {
  private UnfitNames() {}

  /** Returns sentences, one for each name or pattern. */
  public static List<String> of(Scene scene, RenderSettings s) {
    List<String> all = new ArrayList<>();
    for (String p : LayerRoles.unfit(scene, s.layer())) {
      all.add("Layer " + s.layer().name() + ": no object is called \"" + p + "\".");
    }
    all.addAll(LightGroupCheck.unfit(scene, s.passes().lightGroups()));
    return all;
  }

  /**
   * Refuses settings that name what a scene does not have.
   *
   * @throws IllegalArgumentException naming the first
   */
  public static void refuse(Scene scene, RenderSettings s) {
    List<String> all = of(scene, s);
    if (!all.isEmpty()) {
      throw new IllegalArgumentException(all.get(0));
    }
  }
}
