package posada.demo;

import java.util.Arrays;
import posada.core.geometry.Vec3;

/**
 * Triangles with normals and colours, grown piece by piece; counter-clockwise seen from outside.
 */
final class Shape {
  float[] positions = new float[300];
  float[] normals = new float[300];
  float[] colors;
  int[] indices = new int[300];
  int vertices;
  int corners;

  private int vertex(Vec3 p, Vec3 n) {
    if (vertices * 3 + 3 > positions.length) {
      positions = Arrays.copyOf(positions, positions.length * 2);
      normals = Arrays.copyOf(normals, normals.length * 2);
    }
    put(positions, vertices, p);
    put(normals, vertices, n);
    return vertices++;
  }

  private static void put(float[] a, int i, Vec3 v) {
    a[i * 3] = (float) v.x();
    a[i * 3 + 1] = (float) v.y();
    a[i * 3 + 2] = (float) v.z();
  }

  private void corner(int... v) {
    if (corners + v.length > indices.length) {
      indices = Arrays.copyOf(indices, indices.length * 2);
    }
    for (int i : v) {
      indices[corners++] = i;
    }
  }

  /** Texture coordinates of each vertex, two numbers; null if there are none. */
  float[] uvs;

  /**
   * Lays a texture over all faces from the side that each looks to.
   *
   * @param size metres that the texture covers
   */
  Shape mapped(double size) {
    uvs = new float[vertices * 2];
    for (int v = 0; v < vertices; v++) {
      float x = positions[v * 3], y = positions[v * 3 + 1], z = positions[v * 3 + 2];
      float nx = Math.abs(normals[v * 3]);
      float ny = Math.abs(normals[v * 3 + 1]), nz = Math.abs(normals[v * 3 + 2]);
      boolean top = ny >= nx && ny >= nz;
      uvs[v * 2] = (float) ((!top && nx > nz ? z : x) / size);
      uvs[v * 2 + 1] = (float) ((top ? z : -y) / size);
    }
    return this;
  }

  /**
   * Adds a body turned around the y axis, smooth along the profile.
   *
   * @param profile pairs of radius and height, from below to above on the outside; a corner that
   *     stands twice is sharp
   */
  Shape lathe(double[][] profile, int sides) {
    int rows = profile.length;
    int first = vertices;
    for (int j = 0; j < rows; j++) {
      Vec3 n = slope(profile, j);
      for (int i = 0; i <= sides; i++) {
        double a = 2 * Math.PI * i / sides;
        double c = StrictMath.cos(a), s = StrictMath.sin(a);
        double r = profile[j][0];
        vertex(new Vec3(r * c, profile[j][1], r * s), new Vec3(n.x() * c, n.y(), n.x() * s));
      }
    }
    for (int j = 0; j + 1 < rows; j++) {
      boolean none = profile[j][0] == profile[j + 1][0] && profile[j][1] == profile[j + 1][1];
      for (int i = 0; i < sides && !none; i++) {
        int a = first + j * (sides + 1) + i, b = a + sides + 1;
        if (profile[j][0] > 0) {
          corner(a, b, a + 1);
        }
        if (profile[j + 1][0] > 0) {
          corner(a + 1, b, b + 1);
        }
      }
    }
    return this;
  }

  /** Normal of a profile at one of its points, from the sides that meet there. */
  private static Vec3 slope(double[][] p, int j) {
    double r = 0;
    double h = 0;
    for (int k = Math.max(0, j - 1); k <= j && k + 1 < p.length; k++) {
      double dr = p[k + 1][0] - p[k][0], dh = p[k + 1][1] - p[k][1];
      double l = Math.sqrt(dr * dr + dh * dh);
      if (l > 0) {
        r += dh / l;
        h -= dr / l;
      }
    }
    double l = Math.sqrt(r * r + h * h);
    return l > 0 ? new Vec3(r / l, h / l, 0) : new Vec3(0, 1, 0);
  }

  /** Adds a flat triangle. */
  Shape tri(Vec3 a, Vec3 b, Vec3 c) {
    Vec3 n = b.minus(a).cross(c.minus(a)).normalized();
    corner(vertex(a, n), vertex(b, n), vertex(c, n));
    return this;
  }

  /** Adds a flat four-sided face. */
  Shape quad(Vec3 a, Vec3 b, Vec3 c, Vec3 d) {
    Vec3 n = c.minus(a).cross(d.minus(b)).normalized();
    int i = vertex(a, n);
    vertex(b, n);
    vertex(c, n);
    vertex(d, n);
    corner(i, i + 1, i + 2, i, i + 2, i + 3);
    return this;
  }

  /** Adds a box around a centre, sides given whole. */
  Shape box(double x, double y, double z, double sx, double sy, double sz) {
    Vec3[] p = new Vec3[8];
    for (int i = 0; i < 8; i++) {
      p[i] =
          new Vec3(
              x + ((i & 1) == 0 ? -sx : sx) / 2,
              y + ((i & 2) == 0 ? -sy : sy) / 2,
              z + ((i & 4) == 0 ? -sz : sz) / 2);
    }
    return quad(p[4], p[5], p[7], p[6])
        .quad(p[1], p[0], p[2], p[3])
        .quad(p[5], p[1], p[3], p[7])
        .quad(p[0], p[4], p[6], p[2])
        .quad(p[6], p[7], p[3], p[2])
        .quad(p[0], p[1], p[5], p[4]);
  }

