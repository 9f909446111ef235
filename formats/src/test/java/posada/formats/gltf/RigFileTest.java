package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.rig.Ease;
import posada.core.rig.RigCamera;
import posada.core.rig.RigKey;
import posada.core.rig.RigLight;
import posada.core.rig.RigScene;
import posada.core.rig.Sway;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Value;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.settings.RigDocument;

/** A rig that is written out and read back renders the same bits. */
class RigFileTest {
  @TempDir Path folder;

  private static RigKey key(double t, double x, double value) {
    Quat down = Quat.looking(new Vec3(-x, -4, -2), new Vec3(0, 1, 0));
    return RigKey.of(t, new Vec3(x, 4, 2), down, value, Ease.SMOOTH);
  }

  /** A floor that goes along. */
  private static Scene base() {
    float[] p = {-9, 0, -9, -9, 0, 9, 9, 0, 9, 9, 0, -9};
    Primitive floor =
        new Primitive(p, null, null, new float[0][], null, new int[] {0, 1, 2, 0, 2, 3}, 0);
    Channel c =
        new Channel(
            0,
            Animation.Path.TRANSLATION,
            Interpolation.LINEAR,
            new float[] {0, 1},
            new float[] {0, 0, 0, 1, 0.5f, 0});
    return new Scene(
        "floor",
        List.of(new Node("floor", -1, Trs.IDENTITY, null, 0, -1, -1)),
        List.of(new Mesh("floor", List.of(floor))),
        List.of(Material.plain("grey", 0.5f, 0.5f, 0.5f, 0, 1)),
        List.of(),
        List.of(),
        List.of(),
        List.of(new Animation("go", List.of(c))),
        Sky.constant(0.1f));
  }

  private static RigLight light(String name, RigLight.Kind kind, double size, boolean seen) {
    return new RigLight(
        name,
        kind,
        20,
        List.of(1.0, 0.7, 0.4),
        3200.0,
        size,
        0.7,
        70,
        0.3,
        seen,
        "",
        name.equals("spot") ? "floor" : "",
        List.of(key(0, 1, 20), key(0.5, -1, 35)),
        true);
  }

  private static RigDocument rig() {
    RigCamera c =
        new RigCamera(
            "eye",
            false,
            50,
            "floor",
            List.of(key(0, 3, 50), key(0.4, 0, 55), key(1, -2, 40)),
            "",
            null,
            List.of(0.0, 0.0, -1.0),
            null,
            new Sway(0.02, 0.5, 2, 3, 0, 1, false));
    return new RigDocument(
        List.of(c),
        List.of(
            light("sun", RigLight.Kind.SUN, 2, false),
            light("spot", RigLight.Kind.SPOT, 0.2, true),
            light("panel", RigLight.Kind.PANEL, 1, false)),
        List.of(),
        List.of(),
        null);
  }

  /** Puts all of a file behind what is there, as a lead would who opens both. */
  private static Scene joined(Scene a, Scene b) {
    List<Node> nodes = new ArrayList<>(a.nodes());
    List<Mesh> meshes = new ArrayList<>(a.meshes());
    List<Material> materials = new ArrayList<>(a.materials());
    List<Animation> animations = new ArrayList<>(a.animations());
    int n = nodes.size();
    int m = materials.size();
    for (Node x : b.nodes()) {
      nodes.add(
          new Node(
              x.name().equals("floor") ? "floor again" : x.name(),
              x.parent() < 0 ? -1 : x.parent() + n,
              x.trs(),
              x.matrix(),
              x.mesh() < 0 ? -1 : x.mesh() + a.meshes().size(),
              x.camera(),
              x.light(),
              -1,
              null,
              null,
              true,
              x.cameraSees()));
    }
    for (Mesh x : b.meshes()) {
      Primitive p = x.primitives().get(0);
      meshes.add(
          new Mesh(
              x.name(),
              List.of(
                  new Primitive(
                      p.positions(),
                      p.normals(),
                      null,
                      new float[0][],
                      null,
                      p.indices(),
                      p.material() + m))));
    }
    materials.addAll(b.materials());
    for (Animation x : b.animations()) {
      List<Value> values = new ArrayList<>();
      for (Value v : x.values()) {
        int i = v.property().owner() == Property.Owner.MATERIAL ? v.index() + m : v.index();
        values.add(new Value(v.property(), i, null, v.curve()));
      }
      animations.add(
          new Animation(
              x.name(),
              x.channels().stream()
                  .map(c -> new Channel(c.node() + n, c.path(), c.curve()))
                  .toList(),
              values));
    }
    List<Camera> cameras = b.cameras();
    List<Light> lights = b.lights();
    return new Scene(
        a.name(),
        nodes,
        meshes,
        materials,
        List.of(),
        cameras,
        lights,
        animations,
        a.environment().sky());
  }

  private static float[] render(Scene s, double seconds) {
    return new RenderScene(s, Workers.CALLER)
        .frame("eye", seconds, 24, 16, RenderSettings.of(4, 1))
        .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE)
        .find("R");
  }

  @Test
  void readBackItRendersTheSameBits() throws Exception {
    Scene rigged = RigScene.apply(base(), rig().rig(), null).scene();
    Path file = folder.resolve("rig.glb");
    Files.write(file, RigFile.write(rigged, base().nodes().size(), null));
    ImportedScene read = SceneImporter.load(file);
    assertEquals(List.of(), read.report().missing());
    Scene again = joined(base(), read.scene());
    for (double t : new double[] {0, 0.25, 0.7, 1}) {
      float[] expected = render(rigged, t);
      double sum = 0;
      for (float v : expected) {
        sum += v;
      }
      assertEquals(true, sum > 1, "there is something to see");
      assertArrayEquals(expected, render(again, t), "at " + t + " s");
    }
  }
}
