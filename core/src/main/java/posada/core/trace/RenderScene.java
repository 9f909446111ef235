package posada.core.trace;

import java.util.stream.Collectors;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Scene;

/** A scene with its hierarchies, from which pictures of any frame and camera are taken. */
public final class RenderScene {
  private final Scene scene;
  private final Geometry geometry;

  public RenderScene(Scene scene, Workers workers) {
    this.scene = scene;
    geometry = Geometry.build(scene, workers);
  }

  public Scene scene() {
    return scene;
  }

  /**
   * Returns the name of the camera to use.
   *
   * @param wanted null to take the only one
   * @throws IllegalArgumentException listing the cameras if there is no such one, or several and
   *     none was named
   */
  public String camera(String wanted) {
    if (wanted == null && scene.cameras().size() == 1) {
      return scene.cameras().get(0).name();
    }
    if (wanted != null && scene.cameraNode(wanted) >= 0) {
      return wanted;
    }
    String names =
        scene.cameras().stream().map(Camera::name).sorted().collect(Collectors.joining(", "));
    throw new IllegalArgumentException(
        wanted == null
            ? "the scene has several cameras, name one of " + names
            : "there is no camera \"" + wanted + "\"; there are " + names);
  }

  /**
   * Returns a renderer of one picture.
   *
   * @param camera name of a camera of the scene
   * @param seconds time of the frame
   */
  public FrameRenderer frame(
      String camera, double seconds, int width, int height, RenderSettings settings) {
    int node = scene.cameraNode(camera(camera));
    Stage stage = new Stage(scene, geometry, seconds);
    return new FrameRenderer(stage, stage.view(node, width, height), settings);
  }
}
