package posada.bench;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Path;

/** Meshes, rays and hits as plain little-endian files. */
final class RayFiles {
  /** Values of one ray: origin, direction, largest distance. */
  static final int RAY = 7;

  private RayFiles() {}

  /** Triangles in one space. */
  record Mesh(float[] positions, int[] indices) {}

  /** Reads the numbers of vertices and triangles, the vertices, the triangles. */
  static Mesh mesh(Path file) throws IOException {
    ByteBuffer b = read(file);
    float[] p = new float[3 * b.getInt()];
    int[] i = new int[3 * b.getInt()];
    b.asFloatBuffer().get(p);
    b.position(b.position() + 4 * p.length);
    b.asIntBuffer().get(i);
    return new Mesh(p, i);
  }

  static float[] rays(Path file) throws IOException {
    ByteBuffer b = read(file);
    float[] r = new float[b.remaining() / 4 / RAY * RAY];
    b.asFloatBuffer().get(r);
    return r;
  }

  /** Returns pairs of a primitive's number (-1 for none) and a distance's bits. */
  static int[] hits(Path file) throws IOException {
    ByteBuffer b = read(file);
    int[] h = new int[b.remaining() / 4];
    b.asIntBuffer().get(h);
    return h;
  }

  private static ByteBuffer read(Path file) throws IOException {
    try (FileChannel c = FileChannel.open(file)) {
      return c.map(FileChannel.MapMode.READ_ONLY, 0, c.size()).order(ByteOrder.LITTLE_ENDIAN);
    }
  }
}
