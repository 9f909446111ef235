package posada.core.trace.bake;

import java.util.ArrayList;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import posada.core.geometry.Affine;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Digest;
import posada.core.scene.Environment;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.ObjectRoles;

/**
 * All that baked light depends on, as it is at one moment: a number for each object, light and
 * material, the environment and the settings. The camera is none of it.
 */
public final class SceneState {
  private final Scene rest;
  private final RenderSettings settings;
  private final ObjectRoles cast;

  /** Hashes of meshes and materials, which are the same at all times. */
  private final Map<Object, String> known = new IdentityHashMap<>();

  public SceneState(Scene scene, RenderSettings settings) {
    rest = scene;
    this.settings = settings;
    cast = new ObjectRoles(scene, settings.layer(), new LightGroups(scene, settings.passes()));
  }

  /** Returns what there is and its number, by name. */
  public Map<String, String> at(Moment m) {
    Map<String, String> all = new TreeMap<>();
    Pose pose = Pose.at(rest, m.seconds(), settings.clips());
    Scene scene = Values.at(rest, m.seconds(), settings.clips());
    TreeSet<Integer> materials = new TreeSet<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (cast.leftOut(i) || !pose.shown(i)) {
        continue;
      }
      if (n.mesh() >= 0) {
        scene.meshes().get(n.mesh()).primitives().forEach(p -> materials.add(p.material()));
        all.put("object " + n.name(), object(i, n, pose));
      }
      if (n.light() >= 0) {
        all.put("light " + n.name(), Digest.of(scene.lights().get(n.light()), pose.world(i).m()));
      }
    }
    for (int i : materials) {
      if (i < scene.materials().size()) {
        all.put("material " + scene.materials().get(i).name(), known(scene.materials().get(i)));
      }
    }
    if (!scene.textures().isEmpty()) {
      all.put("textures", known(scene.textures()));
    }
    Environment e = scene.environment();
    all.put("environment", e.changes() ? Digest.of(known(e), m.seconds()) : known(e));
    Layer l = settings.layer();
    all.put(
        "layer",
        Digest.of(
            l.otherwise(), l.objects(), l.material(), l.lights(), l.environment(), l.textures()));
    all.put("setting bounces", Digest.of(settings.bounces()));
    return all;
  }

  private String known(Object o) {
    return known.computeIfAbsent(o, Digest::of);
  }

  private String object(int i, Node n, Pose pose) {
    boolean bends = Deformation.of(rest, n);
    Affine[] joints = bends ? Deformation.joints(rest, i, pose) : null;
    List<float[]> bones = new ArrayList<>();
    for (int j = 0; joints != null && j < joints.length; j++) {
      bones.add(rounded(joints[j]));
    }
    return Digest.of(
        known(rest.meshes().get(n.mesh())),
        joints == null ? rounded(pose.world(i)) : null,
        bends ? pose.weights(i) : null,
        bones);
  }

  /** To about a tenth of a millimetre: what animations are off by themselves does not count. */
  private static float[] rounded(Affine a) {
    float[] out = new float[a.m().length];
    for (int k = 0; k < out.length; k++) {
      out[k] = Math.round(a.m()[k] * 8192) / 8192f;
    }
    return out;
  }

  /**
   * Returns what is not the same at all moments: sentences that name things and frames.
   *
   * @param reference what it is compared with; null for the first moment
   */
  public List<String> changes(Map<String, String> reference, List<Moment> moments) {
    List<String> out = new ArrayList<>();
    differing(reference, moments)
        .forEach((name, at) -> out.add(sentence(name, at, reference == null)));
    return out;
  }

  /**
   * Returns the frames in which things are not the same, by what they are and their names: {@code
   * object car-1}.
   */
  public Map<String, List<Integer>> differing(Map<String, String> reference, List<Moment> moments) {
    Map<String, List<Integer>> frames = new LinkedHashMap<>();
    Map<String, String> first = reference;
    for (Moment m : moments) {
      Map<String, String> now = at(m);
      if (first == null) {
        first = now;
      }
      TreeSet<String> names = new TreeSet<>(first.keySet());
      names.addAll(now.keySet());
      for (String name : names) {
        if (!java.util.Objects.equals(first.get(name), now.get(name))) {
          frames.computeIfAbsent(name, k -> new ArrayList<>()).add(m.frame());
        }
      }
    }
    return frames;
  }

  private static String sentence(String name, List<Integer> at, boolean inside) {
    String where = at.size() == 1 ? "frame " + at.get(0) : "frames " + ranges(at);
    return name + (inside ? " changes in " : " is not as it was baked, in ") + where;
  }

  /** Frames that follow each other as first-last. */
  private static String ranges(List<Integer> frames) {
    StringBuilder s = new StringBuilder();
    for (int i = 0; i < frames.size(); ) {
      int j = i;
      while (j + 1 < frames.size() && frames.get(j + 1) == frames.get(j) + 1) {
        j++;
      }
      s.append(s.length() > 0 ? ", " : "").append(frames.get(i));
      if (j > i) {
        s.append('-').append(frames.get(j));
      }
      i = j + 1;
    }
    return s.toString();
  }
}
