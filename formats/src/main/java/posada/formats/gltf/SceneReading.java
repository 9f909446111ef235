package posada.formats.gltf;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Value;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Node;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Skin;
import posada.core.scene.Trs;
import posada.formats.settings.Documents;
import posada.formats.settings.EnvironmentPicture;

/**
 * How a scene file is read where it is not taken as it is. It lies beside the file, in one named
 * like it with {@link #SUFFIX}.
 *
 * @param scale metres in one of the file's units, 1e-6 .. 1e6
 * @param up which of the file's axes points up: x, y or z; null for y
 * @param without names of animations that do not play
 * @param files for files that are missing, by their names in the report: files in the scene's
 *     folder
 */
public record SceneReading(
    double scale, String up, List<String> without, Map<String, String> files) {
  /** The file as it is. */
  public static final SceneReading NONE = new SceneReading(1, "y", List.of(), Map.of());

  /** What the name of the file beside the scene ends with. */
  public static final String SUFFIX = ".reading.json";

  private static final double LEAST = 1e-6, MOST = 1e6;

  /** Most animations or files. */
  private static final int MOST_NAMES = 10_000;

  public SceneReading {
    if (!(scale >= LEAST && scale <= MOST)) {
      throw new IllegalArgumentException(
          "scale must be 0.000001 .. 1000000 m for a unit of the file (got " + scale + ")");
    }
    up = up == null ? "y" : up;
    if (!up.matches("[xyz]")) {
      throw new IllegalArgumentException("up must be x, y or z (got " + up + ")");
    }
    without = without == null ? List.of() : List.copyOf(without);
    files = files == null ? Map.of() : Map.copyOf(files);
    if (without.size() > MOST_NAMES || files.size() > MOST_NAMES) {
      throw new IllegalArgumentException("a reading names at most 10000 animations and files");
    }
  }

  /** Returns where the reading of a scene file lies. */
  public static Path beside(Path scene) {
    return scene.resolveSibling(scene.getFileName() + SUFFIX);
  }

  /**
   * Returns how a scene file is read.
   *
   * @throws ImportException if what lies beside it is damaged
   */
  static SceneReading of(Path scene) throws ImportException {
    Path file = beside(scene);
    if (!Files.isRegularFile(file)) {
      return NONE;
    }
    try {
      return Documents.read(Files.readString(file), SceneReading.class);
    } catch (IOException | IllegalArgumentException e) {
      throw new ImportException(file.getFileName() + " cannot be read: " + e.getMessage() + ".");
    }
  }

  /**
   * Reads a picture to see that it can be used in a scene.
   *
   * @throws ImportException saying why it cannot
   */
  public static void check(Path picture) throws ImportException {
    String name = picture.getFileName().toString();
    try {
      if (name.matches("(?i).*\\.(exr|hdr)")) {
        EnvironmentPicture.read(picture);
      } else {
        TexelReader.read(name, Files.readAllBytes(picture));
      }
    } catch (IOException | TexelReader.UnreadableException | IllegalArgumentException e) {
      String why = String.valueOf(e.getMessage()).replace(picture.toString(), name);
      throw new ImportException("The picture cannot be used: " + why + ".");
    }
  }

  private boolean places() {
    return scale != 1 || !up.equals("y");
  }

  /** Returns those of a file's animations that play. */
  List<Animation> playing(List<Animation> all) {
    return all.stream().filter(a -> !without.contains(a.name())).toList();
  }

  /**
   * Returns a scene at its size and the right way up: everything hangs on one more node, and
   * lengths of cameras and lights are scaled.
   *
   * @param root free name for that node
   */
  Scene placed(Scene s, String root) {
    if (!places()) {
      return s;
    }
    List<Node> nodes = new ArrayList<>();
    nodes.add(
        new Node(
            root, -1, new Trs(Vec3.ZERO, turn(), new Vec3(scale, scale, scale)), null, -1, -1, -1));
    for (Node n : s.nodes()) {
      nodes.add(
          new Node(
              n.name(),
              n.parent() + 1,
              n.trs(),
              n.matrix(),
              n.mesh(),
              n.camera(),
              n.light(),
              n.skin(),
              n.weights(),
              n.copies(),
              n.shown(),
              n.cameraSees()));
    }
    return new Scene(
        s.name(),
        nodes,
        s.meshes(),
        s.materials(),
        s.textures(),
        s.cameras().stream()
            .map(c -> new Camera(c.name(), c.verticalAngle(), c.halfHeight() * scale))
            .toList(),
        s.lights().stream().map(this::scaled).toList(),
        s.animations().stream().map(this::scaled).toList(),
        s.skins().stream().map(SceneReading::moved).toList(),
        s.environment());
  }

  private Quat turn() {
    double h = Math.sqrt(0.5);
    return switch (up) {
      case "x" -> new Quat(0, 0, h, h);
      case "z" -> new Quat(-h, 0, 0, h);
      default -> Quat.IDENTITY;
    };
  }

  private Light scaled(Light l) {
    return new Light(
        l.name(),
        l.kind(),
        l.color(),
        l.intensity(),
        l.range() * scale,
        l.innerAngle(),
        l.outerAngle(),
        l.kind() == Light.Kind.DIRECTIONAL ? l.size() : l.size() * scale,
        l.cameraSees());
  }

  private Animation scaled(Animation a) {
    List<Channel> channels =
        a.channels().stream().map(c -> new Channel(c.node() + 1, c.path(), c.curve())).toList();
    List<Value> values =
        a.values().stream()
            .map(
                v ->
                    v.property() == Property.VIEW_HEIGHT || v.property() == Property.LIGHT_RANGE
                        ? new Value(
                            v.property(), v.index(), v.slot(), v.curve().times((float) scale))
                        : v)
            .toList();
    return new Animation(a.name(), channels, values);
  }

  private static Skin moved(Skin k) {
    return new Skin(k.name(), Arrays.stream(k.joints()).map(j -> j + 1).toArray(), k.inverseBind());
  }
}
