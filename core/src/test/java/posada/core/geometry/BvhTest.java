package posada.core.geometry;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import posada.core.parallel.Workers;

/** Hits of the hierarchies against a plain search over all triangles. */
class BvhTest {
  private final Random random = new Random(11);

  private float[] soup(int triangles, double spread) {
    float[] p = new float[triangles * 9];
    for (int t = 0; t < triangles; t++) {
      for (int k = 0; k < 3; k++) {
        float c = (float) ((random.nextDouble() - 0.5) * spread);
        for (int v = 0; v < 3; v++) {
          p[t * 9 + v * 3 + k] = c + (float) (random.nextDouble() - 0.5);
        }
      }
    }
    return p;
  }

  private static int[] inOrder(int n) {
    int[] i = new int[n];
    for (int k = 0; k < n; k++) {
      i[k] = k;
    }
    return i;
  }

  private void randomRay(Ray r, double spread) {
    r.set(
        (float) (random.nextGaussian() * spread),
        (float) (random.nextGaussian() * spread),
        (float) (random.nextGaussian() * spread),
        (float) random.nextGaussian(),
        (float) random.nextGaussian(),
        (float) random.nextGaussian(),
        Float.POSITIVE_INFINITY);
  }

  private static float nearest(float[] p, Affine toWorld, Ray r) {
    double best = Double.POSITIVE_INFINITY;
    Vec3 o = new Vec3(r.ox, r.oy, r.oz);
    Vec3 d = new Vec3(r.dx, r.dy, r.dz);
    for (int t = 0; t < p.length; t += 9) {
      Vec3 a = toWorld.point(new Vec3(p[t], p[t + 1], p[t + 2]));
      Vec3 e1 = toWorld.point(new Vec3(p[t + 3], p[t + 4], p[t + 5])).minus(a);
      Vec3 e2 = toWorld.point(new Vec3(p[t + 6], p[t + 7], p[t + 8])).minus(a);
      Vec3 n = e1.cross(e2);
      double k = d.dot(n);
      double s = a.minus(o).dot(n) / k;
      Vec3 q = o.plus(d.times(s)).minus(a);
      double u = q.cross(e2).dot(n) / n.dot(n);
      double v = e1.cross(q).dot(n) / n.dot(n);
      if (s > 0 && s < best && u >= 0 && v >= 0 && u + v <= 1) {
        best = s;
      }
    }
    return (float) best;
  }

  @Test
  void findsTheNearestTriangleOfAMesh() {
    for (int n : new int[] {1, 2, 5, 700}) {
      float[] p = soup(n, 8);
      TriangleBvh bvh = new TriangleBvh(p, inOrder(n * 3), Workers.CALLER);
      Ray r = new Ray();
      for (int i = 0; i < 300; i++) {
        randomRay(r, 6);
        float want = nearest(p, Affine.IDENTITY, r);
        bvh.intersect(r);
        assertEquals(want, r.tMax, 1e-3f * Math.min(want, 1e6f));
      }
    }
  }

  @Test
  void findsTheNearestOfPlacedMeshes() {
    float[] p = soup(40, 2);
    TriangleBvh bvh = new TriangleBvh(p, inOrder(120), Workers.CALLER);
    Bounds b = new Bounds();
    b.addAll(p);
    List<InstanceBvh.Placed> placed = new ArrayList<>();
    for (int i = 0; i < 30; i++) {
      Vec3 at = new Vec3(random.nextGaussian() * 9, random.nextGaussian() * 9, i);
      Quat q = Quat.axisAngle(new Vec3(1, i, 2), i);
      // Mirrored and uneven scales are allowed.
      placed.add(
          new InstanceBvh.Placed(
              bvh, b, List.of(Affine.of(at, q, new Vec3(i % 3 == 0 ? -1 : 2, 0.5, 1)))));
    }
    InstanceBvh top = new InstanceBvh(placed, Workers.CALLER);
    Ray r = new Ray();
    for (int i = 0; i < 200; i++) {
      randomRay(r, 12);
      float want = Float.POSITIVE_INFINITY;
      for (InstanceBvh.Placed one : placed) {
        want = Math.min(want, nearest(p, one.toWorld().get(0), r));
      }
      top.intersect(r);
      assertEquals(want, r.tMax, 1e-3f * Math.min(want, 1e6f));
    }
  }

  @Test
  void boundsItsDepthForShapesThatGrowWithoutEnd() {
    float[] p = new float[9 * 300];
    for (int t = 0; t < 300; t++) {
      float s = (float) Math.pow(1.3, t - 200);
      float[] tri = {s, 0, 0, s * 1.1f, 0, 0, s, s * 0.1f, 0};
      System.arraycopy(tri, 0, p, t * 9, 9);
    }
    TriangleBvh bvh = new TriangleBvh(p, inOrder(900), Workers.CALLER);
    Ray r = new Ray();
    float s = (float) Math.pow(1.3, 80);
    r.set(s * 1.01f, s * 0.01f, 5, 0, 0, -1, Float.POSITIVE_INFINITY);
    bvh.intersect(r);
    assertEquals(280, r.triangle);
  }
}
