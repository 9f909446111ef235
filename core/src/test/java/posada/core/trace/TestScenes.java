package posada.core.trace;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;

/** Small scenes with known answers. */
public final class TestScenes {
  public final List<Node> nodes = new ArrayList<>();
  public final List<Mesh> meshes = new ArrayList<>();
  public final List<Material> materials = new ArrayList<>();
  public final List<Light> lights = new ArrayList<>();
  public final List<Camera> cameras = new ArrayList<>();
  public Sky sky = Sky.NONE;

  /** Adds a square of this half side around a centre; it faces along +Y, or -Y if turned over. */
  public TestScenes square(Vec3 centre, double half, boolean down, Material m) {
    float h = (float) half;
    float[] p = {-h, 0, -h, -h, 0, h, h, 0, h, h, 0, -h};
    int[] up = {0, 1, 2, 0, 2, 3};
    int[] turned = {0, 2, 1, 0, 3, 2};
    return mesh(p, down ? turned : up, m, new Trs(centre, Quat.IDENTITY, Vec3.ONE));
  }

  public TestScenes mesh(float[] positions, int[] indices, Material m, Trs at) {
    materials.add(m);
    Primitive p =
        new Primitive(positions, null, null, new float[0][], null, indices, materials.size() - 1);
    meshes.add(new Mesh("mesh", List.of(p)));
    nodes.add(new Node("object-" + nodes.size(), -1, at, null, meshes.size() - 1, -1, -1));
    return this;
  }

  /** Adds a flat polygon fanned out from its first corner; it shines to its front. */
  public TestScenes polygon(Vec3[] corners, Material m) {
    float[] p = new float[corners.length * 3];
    int[] t = new int[(corners.length - 2) * 3];
    for (int i = 0; i < corners.length; i++) {
      p[i * 3] = (float) corners[i].x();
      p[i * 3 + 1] = (float) corners[i].y();
      p[i * 3 + 2] = (float) corners[i].z();
    }
    for (int i = 0; i + 2 < corners.length; i++) {
      t[i * 3 + 1] = i + 1;
      t[i * 3 + 2] = i + 2;
    }
    return mesh(p, t, m, Trs.IDENTITY);
  }

  /** Adds a closed box with outward faces. */
  public TestScenes box(Vec3 centre, Vec3 half, Material m) {
    float[] p = new float[24];
    for (int i = 0; i < 8; i++) {
      p[i * 3] = (float) ((i & 1) == 0 ? -half.x() : half.x());
      p[i * 3 + 1] = (float) ((i & 2) == 0 ? -half.y() : half.y());
      p[i * 3 + 2] = (float) ((i & 4) == 0 ? -half.z() : half.z());
    }
    int[] t = {
      0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1,
      3, 5, 3, 7, 5
    };
    return mesh(p, t, m, new Trs(centre, Quat.IDENTITY, Vec3.ONE));
  }

  public TestScenes light(Light l, Vec3 at, Vec3 towards) {
    lights.add(l);
    nodes.add(
        new Node(
            l.name(),
            -1,
            new Trs(at, Quat.looking(towards, new Vec3(1, 0, 0)), Vec3.ONE),
            null,
            -1,
            -1,
            lights.size() - 1));
    return this;
  }

  public TestScenes camera(Vec3 eye, Vec3 target, double degrees) {
    cameras.add(new Camera("eye", Math.toRadians(degrees), 0));
    nodes.add(
        new Node(
            "eye",
            -1,
            new Trs(eye, Quat.looking(target.minus(eye), new Vec3(0, 0, -1)), Vec3.ONE),
            null,
            -1,
            cameras.size() - 1,
            -1));
    return this;
  }

  public TestScenes sky(Sky s) {
    sky = s;
    return this;
  }

  public Scene scene() {
    return new Scene("test", nodes, meshes, materials, List.of(), cameras, lights, List.of(), sky);
  }

  /** A white diffuse material without any reflection: radiance is irradiance over pi. */
  public static Material chalk() {
    return Material.named("chalk")
        .specular(new Material.Specular(1.5f, 0, null, new float[] {1, 1, 1}, null))
        .build();
  }

  public static Material lamp(double radiance) {
    float r = (float) radiance;
    return Material.plain("lamp", 0, 0, 0, 0, 1).emitting(r, r, r);
  }

  public FrameImage render(int size, RenderSettings settings, Workers workers) {
    RenderScene ready = new RenderScene(scene(), workers);
    return ready
        .frame(
            "eye",
            0,
            size,
            size,
            settings.with(EnumSet.complementOf(EnumSet.of(Pass.TIME, Pass.OWN))))
        .render(64, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  /** Returns the mean of a channel; fails on anything that is no finite number of 0 or more. */
  public static double mean(FrameImage image, String channel) {
    double sum = 0;
    float[] d = image.find(channel);
    for (float v : d) {
      if (!(v >= 0 && v < Float.POSITIVE_INFINITY)) {
        throw new AssertionError(channel + " holds " + v);
      }
      sum += v;
    }
    return sum / d.length;
  }

  public static RenderSettings settings(int samples, int bounces, double indirectClamp, int seed) {
    return RenderSettings.of(samples, seed).withBounces(bounces, indirectClamp);
  }

  public static Material diffuse(double albedo) {
    return Material.plain("diffuse", (float) albedo, (float) albedo, (float) albedo, 0, 1);
  }
}
