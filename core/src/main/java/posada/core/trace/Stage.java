package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Vec3;
import posada.core.light.AreaLight;
import posada.core.light.LightSet;
import posada.core.light.PunctualLight;
import posada.core.light.SkyLight;
import posada.core.motion.Pose;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/** A scene at one time, ready to be traced: placed meshes, lights, cameras. Immutable. */
public final class Stage {
  private final Scene scene;
  private final Pose pose;
  private final InstanceBvh top;
  private final LightSet lights;
  private final boolean seeThrough;
  final Instance[] instances;

  /** One placed mesh; matrices in single precision, rows of 3 by 4. */
  static final class Instance {
    final MeshGeometry mesh;
    final float[] toWorld;

    /** Inverse transpose of the linear part, rows of 3 by 3, for normals. */
    final float[] normal;

    /** The light that each primitive is, as number of the area light, or -1. */
    final int[] areaLight;

    /** The largest coordinate of a corner in world space, metres: the scale of rounding errors. */
    final float extent;

    Instance(MeshGeometry mesh, Affine world) {
      this.mesh = mesh;
      toWorld = world.toFloats();
      double[] inv = world.inverse().m();
      normal = new float[9];
      for (int i = 0; i < 3; i++) {
        for (int j = 0; j < 3; j++) {
          normal[i * 3 + j] = (float) (inv[j * 4 + i] * Math.signum(world.determinant()));
        }
      }
      areaLight = new int[mesh.primitives.size()];
      java.util.Arrays.fill(areaLight, -1);
      Bounds b = new Bounds();
      b.add(mesh.bounds, world);
      Vec3 lo = b.min();
      Vec3 hi = b.max();
      extent = (float) Math.max(Math.max(hi.x() - lo.x(), hi.y() - lo.y()), hi.z() - lo.z());
    }
  }

  /**
   * Places a scene's meshes and lights.
   *
   * @param geometry built from the same scene
   * @param seconds time of the frame
   */
  public Stage(Scene scene, Geometry geometry, double seconds) {
    this.scene = scene;
    pose = Pose.at(scene, seconds);
    List<InstanceBvh.Placed> placed = new ArrayList<>();
    List<Instance> list = new ArrayList<>();
    List<AreaLight> areas = new ArrayList<>();
    List<PunctualLight> punctual = new ArrayList<>();
    boolean through = false;
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      Affine world = pose.world(i);
      if (n.light() >= 0) {
        Light l = scene.lights().get(n.light());
        if (l.intensity() > 0) {
          punctual.add(new PunctualLight(l, world));
        }
      }
      MeshGeometry mesh = n.mesh() < 0 ? null : geometry.mesh(n.mesh());
      if (mesh == null || !world.invertible()) {
        continue; // A node scaled to nothing is a common way to hide it.
      }
      Instance instance = new Instance(mesh, world);
      for (int p = 0; p < mesh.primitives.size(); p++) {
        Primitive primitive = mesh.primitives.get(p);
        Material m = scene.materials().get(primitive.material());
        through |= m.seeThrough();
        if (m.emits() && !m.unlit()) {
          AreaLight a =
              new AreaLight(primitive, world, list.size(), p, luminance(m), m.doubleSided());
          if (a.usable()) {
            instance.areaLight[p] = areas.size();
            areas.add(a);
          }
        }
      }
      placed.add(new InstanceBvh.Placed(mesh.bvh, mesh.bounds, List.of(world)));
      list.add(instance);
    }
    instances = list.toArray(new Instance[0]);
    top = new InstanceBvh(placed, Workers.CALLER);
    lights = new LightSet(punctual, areas, new SkyLight(scene.sky()));
    seeThrough = through;
  }

  private static float luminance(Material m) {
    float[] e = m.emission();
    return 0.2126f * e[0] + 0.7152f * e[1] + 0.0722f * e[2];
  }

  InstanceBvh top() {
    return top;
  }

  LightSet lights() {
    return lights;
  }

  boolean seeThrough() {
    return seeThrough;
  }

  Scene scene() {
    return scene;
  }

  /**
   * Returns the view through a camera.
   *
   * @param cameraNode number of a node that holds a camera
   */
  public View view(int cameraNode, int width, int height) {
    Camera c = scene.cameras().get(scene.nodes().get(cameraNode).camera());
    return new View(c, pose.world(cameraNode), width, height);
  }
}
