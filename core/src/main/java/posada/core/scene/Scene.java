package posada.core.scene;

import java.util.List;

/**
 * Everything a file holds, after reading and fixing up: the input of {@code motion} and {@code
 * trace}.
 */
public record Scene(
    String name,
    List<Node> nodes,
    List<Mesh> meshes,
    List<Material> materials,
    List<Texture> textures,
    List<Camera> cameras,
    List<Light> lights,
    List<Animation> animations,
    Sky sky) {
  public Scene {
    for (int i = 0; i < nodes.size(); i++) {
      if (nodes.get(i).parent() >= i) {
        throw new IllegalArgumentException(
            "node " + nodes.get(i).name() + " must come after its parent");
      }
    }
  }

  /** Returns the number of the node that holds the camera of this name, or -1. */
  public int cameraNode(String cameraName) {
    for (int i = 0; i < nodes.size(); i++) {
      int c = nodes.get(i).camera();
      if (c >= 0 && cameras.get(c).name().equals(cameraName)) {
        return i;
      }
    }
    return -1;
  }
}
