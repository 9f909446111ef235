package posada.core.geometry;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Assumptions;
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
    List<InstanceBvh.Placed> placed = placed(p, 0);
    InstanceBvh top = new InstanceBvh(placed, Workers.CALLER);
    InstanceBvh later =
        new InstanceBvh(JoinedMeshes.NONE, placed(p, 0.05), top.shape(), Workers.CALLER);
    Ray r = new Ray();
    for (int i = 0; i < 400; i++) {
      randomRay(r, 12);
      List<InstanceBvh.Placed> now = i % 2 == 0 ? placed : placed(p, 0.05);
      float want = Float.POSITIVE_INFINITY;
      for (InstanceBvh.Placed one : now) {
        want = Math.min(want, nearest(p, one.toWorld().get(0), r));
      }
      (i % 2 == 0 ? top : later).intersect(r);
      assertEquals(want, r.tMax, 1e-3f * Math.min(want, 1e6f));
      float far = r.tMax;
      r.set(r.ox, r.oy, r.oz, r.dx, r.dy, r.dz, far * 1.001f);
      assertEquals(far < 1e6, (i % 2 == 0 ? top : later).occluded(r));
      r.set(r.ox, r.oy, r.oz, r.dx, r.dy, r.dz, Math.min(1e6f, far * 0.999f));
      assertFalse((i % 2 == 0 ? top : later).occluded(r));
    }
  }

  /** Thirty places of one mesh, mirrored and unevenly scaled ones among them. */
  private static List<InstanceBvh.Placed> placed(float[] p, double drift) {
    TriangleBvh bvh = new TriangleBvh(p, inOrder(p.length / 3), Workers.CALLER);
    Bounds b = new Bounds();
    b.addAll(p);
    Random where = new Random(8);
    List<InstanceBvh.Placed> placed = new ArrayList<>();
    for (int i = 0; i < 30; i++) {
      Vec3 at = new Vec3(where.nextGaussian() * 9 + drift, where.nextGaussian() * 9, i);
      Affine to =
          Affine.of(
              at,
              Quat.axisAngle(new Vec3(1, i, 2), i + drift),
              new Vec3(i % 3 == 0 ? -1 : 2, 0.5, 1));
      placed.add(new InstanceBvh.Placed(i, bvh, b, List.of(to)));
    }
    return placed;
  }

  @Test
  void joinedMeshesNameTheSameHitsAsPlacedOnes() {
    float[] p = soup(40, 2);
    List<InstanceBvh.Placed> placed = placed(p, 0);
    List<JoinedMeshes.Member> members = new ArrayList<>();
    List<InstanceBvh.Placed> rest = new ArrayList<>();
    for (InstanceBvh.Placed one : placed) {
      if (one.number() % 2 == 0) {
        members.add(new JoinedMeshes.Member(p, inOrder(120), one.toWorld().get(0)));
      } else {
        rest.add(one);
      }
    }
    int[] even = new int[members.size()];
    java.util.Arrays.setAll(even, i -> 2 * i);
    InstanceBvh apart = new InstanceBvh(placed, Workers.CALLER);
    InstanceBvh joined =
        new InstanceBvh(
            JoinedMeshes.of(members, Workers.CALLER).numbered(even), rest, null, Workers.CALLER);
    InstanceBvh copy = joined.copy();
    assertTrue(copy.wholeBytes() > copy.bytes());
    assertEquals(joined.wholeBytes(), copy.wholeBytes());
    Ray q = new Ray(), r = new Ray();
    for (int i = 0; i < 2000; i++) {
      randomRay(r, 12);
      q.set(r.ox, r.oy, r.oz, r.dx, r.dy, r.dz, Float.POSITIVE_INFINITY);
      apart.intersect(q);
      (i % 2 == 0 ? joined : copy).intersect(r);
      assertEquals(q.instance, r.instance);
      assertEquals(q.triangle, r.triangle);
      assertEquals(q.hit(), (i % 2 == 0 ? joined : copy).occluded(shortened(r)));
    }
  }

  private static Ray shortened(Ray r) {
    r.set(r.ox, r.oy, r.oz, r.dx, r.dy, r.dz, r.tMax * 1.001f);
    return r;
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

  private void same(TriangleBvh a, TriangleBvh b, int rays, double spread) {
    Ray p = new Ray(), q = new Ray();
    for (int i = 0; i < rays; i++) {
      randomRay(p, spread);
      p.time = q.time = random.nextFloat();
      q.set(p.ox, p.oy, p.oz, p.dx, p.dy, p.dz, p.tMax);
      a.intersect(p);
      b.intersect(q);
      assertEquals(p.triangle, q.triangle);
      assertEquals(p.tMax, q.tMax);
      assertEquals(p.u, q.u);
      assertEquals(p.v, q.v);
    }
  }

  @Test
  void theVectorUnitFindsTheSameHitsBitForBit() {
    Assumptions.assumeTrue(VectorPath.ON);
    for (int n : new int[] {1, 9, 3000}) {
      float[] p = soup(n, 6);
      int[] t = inOrder(n * 3);
      TriangleBvh wide = new TriangleBvh(p, null, t, Workers.CALLER, true);
      TriangleBvh plain = new TriangleBvh(p, null, t, Workers.CALLER, false);
      same(wide, plain, 4000, 5);
      float[] q = soup(n, 6);
      same(
          new TriangleBvh(p, q, t, Workers.CALLER, true),
          new TriangleBvh(p, q, t, Workers.CALLER, false),
          1000,
          5);
      same(
          wide.moved(q, null, t, Workers.CALLER), plain.moved(q, null, t, Workers.CALLER), 1000, 5);
    }
  }

  @Test
  void anyNumberOfWorkersBuildsTheSameTree() {
    var pool = java.util.concurrent.Executors.newFixedThreadPool(3);
    try {
      float[] p = soup(20_000, 9);
      int[] t = inOrder(60_000);
      same(
          new TriangleBvh(p, t, Workers.CALLER),
          new TriangleBvh(p, t, new Workers(pool, 3)),
          3000,
          6);
    } finally {
      pool.shutdown();
    }
  }

  @Test
  void movedTrianglesAreMetWhereTheyAre() {
    float[] p = soup(60, 3);
    float[] q = soup(60, 3);
    int[] t = inOrder(180);
    TriangleBvh moved = new TriangleBvh(p, t, Workers.CALLER).moved(q, null, t, Workers.CALLER);
    TriangleBvh moving = new TriangleBvh(p, q, t, Workers.CALLER).copy();
    Ray r = new Ray();
    float[] half = new float[p.length];
    for (int i = 0; i < p.length; i++) {
      half[i] = p[i] + (q[i] - p[i]) * 0.5f;
    }
    for (int i = 0; i < 400; i++) {
      randomRay(r, 4);
      float want = nearest(q, Affine.IDENTITY, r), middle = nearest(half, Affine.IDENTITY, r);
      moved.intersect(r);
      assertEquals(want, r.tMax, 1e-3f * Math.min(want, 1e6f));
      r.set(r.ox, r.oy, r.oz, r.dx, r.dy, r.dz, Float.POSITIVE_INFINITY);
      r.time = 0.5f;
      moving.intersect(r);
      assertEquals(middle, r.tMax, 1e-3f * Math.min(middle, 1e6f));
    }
  }

  /** A ray aimed at a shared edge or corner of a closed shape must not slip through. */
  @Test
  void nothingSlipsThroughEdges() {
    int n = 40;
    float[] p = new float[(n + 1) * (n + 1) * 3];
    int[] t = new int[n * n * 6];
    for (int i = 0; i <= n; i++) {
      for (int j = 0; j <= n; j++) {
        int o = (i * (n + 1) + j) * 3;
        p[o] = i * 0.37f;
        p[o + 1] = random.nextFloat() * 0.2f;
        p[o + 2] = j * 0.29f;
      }
    }
    for (int i = 0; i < n; i++) {
      for (int j = 0; j < n; j++) {
        int o = (i * n + j) * 6, a = i * (n + 1) + j, b = a + n + 1;
        int[] two = {a, a + 1, b, b, a + 1, b + 1};
        System.arraycopy(two, 0, t, o, 6);
      }
    }
    TriangleBvh bvh = new TriangleBvh(p, t, Workers.CALLER);
    Ray r = new Ray();
    for (int k = 0; k < 20_000; k++) {
      int i = 1 + random.nextInt(n - 1), j = 1 + random.nextInt(n - 1);
      int o = (i * (n + 1) + j) * 3;
      float f = random.nextInt(4) == 0 ? 0 : random.nextFloat();
      float x = p[o] + f * (p[o + 3] - p[o]), y = p[o + 1] + f * (p[o + 4] - p[o + 1]);
      float z = p[o + 2] + f * (p[o + 5] - p[o + 2]);
      float ox = 7 + random.nextFloat(), oy = 9, oz = 5 + random.nextFloat();
      r.set(ox, oy, oz, x - ox, y - oy, z - oz, Float.POSITIVE_INFINITY);
      bvh.intersect(r);
      assertTrue(r.hit());
    }
  }
}
