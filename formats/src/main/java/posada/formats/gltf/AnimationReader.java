package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.AnimationChannel;
import de.javagl.jgltf.impl.v2.AnimationSampler;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntUnaryOperator;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Node;

/** Reads animations: all keys of nodes that the scene shows. */
final class AnimationReader {
  private final GltfFile file;
  private final AccessorReader accessors;
  private final int[] nodeAt;
  private final List<Node> nodes;

  /** Number of morph targets of a mesh; 0 for no mesh. */
  private final IntUnaryOperator targets;

  AnimationReader(GltfFile file, NodeReader tree, IntUnaryOperator targets) {
    this.targets = targets;
    this.file = file;
    accessors = new AccessorReader(file);
    nodeAt = tree.nodeAt;
    nodes = tree.nodes;
  }

  List<Animation> read() throws ImportException {
    List<Animation> all = new ArrayList<>();
    var given = file.gltf.getAnimations();
    for (int i = 0; given != null && i < given.size(); i++) {
      var a = given.get(i);
      String name = a.getName() == null ? "animation " + i : a.getName();
      List<Channel> channels = new ArrayList<>();
      for (AnimationChannel c :
          a.getChannels() == null ? List.<AnimationChannel>of() : a.getChannels()) {
        Channel channel = channel(c, a.getSamplers(), "animation \"" + name + "\"");
        if (channel != null) {
          channels.add(channel);
        }
      }
      if (!channels.isEmpty()) {
        all.add(new Animation(name, channels));
      }
    }
    return all;
  }

  private Channel channel(AnimationChannel c, List<AnimationSampler> samplers, String element)
      throws ImportException {
    Integer target = c.getTarget() == null ? null : c.getTarget().getNode();
    if (target == null) {
      return null;
    }
    if (target < 0 || target >= nodeAt.length) {
      throw file.failure(element, "moves node " + target + ", which does not exist");
    }
    int s = c.getSampler() == null ? -1 : c.getSampler();
    if (samplers == null || s < 0 || s >= samplers.size()) {
      throw file.failure(element, "uses sampler " + s + ", which does not exist");
    }
    Path path =
        switch (String.valueOf(c.getTarget().getPath())) {
          case "translation" -> Path.TRANSLATION;
          case "rotation" -> Path.ROTATION;
          case "scale" -> Path.SCALE;
          case "weights" -> Path.WEIGHTS;
          default -> null;
        };
    if (path == null || nodeAt[target] < 0) {
      return null;
    }
    if (path == Path.WEIGHTS && targets.applyAsInt(nodes.get(nodeAt[target]).mesh()) == 0) {
      file.remark(capital(element) + " blends morph targets that its mesh does not have.");
      return null;
    }
    if (path != Path.WEIGHTS && nodes.get(nodeAt[target]).matrix() != null) {
      file.remark(
          "Node \""
              + nodes.get(nodeAt[target]).name()
              + "\" is placed by a matrix and animated; the animation replaces the matrix.");
    }
    return keys(samplers.get(s), nodeAt[target], path, element);
  }

  private Channel keys(AnimationSampler s, int node, Path path, String element)
      throws ImportException {
    Interpolation how =
        switch (s.getInterpolation() == null ? "LINEAR" : s.getInterpolation()) {
          case "STEP" -> Interpolation.STEP;
          case "CUBICSPLINE" -> Interpolation.CUBIC;
          default -> Interpolation.LINEAR;
        };
    float[] times = accessors.floats(s.getInput(), 1, element);
    int width = path == Path.WEIGHTS ? targets.applyAsInt(nodes.get(node).mesh()) : path.width();
    float[] values = accessors.floats(s.getOutput(), path == Path.WEIGHTS ? 1 : width, element);
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
        file.remark(capital(element) + " has keys out of order or not finite; they are left out.");
      }
    }
    if (kept == 0) {
      throw file.failure(element, "has a channel without a finite key");
    }
    return new Channel(node, path, how, Arrays.copyOf(t, kept), Arrays.copyOf(v, kept * per));
  }

  private static String capital(String s) {
    return Character.toUpperCase(s.charAt(0)) + s.substring(1);
  }
}
