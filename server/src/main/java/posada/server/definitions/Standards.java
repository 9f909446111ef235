package posada.server.definitions;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.settings.Denoising;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.files.Delivery;
import posada.formats.files.FileFormat;

/** What every production begins with. */
public final class Standards {
  private static final Denoising CLEAN = new Denoising(true, 1);

  private Standards() {}

  /** Returns recipes from quick to clean. */
  public static Map<String, Recipe> recipes() {
    Map<String, Recipe> all = new LinkedHashMap<>();
    all.put("preview", recipe(16).with(CLEAN));
    all.put("medium", recipe(64).with(CLEAN));
    all.put("final", recipe(256));
    return all;
  }

  private static Recipe recipe(int samples) {
    return Recipe.DEFAULT.with(Recipe.DEFAULT.sampling().with(samples, 0));
  }

  /** Returns deliveries: to a compositor as one file or a file for each pass; to look at. */
  public static Map<String, Delivery> deliveries() {
    Map<String, Delivery> all = new LinkedHashMap<>();
    all.put("comp", Delivery.DEFAULT);
    all.put("passes", Delivery.DEFAULT.perPass(true));
    all.put("display", Delivery.DEFAULT.as(List.of(FileFormat.PNG8)));
    return all;
  }

  /** Returns sets of passes from few to many. */
  public static Map<String, PassSettings> passSets() {
    Set<Pass> data = EnumSet.of(Pass.BEAUTY, Pass.DEPTH, Pass.NORMAL, Pass.ALBEDO);
    Set<Pass> light = EnumSet.copyOf(Pass.LIGHT_PARTS);
    light.add(Pass.BEAUTY);
    Set<Pass> all = EnumSet.copyOf(light);
    all.addAll(data);
    all.addAll(EnumSet.of(Pass.MOTION_NEXT, Pass.MATTE_OBJECTS, Pass.AMBIENT_OCCLUSION));
    Map<String, PassSettings> sets = new LinkedHashMap<>();
    sets.put("picture", PassSettings.BEAUTY);
    sets.put("picture-and-data", PassSettings.BEAUTY.with(data));
    sets.put("light", PassSettings.BEAUTY.with(light));
    sets.put("light-and-data", PassSettings.BEAUTY.with(all));
    return sets;
  }

  /** Returns the layer in which everything is seen. */
  public static Map<String, LayerDocument> layers() {
    PassSettings passes =
        PassSettings.BEAUTY.with(Set.of(Pass.BEAUTY, Pass.DEPTH, Pass.NORMAL, Pass.ALBEDO));
    return Map.of("main", new LayerDocument(Layer.MAIN, passes, true, null, null, null));
  }
}
