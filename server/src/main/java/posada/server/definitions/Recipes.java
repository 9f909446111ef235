package posada.server.definitions;

import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Service;
import posada.core.settings.Recipe;
import posada.server.app.Stale;

/** Making and changing recipes. */
@Service
public class Recipes extends Definitions<Recipe> {
  public static final String KIND = "recipe";

  Recipes(Parts parts) {
    super(KIND, Recipe.class, Stale.Kind.RECIPES, Standards.recipes(), parts);
  }

  @Override
  String difference(Recipe a, Recipe b) {
    List<String> what = new ArrayList<>();
    if (!a.sampling().equals(b.sampling())) {
      what.add("samples");
    }
    if (!a.bounces().equals(b.bounces())) {
      what.add("bounces and clamp");
    }
    if (!a.denoising().equals(b.denoising())) {
      what.add("denoise");
    }
    if (!a.irradiance().equals(b.irradiance())) {
      what.add("baked light");
    }
    return what.isEmpty() ? "settings" : String.join(" and ", what);
  }
}
