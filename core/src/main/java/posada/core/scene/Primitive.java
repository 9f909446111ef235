package posada.core.scene;

import java.util.List;

/**
 * Triangles of one material.
 *
 * @param positions x, y, z for each vertex, metres, finite
 * @param normals x, y, z for each vertex, unit length; null for flat shading
 * @param tangents x, y, z and handedness for each vertex; null if the file has none
 * @param uvs sets of texture coordinates, two numbers for each vertex; a missing set is null
 * @param colors scene-linear red, green, blue, alpha for each vertex; null for white
 * @param indices three vertices for each triangle, counter-clockwise seen from the front
 * @param material number of its material
 * @param binding how joints move the vertices; null if they do not
 * @param targets shapes to blend in; empty for none
 */
public record Primitive(
    float[] positions,
    float[] normals,
    float[] tangents,
    float[][] uvs,
    float[] colors,
    int[] indices,
    int material,
    Binding binding,
    List<Target> targets) {

  /**
   * Influences of a skin's joints on each vertex.
   *
   * @param each how many influences a vertex has
   * @param joints numbers in the skin's list of joints, {@code each} for a vertex
   * @param weights as many, adding up to 1 for each vertex
   */
  public record Binding(int each, int[] joints, float[] weights) {}

  /**
   * A morph target: what is added to each vertex at weight 1.
   *
   * @param positions x, y, z for each vertex; null for nothing
   * @param normals likewise
   * @param tangents likewise, without handedness
   */
  public record Target(float[] positions, float[] normals, float[] tangents) {}

  public Primitive {
    int n = positions.length / 3;
    for (int i : indices) {
      if (i < 0 || i >= n) {
        throw new IllegalArgumentException("vertex " + i + " is outside 0 .. " + (n - 1));
      }
    }
  }

  /** Triangles that keep their shape. */
  public Primitive(
      float[] positions,
      float[] normals,
      float[] tangents,
      float[][] uvs,
      float[] colors,
      int[] indices,
      int material) {
    this(positions, normals, tangents, uvs, colors, indices, material, null, List.of());
  }

  /** Returns this primitive with its vertices elsewhere. */
  public Primitive moved(float[] positions, float[] normals, float[] tangents) {
    return new Primitive(
        positions, normals, tangents, uvs, colors, indices, material, null, List.of());
  }

  public int triangles() {
    return indices.length / 3;
  }

  public int vertices() {
    return positions.length / 3;
  }

  /** Returns a set of texture coordinates, or null if the mesh does not have it. */
  public float[] uv(int set) {
    return set < uvs.length ? uvs[set] : null;
  }

  /** Returns true if the vertices can move against each other. */
  public boolean deforms() {
    return binding != null || !targets.isEmpty();
  }

  /** Returns the bytes that the arrays take. */
  public long bytes() {
    long numbers = (long) positions.length + indices.length;
    for (float[] a : new float[][] {normals, tangents, colors}) {
      numbers += length(a);
    }
    for (float[] a : uvs) {
      numbers += length(a);
    }
    if (binding != null) {
      numbers += 2L * binding.weights().length;
    }
    for (Target t : targets) {
      numbers += length(t.positions()) + length(t.normals()) + length(t.tangents());
    }
    return 4 * numbers;
  }

  private static long length(float[] a) {
    return a == null ? 0 : a.length;
  }
}
