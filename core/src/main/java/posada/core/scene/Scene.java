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
    List<Skin> skins,
    Environment environment) {
  public Scene {
    for (int i = 0; i < nodes.size(); i++) {
      if (nodes.get(i).parent() >= i) {
        throw new IllegalArgumentException(
            "node " + nodes.get(i).name() + " must come after its parent");
      }
    }
  }

  /** A scene without skins under a plain sky. */
  public Scene(
      String name,
      List<Node> nodes,
      List<Mesh> meshes,
      List<Material> materials,
      List<Texture> textures,
      List<Camera> cameras,
      List<Light> lights,
      List<Animation> animations,
      Sky sky) {
    this(
        name,
        nodes,
        meshes,
        materials,
        textures,
        cameras,
        lights,
        animations,
        List.of(),
        Environment.of(sky));
  }

  /** Returns this scene in another environment. */
  public Scene withEnvironment(Environment e) {
    return new Scene(
        name, nodes, meshes, materials, textures, cameras, lights, animations, skins, e);
  }

  /** Returns this scene with other cameras, lights and materials, as many as there are. */
  public Scene with(List<Camera> c, List<Light> l, List<Material> m) {
    return new Scene(name, nodes, meshes, m, textures, c, l, animations, skins, environment);
  }

  /** Returns the number of the node of this name, or -1. */
  public int node(String nodeName) {
    for (int i = 0; i < nodes.size(); i++) {
      if (nodes.get(i).name().equals(nodeName)) {
        return i;
      }
    }
    return -1;
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
