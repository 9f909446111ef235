package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Accessor;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Vec3;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Environment;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.trace.MemoryEstimate;
import posada.formats.gltf.SceneReport.AnimationLine;
import posada.formats.gltf.SceneReport.CameraLine;

/** Loads a glTF or GLB file as a scene that can be rendered, with a report. */
public final class SceneImporter {
  /** Extensions that are read in full. */
  private static final Set<String> SUPPORTED =
      Set.of(
          "EXT_mesh_gpu_instancing",
          "EXT_meshopt_compression",
          MaterialReader.WEBP,
          PackedMeshes.EXTENSION,
          AnimationReader.POINTER,
          "KHR_lights_punctual",
          "KHR_materials_anisotropy",
          "KHR_materials_clearcoat",
          "KHR_materials_emissive_strength",
          "KHR_materials_ior",
          "KHR_materials_sheen",
          "KHR_materials_specular",
          "KHR_materials_transmission",
          "KHR_materials_unlit",
          "KHR_materials_volume",
          "KHR_mesh_quantization",
          NodeReader.VISIBILITY,
          "KHR_texture_transform");

  /** Of the memory, what the numbers of a scene may take: reading and rendering need the rest. */
  private static final double SHARE = 0.5;

  private SceneImporter() {}

  /**
   * Loads a file; other files it refers to must lie in its folder or below.
   *
   * @throws ImportException if it cannot be loaded
   */
  public static ImportedScene load(Path path) throws ImportException {
    GltfFile file = new GltfFile(path);
    try {
      return load(file);
    } catch (OutOfMemoryError e) {
      throw file.failure("the scene", "needs more memory than there is");
    } catch (NullPointerException
        | IndexOutOfBoundsException
        | ArithmeticException
        | IllegalArgumentException e) {
      String why = e instanceof IllegalArgumentException ? ": " + e.getMessage() : "";
      throw file.failure("the JSON", "lacks a part that glTF 2.0 requires" + why);
    }
  }

  private static ImportedScene load(GltfFile file) throws ImportException {
    extensions(file);
    room(file);
    MaterialReader looks = new MaterialReader(file);
    List<Material> materials = looks.materials();
    MeshReader meshReader = new MeshReader(file, materials.size() - 1);
    List<Mesh> meshes = new ArrayList<>();
    int meshCount = file.gltf.getMeshes() == null ? 0 : file.gltf.getMeshes().size();
    for (int i = 0; i < meshCount; i++) {
      meshes.add(meshReader.read(i));
    }
    NodeReader tree = new NodeReader(file);
    List<Animation> animations =
        new AnimationReader(file, tree, looks, mesh -> targets(meshes, mesh)).read();
    Object extras =
        file.gltf.getScenes() == null || file.gltf.getScenes().isEmpty()
            ? null
            : file.gltf.getScenes().get(tree.sceneIndex()).getExtras();
    Environment around = EnvironmentReader.read(extras, file);
    String name = file.name.replaceFirst("\\.[^.]*$", "");
    Scene asFiled =
        new Scene(
            name,
            tree.nodes,
            meshes,
            materials,
            looks.textures,
            tree.cameras,
            tree.lights,
            file.reading.playing(animations),
            tree.skins(),
            around == null ? Environment.NONE : around);
    joints(asFiled, file);
    Scene bare = file.reading.placed(asFiled, tree.unique("as read"));
    Bounds bounds = bounds(bare);
    Scene lit = around == null ? Additions.light(bare, file) : bare;
    boolean added = lit.cameras().isEmpty();
    Scene scene = added ? Additions.withCamera(lit, bounds, tree, file) : lit;
    size(bounds, file);
    return new ImportedScene(
        scene, report(file, scene, animations, bounds, added ? null : tree.near));
  }

  /** Refuses at once what cannot be held, by what the file says of its numbers. */
  private static void room(GltfFile file) throws ImportException {
    double bytes = file.size;
    List<Accessor> all = file.gltf.getAccessors();
    for (Accessor a : all == null ? List.<Accessor>of() : all) {
      double numbers =
          a.getCount() == null ? 0 : (double) a.getCount() * AccessorReader.numbers(a.getType());
      // One that is too large by itself is refused by its name, later.
      bytes += numbers <= AccessorReader.MAX_VALUES ? Float.BYTES * numbers : 0;
    }
    double most = SHARE * Runtime.getRuntime().maxMemory();
    if (bytes > most) {
      throw file.failure(
          "the scene",
          String.format(
              Locale.ROOT,
              "has %.1f GB of vertices and keys, and %.1f GB may be taken; POSADA_MEMORY gives more",
              bytes / 1e9,
              most / 1e9));
    }
  }

  private static void extensions(GltfFile file) throws ImportException {
    List<String> required = file.gltf.getExtensionsRequired();
    for (String e : required == null ? List.<String>of() : required) {
      if (!SUPPORTED.contains(e)) {
        throw file.failure("the file", "requires the extension " + e + ", which is not supported");
      }
    }
    List<String> used = file.gltf.getExtensionsUsed();
    for (String e : new TreeSet<>(used == null ? List.<String>of() : used)) {
      if (!SUPPORTED.contains(e)) {
        file.remark("The extension " + e + " is not read; what it adds is left out.");
      }
    }
  }

