package posada.core.scene;

import java.util.List;
import posada.core.geometry.Affine;

/**
 * Nodes that pull vertices along (glTF 2.0, section 3.7.3).
 *
 * @param joints numbers of nodes
 * @param inverseBind mesh space to joint space at rest, one for each joint
 */
public record Skin(String name, int[] joints, List<Affine> inverseBind) {
  public Skin {
    if (joints.length != inverseBind.size()) {
      throw new IllegalArgumentException(
          "skin "
              + name
              + " needs a rest placement for each of "
              + joints.length
              + " joints (got "
              + inverseBind.size()
              + ")");
    }
  }
}
