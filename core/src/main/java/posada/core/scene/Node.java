package posada.core.scene;

import java.util.List;
import posada.core.geometry.Affine;

/**
 * A place in the scene's tree.
 *
 * @param name unique within the scene, never blank
 * @param parent number of the parent node, -1 for a root; always less than this node's own number
 * @param trs placement under the parent; null if the file gave a matrix
 * @param matrix placement under the parent; null if the file gave translation, rotation and scale
 * @param mesh number of its mesh, or -1
 * @param camera number of its camera, or -1
 * @param light number of its light, or -1
 * @param skin number of the skin that moves its mesh, or -1
 * @param weights of its mesh's morph targets; null for the mesh's own
 * @param copies placements of the mesh under this node; null for one, where the node is
 * @param shown false if it and all that hangs on it are left out while no key shows it
 * @param cameraSees false if rays from the camera pass it; it still lights, shadows and reflects
 */
public record Node(
    String name,
    int parent,
    Trs trs,
    Affine matrix,
    int mesh,
    int camera,
    int light,
    int skin,
    float[] weights,
    List<Affine> copies,
    boolean shown,
    boolean cameraSees) {
  /** A node that stands for itself, seen by the camera. */
  public Node(String name, int parent, Trs trs, Affine matrix, int mesh, int camera, int light) {
    this(name, parent, trs, matrix, mesh, camera, light, -1, null, null, true, true);
  }

  public Affine local() {
    return matrix != null ? matrix : trs.toAffine();
  }
}
