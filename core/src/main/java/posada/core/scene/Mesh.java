package posada.core.scene;

import java.util.List;
import posada.core.geometry.Bounds;

/**
 * A shape that nodes place, in its own space.
 *
 * @param weights how much of each morph target is blended in unless a node says otherwise
 */
public record Mesh(String name, List<Primitive> primitives, float[] weights) {
  public Mesh(String name, List<Primitive> primitives) {
    this(name, primitives, new float[0]);
  }

  public int triangles() {
    return primitives.stream().mapToInt(Primitive::triangles).sum();
  }

  /** Returns the bounds of the undeformed triangles. */
  public Bounds bounds() {
    Bounds b = new Bounds();
    for (Primitive p : primitives) {
      for (int i : p.indices()) {
        b.add(p.positions()[i * 3], p.positions()[i * 3 + 1], p.positions()[i * 3 + 2]);
      }
    }
    return b;
  }

  public boolean deforms() {
    return primitives.stream().anyMatch(Primitive::deforms);
  }

  public boolean morphs() {
    return primitives.stream().anyMatch(p -> !p.targets().isEmpty());
  }
}
