package posada.core.space;

import java.util.List;

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

  /**
   * Returns shapes one behind the other; their triangles keep the numbers of their own vertices.
   */
  public static Shape joined(List<Shape> shapes) {
    int vertices = shapes.stream().mapToInt(Shape::vertices).sum();
    int corners = shapes.stream().mapToInt(x -> x.indices().length).sum();
    Shape all =
        new Shape(
            new float[3 * vertices],
            new byte[3 * vertices],
            new byte[3 * vertices],
            new int[corners]);
    int v = 0;
    int t = 0;
    for (Shape x : shapes) {
      System.arraycopy(x.positions, 0, all.positions, v, x.positions.length);
      System.arraycopy(x.normals, 0, all.normals, v, x.normals.length);
      System.arraycopy(x.colors, 0, all.colors, v, x.colors.length);
      System.arraycopy(x.indices, 0, all.indices, t, x.indices.length);
      v += x.positions.length;
      t += x.indices.length;
    }
    return all;
  }
}
