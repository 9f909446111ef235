package posada.core.scene;

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
 */
public record Node(
    String name, int parent, Trs trs, Affine matrix, int mesh, int camera, int light) {
  public Affine local() {
    return matrix != null ? matrix : trs.toAffine();
  }
}