  /** Adds a round bar from {@code a} to {@code b}, smooth around, closed at both ends. */
  Shape bar(Vec3 a, Vec3 b, double ra, double rb, int sides) {
    Vec3 axis = b.minus(a).normalized();
    Vec3 u = side(axis);
    Vec3 w = axis.cross(u);
    double slope = (ra - rb) / Math.max(1e-9, b.minus(a).length());
    int first = vertices;
    for (int i = 0; i <= sides; i++) {
      Vec3 d = around(u, w, i, sides);
      Vec3 n = d.plus(axis.times(slope)).normalized();
      vertex(a.plus(d.times(ra)), n);
      vertex(b.plus(d.times(rb)), n);
    }
    for (int i = 0; i < sides; i++) {
      int k = first + 2 * i;
      corner(k, k + 2, k + 1, k + 1, k + 2, k + 3);
    }
    for (int i = 0; i < sides; i++) {
      Vec3 d = around(u, w, i, sides);
      Vec3 e = around(u, w, i + 1, sides);
      if (ra > 1e-6) {
        tri(a, a.plus(e.times(ra)), a.plus(d.times(ra)));
      }
      if (rb > 1e-6) {
        tri(b, b.plus(d.times(rb)), b.plus(e.times(rb)));
      }
    }
    return this;
  }

  static Vec3 side(Vec3 axis) {
    Vec3 up = Math.abs(axis.y()) < 0.9 ? new Vec3(0, 1, 0) : new Vec3(1, 0, 0);
    return up.cross(axis).normalized();
  }

  static Vec3 around(Vec3 u, Vec3 w, int i, int sides) {
    double t = 2 * Math.PI * (i % sides) / sides;
    return u.times(StrictMath.cos(t)).plus(w.times(StrictMath.sin(t)));
  }

  /** Adds a tube along points, smooth, open at the ends. */
  Shape tube(Vec3[] path, double radius, int sides) {
    int first = vertices;
    for (int k = 0; k < path.length; k++) {
      Vec3 axis =
          path[Math.min(path.length - 1, k + 1)].minus(path[Math.max(0, k - 1)]).normalized();
      Vec3 u = side(axis);
      Vec3 w = axis.cross(u);
      for (int i = 0; i <= sides; i++) {
        Vec3 d = around(u, w, i, sides);
        vertex(path[k].plus(d.times(radius)), d);
      }
    }
    int ring = sides + 1;
    for (int k = 0; k + 1 < path.length; k++) {
      for (int i = 0; i < sides; i++) {
        int v = first + k * ring + i;
        corner(v, v + 1, v + ring, v + 1, v + ring + 1, v + ring);
      }
    }
    return this;
  }

  /** Adds a ball with smooth normals. */
  Shape ball(Vec3 c, double r, int rows) {
    int columns = rows * 2;
    int first = vertices;
    for (int j = 0; j <= rows; j++) {
      double a = Math.PI * j / rows;
      for (int i = 0; i <= columns; i++) {
        double b = 2 * Math.PI * (i % columns) / columns;
        Vec3 n =
            new Vec3(
                StrictMath.sin(a) * StrictMath.cos(b),
                StrictMath.cos(a),
                StrictMath.sin(a) * StrictMath.sin(b));
        vertex(c.plus(n.times(r)), n.normalized());
      }
    }
    for (int j = 0; j < rows; j++) {
      for (int i = 0; i < columns; i++) {
        int v = first + j * (columns + 1) + i;
        if (j > 0) {
          corner(v, v + 1, v + columns + 1);
        }
        if (j < rows - 1) {
          corner(v + 1, v + columns + 2, v + columns + 1);
        }
      }
    }
    return this;
  }

  /** Height and colour over the ground plane. */
  interface Land {
    double height(double x, double z);

    /** Returns scene-linear red, green, blue of a place with this unit normal. */
    float[] color(double x, double y, double z, Vec3 normal);
  }

  /** Steps to the left, right, towards -z, towards +z, and none. */
  private static final int[] ASIDE = {-1, 1, 0, 0, 0}, BEFORE = {0, 0, -1, 1, 0};

  /** Adds a smooth, coloured height field; rows run away from +z. */
  Shape land(Land l, double x0, double x1, double z0, double z1, int columns, int rows) {
    colors = new float[(columns + 1) * (rows + 1) * 4];
    double[] heights = new double[ASIDE.length];
    double dx = (x1 - x0) / columns;
    double dz = (z1 - z0) / rows;
    for (int j = 0; j <= rows; j++) {
      for (int i = 0; i <= columns; i++) {
        double x = x0 + i * dx;
        double z = z0 + j * dz;
        double e = Math.min(Math.abs(dx), Math.abs(dz)) * 0.5;
        // One call in a loop: with five of them the compiler is busy for longer than all else.
        for (int k = 0; k < heights.length; k++) {
          heights[k] = l.height(x + ASIDE[k] * e, z + BEFORE[k] * e);
        }
        Vec3 n = new Vec3(heights[0] - heights[1], 2 * e, heights[2] - heights[3]).normalized();
        int v = vertex(new Vec3(x, heights[4], z), n);
        float[] c = l.color(x, heights[4], z, n);
        System.arraycopy(c, 0, colors, v * 4, 3);
        colors[v * 4 + 3] = 1;
      }
    }
    int ring = columns + 1;
    for (int j = 0; j < rows; j++) {
      for (int i = 0; i < columns; i++) {
        int v = j * ring + i;
        corner(v, v + 1, v + ring, v + 1, v + ring + 1, v + ring);
      }
    }
    return this;
  }
}
