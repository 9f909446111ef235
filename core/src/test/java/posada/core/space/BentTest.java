package posada.core.space;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Animation;
import posada.core.scene.Environment;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Primitive.Binding;
import posada.core.scene.Primitive.Target;
import posada.core.scene.Scene;
import posada.core.scene.Skin;
import posada.core.scene.Trs;

/** What joints and morph targets bend is shown where it is, worked out by hand. */
class BentTest {
  /** Rungs of a ladder of two rails along y, from 0 to 2 m. */
  private static final int RUNGS = 41;

  private static Primitive ladder(Binding b, List<Target> targets) {
    float[] p = new float[6 * RUNGS];
    List<Integer> t = new ArrayList<>();
    for (int i = 0; i < RUNGS; i++) {
      for (int side = 0; side < 2; side++) {
        p[6 * i + 3 * side] = side - 0.5f;
        p[6 * i + 3 * side + 1] = 2f * i / (RUNGS - 1);
      }
      if (i > 0) {
        int a = 2 * i - 2;
        t.addAll(List.of(a, a + 1, a + 3, a, a + 3, a + 2));
      }
    }
    int[] corners = t.stream().mapToInt(Integer::intValue).toArray();
    return new Primitive(p, null, null, new float[0][], null, corners, 0, b, targets);
  }

  /** The upper half hangs on a joint at 1 m that is turned by a quarter about z after a second. */
  private static Scene bending(int skin, Binding binding, List<Target> targets, Animation moves) {
    Node shape = new Node("shape", -1, trs(0, 0, 5), null, 0, -1, -1, skin, null, null, true, true);
    Node joint = new Node("joint", -1, trs(0, 1, 0), null, -1, -1, -1);
    Affine down = trs(0, -1, 0).toAffine();
    return new Scene(
        "s",
        List.of(shape, joint),
        List.of(new Mesh("ladder", List.of(ladder(binding, targets)), new float[targets.size()])),
        List.of(Material.named("grey").build()),
        List.of(),
        List.of(),
        List.of(),
        List.of(moves),
        skin < 0 ? List.of() : List.of(new Skin("k", new int[] {1}, List.of(down))),
        Environment.of(null));
  }

  private static Trs trs(double x, double y, double z) {
    return new Trs(new Vec3(x, y, z), Quat.IDENTITY, new Vec3(1, 1, 1));
  }

  private static Animation channel(int node, Animation.Path path, float[] from, float[] to) {
    float[] values = new float[from.length + to.length];
    System.arraycopy(from, 0, values, 0, from.length);
    System.arraycopy(to, 0, values, from.length, to.length);
    Animation.Curve c =
        new Animation.Curve(Animation.Interpolation.LINEAR, new float[] {0, 1}, values);
    return new Animation("a", List.of(new Animation.Channel(node, path, c)));
  }

  private static void near(float[] p, int v, double x, double y, double z) {
    assertEquals(x, p[3 * v], 1e-5);
    assertEquals(y, p[3 * v + 1], 1e-5);
    assertEquals(z, p[3 * v + 2], 1e-5);
  }

  @Test
  void jointsPlaceVerticesInTheWorldWhateverTheNodeDoes() {
    float[] all = new float[2 * RUNGS];
    java.util.Arrays.fill(all, 1);
    float h = (float) Math.sqrt(0.5);
    Scene s =
        bending(
            0,
            new Binding(1, new int[2 * RUNGS], all),
            List.of(),
            channel(
                1, Animation.Path.ROTATION, new float[] {0, 0, 0, 1}, new float[] {0, 0, h, h}));
    Bent bent = new Bent(s, 1_000_000);
    Bent.Frames f = bent.frames(new double[] {0, 1}, null);
    assertEquals(2 * RUNGS, bent.vertices());
    int second = 2 * RUNGS;
    for (int v = 0; v < second; v++) {
      double x = v % 2 - 0.5;
      double y = 2.0 * (v / 2) / (RUNGS - 1);
      near(f.positions(), v, x, y, 0);
      // A quarter turn about (0, 1, 0).
      near(f.positions(), second + v, -(y - 1), 1 + x, 0);
      assertEquals(127, f.normals()[3 * (second + v) + 2]);
    }
    assertTrue(new Placing(s).instances().node().length == 0);
  }

  @Test
  void morphsBendWhereTheNodeIsAndWhatIsSimplifiedGoesAlong() {
    float[] lift = new float[6 * RUNGS];
    for (int v = 0; v < 2 * RUNGS; v++) {
      lift[3 * v + 2] = 3;
    }
    Scene s =
        bending(
            -1,
            null,
            List.of(new Target(lift, null, null)),
            channel(0, Animation.Path.WEIGHTS, new float[] {0}, new float[] {1}));
    Bent bent = new Bent(s, 20);
    assertTrue(bent.vertices() < RUNGS && bent.parts().get(0).shape().triangles() <= 20);
    Bent.Frames f = bent.frames(new double[] {0.5}, null);
    double low = 9;
    double high = -9;
    for (int v = 0; v < bent.vertices(); v++) {
      assertEquals(5 + 1.5, f.positions()[3 * v + 2], 1e-5);
      low = Math.min(low, f.positions()[3 * v + 1]);
      high = Math.max(high, f.positions()[3 * v + 1]);
    }
    assertTrue(low < 0.3 && high > 1.7);
    assertEquals(1, f.there()[0]);
  }
}
