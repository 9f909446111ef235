package posada.bench;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import picocli.CommandLine.Command;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.JoinedMeshes;
import posada.core.geometry.Quat;
import posada.core.geometry.Ray;
import posada.core.geometry.TriangleBvh;
import posada.core.geometry.Vec3;
import posada.core.motion.Pose;
import posada.core.parallel.Workers;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;

/** What two levels cost, and what a frame of an animation builds. */
@Command(name = "trees", description = "Measures the hierarchies of placed and of moving meshes.")
final class TreesCommand {
  private static final int ROUNDS = 15;

  private TreesCommand() {}

  /** One mesh of triangles as the hierarchy takes them. */
  private record Soup(float[] positions, int[] indices) {
    Bounds bounds() {
      Bounds b = new Bounds();
      b.addAll(positions);
      return b;
    }

    InstanceBvh.Placed placed(int number, TriangleBvh bvh, Affine at) {
      return new InstanceBvh.Placed(number, bvh, bounds(), List.of(at));
    }
  }

  private static Soup soup(Mesh mesh) {
    return joined(
        mesh.primitives().stream().map(p -> new Soup(p.positions(), p.indices())).toList());
  }

  @Command(description = "Placed meshes over the same triangles in one mesh, by CPU time.")
  int levels() throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      Scene scene = DemoScenes.load(d);
      Pose pose = Pose.at(scene, 1, null);
      List<Soup> parts = new ArrayList<>();
      for (int i = 0; i < scene.nodes().size(); i++) {
        Node n = scene.nodes().get(i);
        if (n.mesh() < 0) {
          continue;
        }
        for (Affine c : n.copies() == null ? List.of(Affine.IDENTITY) : n.copies()) {
          parts.add(moved(soup(scene.meshes().get(n.mesh())), pose.world(i).times(c)));
        }
      }
      Soup all = joined(parts);
      TriangleBvh flat = new TriangleBvh(all.positions(), all.indices(), Workers.CALLER);
      InstanceBvh two =
          new RenderScene(scene, Workers.CALLER)
              .hierarchy(Moment.at(1), RenderSettings.DEFAULT, Workers.CALLER);
      float[] rays = rays(scene, d.camera(), pose, flat);
      double[] ratio = new double[ROUNDS];
      for (int i = -5; i < ROUNDS; i++) {
        double one = Figures.cpu(() -> trace(rays, flat::intersect));
        double both = Figures.cpu(() -> trace(rays, two::intersect));
        if (i >= 0) {
          ratio[i] = both / one;
        }
      }
      System.out.printf(
          "%s: %d placed, %d triangles in one mesh%n",
          d.name(), parts.size(), all.indices().length / 3);
      Figures.print(d.name() + ": two levels over one", Figures.median(ratio), 1.25, false);
    }
    return 0;
  }

  private static Soup moved(Soup s, Affine a) {
    float[] p = new float[s.positions().length];
    for (int i = 0; i < p.length; i += 3) {
      Vec3 v = a.point(new Vec3(s.positions()[i], s.positions()[i + 1], s.positions()[i + 2]));
      p[i] = (float) v.x();
      p[i + 1] = (float) v.y();
      p[i + 2] = (float) v.z();
    }
    return new Soup(p, s.indices());
  }

  private static Soup joined(List<Soup> parts) {
    float[] p = new float[parts.stream().mapToInt(s -> s.positions().length).sum()];
    int[] q = new int[parts.stream().mapToInt(s -> s.indices().length).sum()];
    int at = 0;
    int to = 0;
    for (Soup s : parts) {
      System.arraycopy(s.positions(), 0, p, at, s.positions().length);
      for (int i : s.indices()) {
        q[to++] = i + at / 3;
      }
      at += s.positions().length;
    }
    return new Soup(p, q);
  }

  /** Rays as a path tracer shoots them: through a camera's pixels, then on from what they hit. */
  private static float[] rays(Scene scene, String camera, Pose pose, TriangleBvh flat) {
    int wide = 320;
    int high = 200;
    Affine eye = pose.world(scene.cameraNode(camera));
    Vec3 from = eye.point(Vec3.ZERO);
    double slope = 0.5;
    Random random = new Random(3);
    float[] out = new float[wide * high * 12];
    int n = 0;
    Ray r = new Ray();
    for (int i = 0; i < wide * high; i++) {
      double x = (2 * (i % wide + 0.5) / wide - 1) * slope * wide / high;
      double y = (1 - 2 * (i / wide + 0.5) / high) * slope;
      n = put(out, n, from, eye.vector(new Vec3(x, y, -1)).normalized());
      set(r, out, n - 6);
      flat.intersect(r);
      if (r.hit()) {
        Vec3 d = new Vec3(r.dx, r.dy, r.dz);
        Vec3 at = from.plus(d.times(r.tMax * (1 - 1e-5)));
        Vec3 on = new Vec3(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
        n = put(out, n, at, (on.dot(d) > 0 ? on.times(-1) : on).normalized());
      }
    }
    return java.util.Arrays.copyOf(out, n);
  }

  private static int put(float[] out, int at, Vec3 o, Vec3 d) {
    out[at] = (float) o.x();
    out[at + 1] = (float) o.y();
    out[at + 2] = (float) o.z();
    out[at + 3] = (float) d.x();
    out[at + 4] = (float) d.y();
    out[at + 5] = (float) d.z();
    return at + 6;
  }

  private static void set(Ray r, float[] q, int o) {
    r.set(q[o], q[o + 1], q[o + 2], q[o + 3], q[o + 4], q[o + 5], Float.POSITIVE_INFINITY);
  }

  private static void trace(float[] rays, java.util.function.Consumer<Ray> by) {
    Ray r = new Ray();
    for (int o = 0; o < rays.length; o += 6) {
      set(r, rays, o);
      by.accept(r);
    }
  }

  @Command(description = "What a frame of rigid and of bending objects builds, milliseconds.")
  int moving() throws Exception {
    Soup grid = grid(225);
    Figures.with(
        2,
        w -> {
          TriangleBvh rest = new TriangleBvh(grid.positions(), grid.indices(), w);
          double[] top = new double[ROUNDS];
          double[] anew = new double[ROUNDS];
          double[] refit = new double[ROUNDS];
          Random random = new Random(4);
          InstanceBvh.Shape before = null;
          for (int i = -20; i < ROUNDS; i++) {
            List<InstanceBvh.Placed> placed = drifting(grid, rest, i / 24.0);
            InstanceBvh.Shape last = before;
            InstanceBvh[] made = {null};
            top[Math.max(0, i)] =
                1e3
                    * Figures.wall(
                        () -> made[0] = new InstanceBvh(JoinedMeshes.NONE, placed, last, w));
            before = made[0].shape();
            anew[Math.max(0, i)] =
                1e3 * Figures.wall(() -> new InstanceBvh(JoinedMeshes.NONE, placed, null, w));
            Soup bent = waving(grid, random.nextDouble());
            refit[Math.max(0, i)] =
                1e3 * Figures.wall(() -> rest.moved(bent.positions(), null, bent.indices(), w));
          }
          Figures.print("top level of 10,000 moved, ms", Figures.median(top), 5, false);
          System.out.printf(Locale.ROOT, "the same built anew: %.1f ms%n", Figures.median(anew));
          Figures.print(
              "refit of " + grid.indices().length / 3 + " triangles, ms",
              Figures.median(refit),
              40,
              false);
        });
    return 0;
  }

  /** Meshes that each go their own way, up to 3 m a second. */
  private static List<InstanceBvh.Placed> drifting(Soup shape, TriangleBvh tree, double seconds) {
    Random random = new Random(9);
    List<InstanceBvh.Placed> placed = new ArrayList<>();
    for (int k = 0; k < 10_000; k++) {
      Vec3 from =
          new Vec3(
              random.nextDouble() * 1000, random.nextDouble() * 100, random.nextDouble() * 1000);
      Vec3 speed =
          new Vec3(
              random.nextDouble() * 6 - 3,
              random.nextDouble() * 6 - 3,
              random.nextDouble() * 6 - 3);
      Vec3 at = from.plus(speed.times(seconds));
      Affine a = new Trs(at, Quat.IDENTITY, new Vec3(0.2, 0.2, 0.2)).toAffine();
      placed.add(shape.placed(k, tree, a));
    }
    return placed;
  }

  private static Soup grid(int n) {
    float[] p = new float[n * n * 3];
    int[] q = new int[(n - 1) * (n - 1) * 6];
    for (int i = 0; i < n * n; i++) {
      p[i * 3] = i % n * 0.1f;
      p[i * 3 + 2] = i / n * 0.1f;
    }
    int to = 0;
    for (int y = 0; y < n - 1; y++) {
      for (int x = 0; x < n - 1; x++) {
        int a = y * n + x;
        for (int v : new int[] {a, a + n, a + 1, a + 1, a + n, a + n + 1}) {
          q[to++] = v;
        }
      }
    }
    return waving(new Soup(p, q), 0);
  }

  private static Soup waving(Soup s, double phase) {
    float[] p = s.positions().clone();
    for (int i = 0; i < p.length; i += 3) {
      p[i + 1] = (float) (Math.sin(p[i] * 0.7 + phase) + Math.cos(p[i + 2] * 0.5 + phase));
    }
    return new Soup(p, s.indices());
  }
}
