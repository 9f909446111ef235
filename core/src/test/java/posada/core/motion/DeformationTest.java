package posada.core.motion;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Primitive;
import posada.core.scene.Primitive.Binding;
import posada.core.scene.Primitive.Target;

/** Where bent vertices, normals and tangents must be, worked out from what they stand on. */
class DeformationTest {
  /** A triangle in no special place, with its normal and the direction of its first edge. */
  private static final float[] CORNERS = {1, 0, 0.5f, 2, 1, 0, 0.5f, 2, 1};

  private static double[] edge(float[] p, int to) {
    return new double[] {p[to] - p[0], p[to + 1] - p[1], p[to + 2] - p[2]};
  }

  private static float[] normal(float[] p) {
    double[] a = edge(p, 3), b = edge(p, 6);
    double x = a[1] * b[2] - a[2] * b[1];
    double y = a[2] * b[0] - a[0] * b[2];
    double z = a[0] * b[1] - a[1] * b[0];
    double l = Math.sqrt(x * x + y * y + z * z);
    return new float[] {(float) (x / l), (float) (y / l), (float) (z / l)};
  }

  private static Primitive triangle(Binding b, List<Target> targets) {
    float[] n = normal(CORNERS);
    double[] e = edge(CORNERS, 3);
    float[] normals = new float[9];
    float[] tangents = new float[12];
    for (int v = 0; v < 3; v++) {
      System.arraycopy(n, 0, normals, 3 * v, 3);
      for (int k = 0; k < 3; k++) {
        tangents[4 * v + k] = (float) e[k];
      }
      tangents[4 * v + 3] = -1;
    }
    return new Primitive(
        CORNERS, normals, tangents, new float[0][], null, new int[] {0, 1, 2}, 0, b, targets);
  }

  private static Binding on(int each, int[] joints, float... weights) {
    return new Binding(each, joints, weights);
  }

  private static Affine random(Random r) {
    double[] m = new double[12];
    for (int k = 0; k < 12; k++) {
      m[k] = r.nextGaussian();
    }
    return new Affine(m);
  }

  /**
   * Whatever a joint does, stretching and shearing: a normal stays across the triangle it was
   * across, and a tangent along its edge. Mirroring turns the triangle's front, and the normal.
   */
  @Test
  void normalsStayAcrossAndTangentsAlong() {
    Random r = new Random(5);
    Primitive p = triangle(on(1, new int[3], 1, 1, 1), List.of());
    for (int i = 0; i < 50; i++) {
      Affine m = random(r);
      Primitive bent = Deformation.bent(p, new float[0], new Affine[] {m});
      float[] flat = bent.positions();
      for (int v = 0; v < 3; v++) {
        Vec3 want = m.point(new Vec3(CORNERS[3 * v], CORNERS[3 * v + 1], CORNERS[3 * v + 2]));
        assertEquals(want.x(), flat[3 * v], 1e-5);
        assertEquals(want.y(), flat[3 * v + 1], 1e-5);
        assertEquals(want.z(), flat[3 * v + 2], 1e-5);
      }
      float[] n = normal(flat);
      double[] e = edge(flat, 3);
      for (int v = 0; v < 3; v++) {
        for (int k = 0; k < 3; k++) {
          assertEquals(n[k], bent.normals()[3 * v + k], 2e-4, "transform " + i);
          assertEquals(e[k], bent.tangents()[4 * v + k], 1e-5);
        }
        assertEquals(-1, bent.tangents()[4 * v + 3]);
      }
    }
  }

  /** Half by a joint that stays and half by one that lifts by 2 m: lifted by 1 m. */
  @Test
  void jointsBlendByTheirWeights() {
    Affine up = Affine.of(new Vec3(0, 2, 0), Quat.IDENTITY, Vec3.ONE);
    Primitive p =
        triangle(on(2, new int[] {0, 1, 0, 1, 0, 1}, 0.5f, 0.5f, 1, 0, 0.25f, 0.75f), List.of());
    float[] at = Deformation.bent(p, new float[0], new Affine[] {Affine.IDENTITY, up}).positions();
    assertArrayEquals(new float[] {1, 1, 0.5f, 2, 1, 0, 0.5f, 3.5f, 1}, at, 1e-6f);
  }

  /** A skinned node whose mesh has no influences hangs on the first joint. */
  @Test
  void withoutInfluencesAllHangsOnTheFirstJoint() {
    Affine aside = Affine.of(new Vec3(3, 0, 0), Quat.IDENTITY, Vec3.ONE);
    Affine[] joints = {aside, Affine.IDENTITY};
    float[] at = Deformation.bent(triangle(null, List.of()), new float[0], joints).positions();
    assertArrayEquals(new float[] {4, 0, 0.5f, 5, 1, 0, 3.5f, 2, 1}, at, 1e-6f);
    Primitive still = Deformation.bent(triangle(null, List.of()), new float[0], new Affine[0]);
    assertArrayEquals(CORNERS, still.positions());
  }

  /** Targets add up before the joints turn them; what a target does not say stays. */
  @Test
  void targetsAddUpBeforeTheSkin() {
    float[] push = new float[9];
    float[] lean = new float[9];
    push[3] = 1;
    lean[0] = 0.5f;
    Target first = new Target(push, null, lean);
    Target second = new Target(null, lean, null);
    Affine quarter = Affine.of(Vec3.ZERO, Quat.axisAngle(new Vec3(0, 0, 1), Math.PI / 2), Vec3.ONE);
    Primitive p = triangle(on(1, new int[3], 1, 1, 1), List.of(first, second));
    Primitive bent = Deformation.bent(p, new float[] {2, 0, 7}, new Affine[] {Affine.IDENTITY});
    assertEquals(4, bent.positions()[3], 1e-6);
    assertEquals(p.tangents()[0] + 1, bent.tangents()[0], 1e-6);
    assertArrayEquals(p.normals(), bent.normals(), 1e-6f);
    Primitive turned = Deformation.bent(p, new float[] {2, 0}, new Affine[] {quarter});
    // A quarter turn about Z takes x to y and y to -x.
    assertEquals(-1, turned.positions()[3], 1e-6);
    assertEquals(4, turned.positions()[4], 1e-6);
    Primitive both = Deformation.bent(p, new float[] {0, 2}, null);
    assertEquals(p.normals()[0] + 1, both.normals()[0], 1e-6);
    assertArrayEquals(CORNERS, both.positions());
  }
}
