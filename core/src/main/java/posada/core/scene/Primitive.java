package posada.core.scene;

/**
 * Triangles of one material.
 *
 * @param positions x, y, z for each vertex, metres, finite
 * @param normals x, y, z for each vertex, unit length; null for flat shading
 * @param tangents x, y, z and handedness for each vertex; null if the file has none
 * @param uv0 first set of texture coordinates, two for each vertex; null if there is none
 * @param uv1 second set; null if there is none
 * @param colors scene-linear red, green, blue, alpha for each vertex; null for white
 * @param indices three vertices for each triangle, counter-clockwise seen from the front
 * @param material number of its material
 */
public record Primitive(
    float[] positions,
    float[] normals,
    float[] tangents,
    float[] uv0,
    float[] uv1,
    float[] colors,
    int[] indices,
    int material) {
  public Primitive {
    int n = positions.length / 3;
    for (int i : indices) {
      if (i < 0 || i >= n) {
        throw new IllegalArgumentException("vertex " + i + " is outside 0 .. " + (n - 1));
      }
    }
  }

  public int triangles() {
    return indices.length / 3;
  }

  public int vertices() {
    return positions.length / 3;
  }

  /** Returns the bytes that the arrays take. */
  public long bytes() {
    long floats = positions.length;
    for (float[] a : new float[][] {normals, tangents, uv0, uv1, colors}) {
      floats += a == null ? 0 : a.length;
    }
    return 4 * (floats + indices.length);
  }
}
