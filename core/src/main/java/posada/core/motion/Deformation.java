package posada.core.motion;

import java.util.Arrays;
import posada.core.geometry.Affine;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Primitive.Binding;
import posada.core.scene.Primitive.Target;
import posada.core.scene.Scene;
import posada.core.scene.Skin;

/**
 * Bends a primitive by its morph targets and then by its skin.
 *
 * <p>Source: glTF 2.0, sections 3.7.2.2 (morph targets) and 3.7.3.3 (skinned mesh: the node's own
 * placement does not count, the joints place the vertices in the world).
 */
public final class Deformation {
  private Deformation() {}

  /** Returns true if the node's mesh may change its shape. */
  public static boolean of(Scene scene, Node n) {
    return n.mesh() >= 0
        && (n.skin() >= 0 && scene.meshes().get(n.mesh()).deforms()
            || scene.meshes().get(n.mesh()).morphs());
  }

  /**
   * Returns the joints' placements, mesh space at rest to world space; null without a skin.
   *
   * @param node number of the node with the mesh
   */
  public static Affine[] joints(Scene scene, int node, Pose pose) {
    int s = scene.nodes().get(node).skin();
    if (s < 0) {
      return null;
    }
    Skin skin = scene.skins().get(s);
    Affine[] m = new Affine[skin.joints().length];
    for (int j = 0; j < m.length; j++) {
      m[j] = pose.world(skin.joints()[j]).times(skin.inverseBind().get(j));
    }
    return m;
  }

  /**
   * Returns the primitive with its vertices where they are: in world space if there are joints,
   * else in the mesh's own space.
   *
   * @param weights of the morph targets
   * @param joints of {@link #joints}; null without a skin
   */
  public static Primitive bent(Primitive p, float[] weights, Affine[] joints) {
    float[] positions = p.positions().clone();
    float[] normals = p.normals() == null ? null : p.normals().clone();
    float[] tangents = p.tangents() == null ? null : p.tangents().clone();
    for (int t = 0; t < p.targets().size() && t < weights.length; t++) {
      Target target = p.targets().get(t);
      if (weights[t] != 0) {
        add(positions, 3, target.positions(), weights[t]);
        add(normals, 3, target.normals(), weights[t]);
        add(tangents, 4, target.tangents(), weights[t]);
      }
    }
    if (joints != null && p.binding() != null) {
      skin(p.binding(), joints, positions, normals, tangents);
    } else if (joints != null && joints.length > 0) {
      skin(rigid(p.vertices()), joints, positions, normals, tangents);
    }
    return p.moved(positions, normals, tangents);
  }

  /** Everything hangs on the first joint. */
  private static Binding rigid(int vertices) {
    float[] w = new float[vertices];
    Arrays.fill(w, 1);
    return new Binding(1, new int[vertices], w);
  }

  private static void add(float[] to, int stride, float[] what, float weight) {
    if (to == null || what == null) {
      return;
    }
    for (int v = 0; v * 3 < what.length; v++) {
      for (int k = 0; k < 3; k++) {
        to[v * stride + k] += weight * what[v * 3 + k];
      }
    }
  }

  private static void skin(Binding b, Affine[] joints, float[] p, float[] n, float[] t) {
    float[][] place = new float[joints.length][];
    for (int j = 0; j < joints.length; j++) {
      place[j] = joints[j].toFloats();
    }
    float[] m = new float[12];
    float[] cofactors = new float[9];
    for (int v = 0; v < p.length / 3; v++) {
      Arrays.fill(m, 0);
      for (int i = 0; i < b.each(); i++) {
        float w = b.weights()[v * b.each() + i];
        if (w != 0) {
          float[] j = place[b.joints()[v * b.each() + i]];
          for (int k = 0; k < 12; k++) {
            m[k] += w * j[k];
          }
        }
      }
      turn(m, 4, p, v * 3, true);
      if (t != null) {
        turn(m, 4, t, v * 4, false);
      }
      if (n != null) {
        cofactors(m, cofactors);
        turn(cofactors, 3, n, v * 3, false);
        unit(n, v * 3);
      }
    }
  }

  private static void turn(float[] m, int row, float[] a, int at, boolean shift) {
    float x = a[at], y = a[at + 1], z = a[at + 2];
    for (int k = 0; k < 3; k++) {
      int o = k * row;
      a[at + k] = m[o] * x + m[o + 1] * y + m[o + 2] * z + (shift ? m[o + 3] : 0);
    }
  }

  /** The inverse transpose up to a factor, which turns normals. */
  private static void cofactors(float[] m, float[] c) {
    c[0] = m[5] * m[10] - m[6] * m[9];
    c[1] = m[6] * m[8] - m[4] * m[10];
    c[2] = m[4] * m[9] - m[5] * m[8];
    c[3] = m[2] * m[9] - m[1] * m[10];
    c[4] = m[0] * m[10] - m[2] * m[8];
    c[5] = m[1] * m[8] - m[0] * m[9];
    c[6] = m[1] * m[6] - m[2] * m[5];
    c[7] = m[2] * m[4] - m[0] * m[6];
    c[8] = m[0] * m[5] - m[1] * m[4];
  }

  private static void unit(float[] a, int at) {
    float l = (float) Math.sqrt(a[at] * a[at] + a[at + 1] * a[at + 1] + a[at + 2] * a[at + 2]);
    if (l > 0) {
      a[at] /= l;
      a[at + 1] /= l;
      a[at + 2] /= l;
    }
  }
}
