package posada.server.definitions;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.rig.RigCamera;
import posada.core.rig.RigLight;
import posada.formats.settings.RigDocument;
import posada.server.app.ConflictException;
import posada.server.app.Stale;

/** Making and changing rigs: one for each scene of a production. */
@Service
public class Rigs extends Definitions<SceneRig> {
  public static final String KIND = "rig";

  private static final String NAME = "rig";

  Rigs(Parts parts) {
    super(KIND, SceneRig.class, Stale.Kind.RIGS, Map.of(), parts);
  }

  /** Returns the rig of a scene, if there is one. */
  public Optional<Definition<SceneRig>> ofScene(long production, String scene) {
    return all(production).stream().filter(d -> d.document().scene().equals(scene)).findFirst();
  }

  /** Returns what is added to a scene; null for nothing. */
  public RigDocument document(long production, String scene) {
    return ofScene(production, scene)
        .map(d -> d.document().rig())
        .filter(r -> !r.empty())
        .orElse(null);
  }

  /** Makes the rig of a scene that has none. */
  @Transactional
  public Definition<SceneRig> add(long production, SceneRig rig) {
    if (ofScene(production, rig.scene()).isPresent()) {
      throw new ConflictException(
          "The scene \"" + rig.scene() + "\" has a rig already; reload to see it.");
    }
    return add(production, NAME, rig);
  }

  /** Takes a rig over in place of what there is, if it is another. */
  @Transactional
  public void take(long production, SceneRig rig) {
    Definition<SceneRig> there = ofScene(production, rig.scene()).orElse(null);
    if (there != null && !there.document().equals(rig)) {
      change(there.with(rig));
    } else if (there == null && !rig.rig().empty()) {
      add(production, rig);
    }
  }

  /** Lets a scene's rig name objects otherwise: old names to new ones. */
  @Transactional
  public void rename(long production, String scene, Map<String, String> names) {
    Definition<SceneRig> d = ofScene(production, scene).orElse(null);
    if (d != null) {
      RigDocument now = d.document().rig().renamed(names);
      if (!now.equals(d.document().rig())) {
        change(d.with(new SceneRig(scene, now)));
      }
    }
  }

  @Override
  boolean needed() {
    return false;
  }

  @Override
  String difference(SceneRig before, SceneRig now) {
    RigDocument a = before.rig(), b = now.rig();
    List<String> what = new ArrayList<>();
    what.addAll(different("camera", a.cameras(), b.cameras(), RigCamera::name));
    what.addAll(different("light", a.lights(), b.lights(), RigLight::name));
    what.addAll(different("object", a.objects(), b.objects(), o -> o.object()));
    what.addAll(different("material", a.materials(), b.materials(), m -> m.material()));
    if (a.sky() == null ? b.sky() != null : !a.sky().equals(b.sky())) {
      what.add("sky");
    }
    return what.isEmpty() ? "settings" : String.join(" and ", what);
  }

  private static <T> List<String> different(
      String kind, List<T> before, List<T> now, Function<T, String> name) {
    List<String> what = new ArrayList<>();
    for (T t : now) {
      if (!before.contains(t)) {
        what.add(kind + " " + name.apply(t));
      }
    }
    List<String> names = now.stream().map(name).toList();
    for (T t : before) {
      if (!names.contains(name.apply(t))) {
        what.add("loss of " + kind + " " + name.apply(t));
      }
    }
    return what;
  }
}
