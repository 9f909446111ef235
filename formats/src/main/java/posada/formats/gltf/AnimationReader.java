package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.AnimationChannel;
import de.javagl.jgltf.impl.v2.AnimationChannelTarget;
import de.javagl.jgltf.impl.v2.AnimationSampler;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntUnaryOperator;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Curve;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Animation.Value;
import posada.core.scene.Node;
import posada.core.scene.Property;

/** Reads animations: all keys of what the scene shows. */
final class AnimationReader {
  static final String POINTER = "KHR_animation_pointer";

  private final GltfFile file;
  private final AccessorReader accessors;
  private final NodeReader tree;
  private final MaterialReader looks;

  /** Number of morph targets of a mesh; 0 for no mesh. */
  private final IntUnaryOperator targets;

  AnimationReader(GltfFile file, NodeReader tree, MaterialReader looks, IntUnaryOperator targets) {
    this.file = file;
    this.tree = tree;
    this.looks = looks;
    this.targets = targets;
    accessors = new AccessorReader(file);
  }

  List<Animation> read() throws ImportException {
    List<Animation> all = new ArrayList<>();
    var given = file.gltf.getAnimations();
    for (int i = 0; given != null && i < given.size(); i++) {
      var a = given.get(i);
      String name = a.getName() == null ? "animation " + i : a.getName();
      One one = new One("animation \"" + name + "\"", a.getSamplers());
      for (AnimationChannel c :
          a.getChannels() == null ? List.<AnimationChannel>of() : a.getChannels()) {
        one.read(c);
      }
      if (!one.channels.isEmpty() || !one.values.isEmpty()) {
        all.add(new Animation(name, one.channels, one.values));
      }
    }
    alternatives(all);
    return all;
  }

  /** Tells of animations that cannot be seen together, such as a figure's walk and run. */
  private void alternatives(List<Animation> all) {
    Map<Object, String> first = new HashMap<>();
    Set<String> names = new LinkedHashSet<>();
    for (Animation a : all) {
      Set<Object> keyed = new HashSet<>();
      a.channels().forEach(c -> keyed.add(List.of(c.node(), c.path())));
      a.values()
          .forEach(v -> keyed.add(List.of(v.property(), v.index(), String.valueOf(v.slot()))));
      for (Object k : keyed) {
        String other = first.putIfAbsent(k, a.name());
        if (other != null) {
          names.add(other);
          names.add(a.name());
        }
      }
    }
    if (!names.isEmpty()) {
      file.remark(
          "Some animations change the same things ("
              + String.join(", ", names)
              + "); where several play the last counts. Choose in a shot which ones play.");
    }
  }

  /** One animation while it is read. */
  private final class One {
    private final String element;
    private final List<AnimationSampler> samplers;
    private final List<Channel> channels = new ArrayList<>();
    private final List<Value> values = new ArrayList<>();

    One(String element, List<AnimationSampler> samplers) {
      this.element = element;
      this.samplers = samplers == null ? List.of() : samplers;
    }

    void read(AnimationChannel c) throws ImportException {
      AnimationChannelTarget to = c.getTarget();
      int s = c.getSampler() == null ? -1 : c.getSampler();
      if (to == null) {
        return;
      }
      if (to.getExtensions() != null
          && to.getExtensions().get(POINTER) instanceof Map<?, ?> e
          && e.get("pointer") instanceof String p) {
        pointer(p, s);
      } else if (to.getNode() != null) {
        node(to.getNode(), String.valueOf(to.getPath()), s);
      }
    }

    private void pointer(String p, int sampler) throws ImportException {
      Pointers.Place at = Pointers.Place.of(p);
      boolean node = at != null && at.part() == Pointers.Part.NODE;
      if (node && path(at.rest()) != null) {
        node(at.index(), at.rest(), sampler);
        return;
      }
      Pointers.Target target = at == null ? null : at.target();
      if (target == null) {
        file.remark(capital(element) + " changes " + p + ", which is not read; it is left out.");
        return;
      }
      int[] which =
          switch (at.part()) {
            case CAMERA -> tree.camerasOf(at.index());
            case LIGHT -> tree.lightsOf(at.index());
            default -> at.index() < looks.emissions.size() ? new int[] {at.index()} : null;
          };
      if (which == null) {
        throw file.failure(
            element, "changes " + at.part().name + " " + at.index() + ", which does not exist");
      }
      Curve keys = keys(sampler, target.width(), false);
      for (int i : which) {
        values.add(new Value(target.property(), i, target.slot(), own(target, i, keys)));
      }
    }