  private static int targets(List<Mesh> meshes, int mesh) {
    return mesh < 0
        ? 0
        : meshes.get(mesh).primitives().stream().mapToInt(p -> p.targets().size()).max().orElse(0);
  }

  /** Refuses vertices that hang on joints their skin does not have. */
  private static void joints(Scene s, GltfFile file) throws ImportException {
    for (Node n : s.nodes()) {
      if (n.skin() < 0) {
        continue;
      }
      int count = s.skins().get(n.skin()).joints().length;
      for (Primitive p : s.meshes().get(n.mesh()).primitives()) {
        if (p.binding() != null) {
          for (int j : p.binding().joints()) {
            if (j < 0 || j >= count) {
              throw file.failure(
                  "object \"" + n.name() + "\"", "hangs on joint " + j + " of " + count);
            }
          }
        }
      }
    }
  }

  private static Bounds bounds(Scene s) {
    Pose pose = Pose.at(s, Additions.start(s));
    Bounds all = new Bounds();
    Bounds[] own = new Bounds[s.meshes().size()];
    for (int i = 0; i < s.nodes().size(); i++) {
      int m = s.nodes().get(i).mesh();
      if (m >= 0) {
        own[m] = own[m] == null ? s.meshes().get(m).bounds() : own[m];
        List<Affine> copies = s.nodes().get(i).copies();
        for (Affine c : copies == null ? List.of(Affine.IDENTITY) : copies) {
          all.add(own[m], pose.world(i).times(c));
        }
      }
    }
    return all;
  }

  private static void size(Bounds b, GltfFile file) {
    double d = across(b);
    if (b.empty()) {
      file.remark("The scene has no triangles to show.");
    } else if (d < 0.1 || d > 900) {
      file.remark("The scene is " + metres(d) + " across; glTF is in metres, so check its units.");
    }
  }

  /** Returns the longest side, metres. */
  private static double across(Bounds b) {
    Vec3 extent = b.empty() ? Vec3.ZERO : b.max().minus(b.min());
    return Math.max(extent.x(), Math.max(extent.y(), extent.z()));
  }

  private static String metres(double d) {
    return d < 1
        ? String.format(java.util.Locale.ROOT, "%.2g cm", d * 100)
        : String.format(java.util.Locale.ROOT, "%.1f km", d / 1000);
  }

  private static SceneReport report(
      GltfFile file, Scene s, List<Animation> animations, Bounds bounds, List<Double> near) {
    int objects = 0;
    long triangles = 0;
    for (Node n : s.nodes()) {
      if (n.mesh() >= 0) {
        int copies = n.copies() == null ? 1 : n.copies().size();
        objects += copies;
        triangles += (long) copies * s.meshes().get(n.mesh()).triangles();
      }
    }
    long stored = s.meshes().stream().mapToLong(Mesh::triangles).sum();
    return new SceneReport(
        file.name,
        file.size,
        file.gltf.getAsset().getGenerator(),
        across(bounds),
        cameras(s, near, file.reading.scale()),
        animations.stream()
            .map(
                a ->
                    new AnimationLine(
                        a.name(), a.start(), a.end(), a.channels().size() + a.values().size()))
            .toList(),
        objects,
        triangles,
        stored,
        s.materials().size() - 1,
        s.textures().size(),
        s.lights().size(),
        MemoryEstimate.scene(s),
        List.copyOf(file.missing),
        file.remarks.sentences(),
        file.reading);
  }

  /**
   * @param near of each camera; null if the one there is was added
   */
  private static List<CameraLine> cameras(Scene s, List<Double> near, double scale) {
    Set<Integer> moving = new TreeSet<>();
    for (Animation a : s.animations()) {
      a.channels().stream().filter(c -> c.path().places()).forEach(c -> moving.add(c.node()));
    }
    Set<Integer> zooming = new TreeSet<>();
    for (Property p : List.of(Property.VIEW_ANGLE, Property.VIEW_HEIGHT)) {
      Values.of(s, p).forEach(v -> zooming.add(v.index()));
    }
    List<CameraLine> lines = new ArrayList<>();
    for (int i = 0; i < s.nodes().size(); i++) {
      int index = s.nodes().get(i).camera();
      if (index < 0) {
        continue;
      }
      Camera c = s.cameras().get(index);
      boolean moves = zooming.contains(index);
      for (int n = i; n >= 0; n = s.nodes().get(n).parent()) {
        moves |= moving.contains(n);
      }
      lines.add(
          new CameraLine(
              c.name(),
              c.perspective() ? "perspective" : "orthographic",
              Math.toDegrees(c.verticalAngle()),
              2 * c.halfHeight(),
              moves,
              near == null,
              near == null ? null : Double.valueOf(near.get(index) * scale)));
    }
    return lines;
  }
}
