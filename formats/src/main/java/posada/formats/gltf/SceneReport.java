package posada.formats.gltf;

import java.util.List;

/**
 * What a scene file holds and what was mended in it.
 *
 * @param sizeMetres longest side of the box around everything
 * @param animations all of the file's, those too that do not play
 * @param objects placed meshes
 * @param triangles triangles of all placed meshes together
 * @param storedTriangles triangles in memory: a mesh placed twice counts once
 * @param memoryBytes what rendering it takes, without the picture
 * @param missing files that it refers to and that are not there
 * @param remarks what is odd about it and was lived with
 * @param reading how the file was read where it was not taken as it is
 */
public record SceneReport(
    String file,
    long fileBytes,
    String generator,
    double sizeMetres,
    List<CameraLine> cameras,
    List<AnimationLine> animations,
    int objects,
    long triangles,
    long storedTriangles,
    int materials,
    int textures,
    int lights,
    long memoryBytes,
    List<String> missing,
    List<String> remarks,
    SceneReading reading) {
  public SceneReport {
    reading = reading == null ? SceneReading.NONE : reading; // It was taken before there were any.
  }

  /** Returns the animations that play. */
  public List<AnimationLine> playing() {
    return animations.stream().filter(a -> !reading.without().contains(a.name())).toList();
  }

  /**
   * One camera.
   *
   * @param angleDegrees full vertical angle of view; 0 if orthographic
   * @param heightMetres height of an orthographic view; 0 if perspective
   * @param moves true if animation moves it or anything it hangs on
   * @param added true if the file has no camera and this one was made
   * @param nearMetres what is nearer than this other programs do not show; 0 if nobody knows
   */
  public record CameraLine(
      String name,
      String kind,
      double angleDegrees,
      double heightMetres,
      boolean moves,
      boolean added,
      Double nearMetres) {
    public CameraLine {
      nearMetres = nearMetres == null ? 0.0 : nearMetres; // It was taken before there were any.
    }
  }

  /** One animation, in seconds. */
  public record AnimationLine(String name, double start, double end, int channels) {}
}