    /** Returns the property's own values: light that is given off is a colour times a strength. */
    private Curve own(Pointers.Target t, int i, Curve keys) {
      if (t.property() != Property.EMISSION) {
        return keys;
      }
      MaterialReader.Emission other = looks.emissions.get(i);
      if (values.stream().anyMatch(v -> v.property() == t.property() && v.index() == i)) {
        file.remark(
            capital(element)
                + " changes both colour and strength of what material \""
                + other.material()
                + "\" gives off; the last counts, with the other as it is without animation.");
      }
      float s = other.strength();
      return t.factor() ? keys.times(other.color()) : keys.times(s, s, s);
    }

    private void node(int target, String name, int sampler) throws ImportException {
      if (target < 0 || target >= tree.nodeAt.length) {
        throw file.failure(element, "moves node " + target + ", which does not exist");
      }
      Path path = path(name);
      int i = tree.nodeAt[target];
      if (path == null || i < 0) {
        return;
      }
      Node n = tree.nodes.get(i);
      int blended = targets.applyAsInt(n.mesh());
      if (path == Path.WEIGHTS && blended == 0) {
        file.remark(capital(element) + " blends morph targets that its mesh does not have.");
        return;
      }
      if (path.places() && n.matrix() != null) {
        file.remark(
            "Node \""
                + n.name()
                + "\" is placed by a matrix and animated; the animation replaces the matrix.");
      }
      int width = path == Path.WEIGHTS ? blended : path.width();
      channels.add(new Channel(i, path, keys(sampler, width, path == Path.WEIGHTS)));
    }

    /**
     * @param width numbers of a value
     * @param flat true if the file holds them one by one
     */
    private Curve keys(int sampler, int width, boolean flat) throws ImportException {
      if (sampler < 0 || sampler >= samplers.size()) {
        throw file.failure(element, "uses sampler " + sampler + ", which does not exist");
      }
      AnimationSampler s = samplers.get(sampler);
      Interpolation how =
          switch (s.getInterpolation() == null ? "LINEAR" : s.getInterpolation()) {
            case "STEP" -> Interpolation.STEP;
            case "CUBICSPLINE" -> Interpolation.CUBIC;
            default -> Interpolation.LINEAR;
          };
      float[] times = accessors.floats(s.getInput(), 1, element);
      float[] values = accessors.floats(s.getOutput(), flat ? 1 : width, element);
      int per = width * (how == Interpolation.CUBIC ? 3 : 1);
      int n = Math.min(times.length, values.length / per);
      if (n == 0) {
        throw file.failure(element, "has a channel without a complete key");
      }
      if (times.length * per != values.length) {
        file.remark(
            capital(element)
                + " has a channel of "
                + times.length
                + " times and "
                + values.length / per
                + " values; the first "
                + n
                + " are used.");
      }
      float[] t = new float[n];
      float[] v = new float[n * per];
      int kept = 0;
      for (int i = 0; i < n; i++) {
        boolean usable = Float.isFinite(times[i]) && (kept == 0 || times[i] > t[kept - 1]);
        for (int k = 0; usable && k < per; k++) {
          usable = Float.isFinite(values[i * per + k]);
        }
        if (usable) {
          t[kept] = times[i];
          System.arraycopy(values, i * per, v, kept++ * per, per);
        } else {
          file.remark(
              capital(element) + " has keys out of order or not finite; they are left out.");
        }
      }
      if (kept == 0) {
        throw file.failure(element, "has a channel without a finite key");
      }
      return new Curve(how, Arrays.copyOf(t, kept), Arrays.copyOf(v, kept * per));
    }
  }

  private static Path path(String name) {
    return switch (name) {
      case "translation" -> Path.TRANSLATION;
      case "rotation" -> Path.ROTATION;
      case "scale" -> Path.SCALE;
      case "weights" -> Path.WEIGHTS;
      case "extensions/" + NodeReader.VISIBILITY + "/visible" -> Path.SHOWN;
      default -> null;
    };
  }

  private static String capital(String s) {
    return Character.toUpperCase(s.charAt(0)) + s.substring(1);
  }
}
