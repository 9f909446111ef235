package posada.core.trace;

import java.util.BitSet;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.Set;
import java.util.TreeSet;
import posada.core.image.TexelImage;
import posada.core.motion.Deformation;
import posada.core.motion.Values;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Texture;
import posada.core.settings.RenderSettings;
import posada.core.trace.film.Film;
import posada.core.trace.stage.Look;

/** How much memory a scene and its frames need, told before anything is built. */
public final class MemoryEstimate {
  /** Bytes of a hierarchy for each triangle: corners, nodes and order, measured on the demos. */
  private static final int HIERARCHY = 62;

  /** Bytes that the corners of a triangle take once more if they move while the shutter is open. */
  private static final int CORNERS = 36;

  /** Placements, their inverse, bounds and nodes of one placed mesh, measured. */
  private static final long INSTANCE = 700;

  /** Entries of one emissive triangle in the tables of lights, counted. */
  private static final long LIGHT = 240;

  private MemoryEstimate() {}

  /** Returns the bytes of what was read: vertices, textures, pictures. */
  static long arrays(Scene s) {
    long sum = 0;
    for (Mesh m : s.meshes()) {
      sum += m.primitives().stream().mapToLong(Primitive::bytes).sum();
    }
    Set<TexelImage> images = Collections.newSetFromMap(new IdentityHashMap<>());
    s.textures().forEach(t -> images.add(t.image()));
    sum += images.stream().mapToLong(TexelImage::bytes).sum();
    return s.environment().picture() == null
        ? sum
        : sum + s.environment().picture().image().bytes();
  }

  /** Returns about the bytes that a scene takes as long as it is open. */
  public static long scene(Scene s) {
    long triangles = s.meshes().stream().mapToLong(Mesh::triangles).sum();
    return arrays(s) + triangles * HIERARCHY + levels(s);
  }

  /** Smaller averages of an image take a third of it, once as colour and once as numbers. */
  private static long levels(Scene s) {
    TreeSet<Integer> colors = new TreeSet<>();
    TreeSet<Integer> numbers = new TreeSet<>();
    s.materials().forEach(m -> Look.uses(m, colors, numbers));
    long sum = 0;
    for (Set<Integer> used : java.util.List.of(colors, numbers)) {
      Set<TexelImage> images = Collections.newSetFromMap(new IdentityHashMap<>());
      for (int t : used) {
        Texture texture = s.textures().get(t);
        images.add(texture.image());
      }
      sum += images.stream().mapToLong(TexelImage::bytes).sum() / 3;
    }
    return sum;
  }

  /** Returns about the bytes that one frame takes on top. */
  static long frame(Scene s, int width, int height, RenderSettings settings) {
    long sum = Film.bytes(width, height, settings);
    BitSet emits = emits(s);
    boolean blurred = settings.shutter().open() && settings.shutter().deformations();
    for (Node n : s.nodes()) {
      if (n.mesh() >= 0) {
        sum += placed(s, n, blurred, emits);
      }
    }
    return sum;
  }

  /** Materials that give off light, or may while the scene plays. */
  private static BitSet emits(Scene s) {
    BitSet all = new BitSet();
    for (int i = 0; i < s.materials().size(); i++) {
      all.set(i, s.materials().get(i).emits());
    }
    Values.of(s, Property.EMISSION).forEach(v -> all.set(v.index()));
    return all;
  }

  private static long placed(Scene s, Node n, boolean blurred, BitSet emits) {
    Mesh m = s.meshes().get(n.mesh());
    long copies = n.copies() == null ? 1 : n.copies().size();
    long sum = copies * INSTANCE;
    if (Deformation.of(s, n)) {
      sum += 2 * m.primitives().stream().mapToLong(Primitive::bytes).sum();
      sum += (long) m.triangles() * (HIERARCHY + (blurred ? CORNERS : 0));
    }
    for (Primitive p : m.primitives()) {
      if (emits.get(p.material())) {
        sum += copies * p.triangles() * LIGHT;
      }
    }
    return sum;
  }
}
