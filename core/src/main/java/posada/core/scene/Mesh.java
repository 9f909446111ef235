package posada.core.scene;

import java.util.List;
import posada.core.geometry.Bounds;

/** A shape that nodes place, in its own space. */
public record Mesh(String name, List<Primitive> primitives) {
  public int triangles() {
    return primitives.stream().mapToInt(Primitive::triangles).sum();
  }

  public Bounds bounds() {
    Bounds b = new Bounds();
    for (Primitive p : primitives) {
      for (int i : p.indices()) {
        b.add(p.positions()[i * 3], p.positions()[i * 3 + 1], p.positions()[i * 3 + 2]);
      }
    }
    return b;
  }
}
