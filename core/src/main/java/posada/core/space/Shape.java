package posada.core.space;

/**
 * A mesh as it is looked around at.
 *
 * @param positions x, y, z for each vertex, metres
 * @param normals x, y, z for each vertex, -127 .. 127 for -1 .. 1
 * @param colors linear red, green, blue for each vertex, 0 .. 255 for 0 .. 1
 * @param indices three vertices for each triangle
 */
public record Shape(float[] positions, byte[] normals, byte[] colors, int[] indices) {
  public int vertices() {
    return positions.length / 3;
  }

  public int triangles() {
    return indices.length / 3;
  }
}
