package posada.core.rig;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Function;

/** What a production adds to a scene. */
public record Rig(
    List<RigCamera> cameras,
    List<RigLight> lights,
    List<ObjectChange> objects,
    List<MaterialChange> materials) {
  public static final Rig NONE = new Rig(List.of(), List.of(), List.of(), List.of());

  /** Most cameras, lights, objects or materials. */
  public static final int MOST = 500;

  public Rig {
    cameras = once("cameras", cameras, RigCamera::name);
    lights = once("lights", lights, RigLight::name);
    objects = once("objects", objects, ObjectChange::object);
    materials = once("materials", materials, MaterialChange::material);
  }

  private static <T> List<T> once(String what, List<T> all, Function<T, String> name) {
    if (all.size() > MOST) {
      throw new IllegalArgumentException(
          "a rig has at most " + MOST + " " + what + " (got " + all.size() + ")");
    }
    Set<String> seen = new HashSet<>();
    for (T t : all) {
      if (!seen.add(name.apply(t))) {
        throw new IllegalArgumentException(
            "two " + what + " of the rig are called \"" + name.apply(t) + "\"; rename one");
      }
    }
    return List.copyOf(all);
  }

  /**
   * Returns the same for a scene whose objects are called otherwise.
   *
   * @param names old names to new ones
   */
  public Rig renamed(Map<String, String> names) {
    return new Rig(
        cameras.stream().map(c -> c.renamed(names)).toList(),
        lights.stream().map(l -> l.renamed(names)).toList(),
        objects.stream()
            .map(
                o ->
                    new ObjectChange(names.getOrDefault(o.object(), o.object()), o.shown(), o.on()))
            .toList(),
        materials);
  }

  /** Returns the names of the lights that are on, by their light groups. */
  public Map<String, List<String>> lightGroups() {
    Map<String, List<String>> all = new LinkedHashMap<>();
    for (RigLight l : lights) {
      if (l.on() && !l.group().isEmpty()) {
        all.computeIfAbsent(l.group(), g -> new ArrayList<>()).add(l.name());
      }
    }
    return all;
  }

  /** Returns true if it adds nothing. */
  public boolean empty() {
    return equals(NONE);
  }
}
