package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Supplier;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;
import posada.core.geometry.Affine;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.image.NameHash;
import posada.core.motion.Pose;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Scene;
import posada.core.settings.Filter;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.gltf.SceneImporter;

/** What is moved by its motion vectors lands where it is in the next frame. */
class MotionTest {
  private static final int WIDTH = 320;
  private static final int HEIGHT = 200;

  @TempDir Path folder;

  record Look(String camera, int frame, Supplier<byte[]> scene) {
    @Override
    public String toString() {
      return camera;
    }
  }

  static final java.util.List<Look> LOOKS =
      java.util.List.of(
          new Look("car-ride", 30, BuildScenes::larkspurPass),
          new Look("glide", 12, BuildScenes::ticketHall),
          new Look("gear-train", 7, BuildScenes::windingEngine));

  /** A frame's points in the space of the object that each belongs to. */
  private static final class Points {
    final FrameImage image;
    final float[] names;
    final Vec3[] own = new Vec3[WIDTH * HEIGHT];

    Points(RenderScene ready, Look l, int frame) {
      Moment moment = new Moment(frame, frame / 24.0, 24);
      RenderSettings settings =
          RenderSettings.of(1, 0)
              .with(new Filter(Filter.Shape.BOX, 0.5))
              .with(
                  EnumSet.of(
                      Pass.POSITION,
                      Pass.DEPTH,
                      Pass.MOTION_NEXT,
                      Pass.MOTION_PREVIOUS,
                      Pass.MATTE_OBJECTS));
      image =
          ready
              .frame(l.camera, moment, WIDTH, HEIGHT, settings, Workers.CALLER, Stop.NEVER, null)
              .render(1, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
      names = image.find("matte-objects00.R");
      Scene scene = ready.scene();
      Pose pose = Pose.at(scene, moment.seconds());
      Map<Float, Affine> toOwn = new HashMap<>();
      for (int i = 0; i < scene.nodes().size(); i++) {
        float name = NameHash.toFloat(NameHash.of(scene.nodes().get(i).name()));
        if (pose.world(i).invertible()) {
          toOwn.put(name, pose.world(i).inverse());
        }
      }
      float[] x = image.find("position.X"), y = image.find("position.Y");
      float[] z = image.find("position.Z");
      for (int i = 0; i < own.length; i++) {
        Affine a = toOwn.get(names[i]);
        own[i] = a == null ? null : a.point(new Vec3(x[i], y[i], z[i]));
      }
    }

    /** The point between four pixels, or null if they are not of one smooth surface. */
    Vec3 at(double px, double py, float name, double depth) {
      int x = (int) Math.floor(px - 0.5), y = (int) Math.floor(py - 0.5);
      if (x < 0 || y < 0 || x + 1 >= WIDTH || y + 1 >= HEIGHT) {
        return null;
      }
      double fx = px - 0.5 - x, fy = py - 0.5 - y;
      Vec3 sum = Vec3.ZERO;
      for (int k = 0; k < 4; k++) {
        int i = (y + (k >> 1)) * WIDTH + x + (k & 1);
        if (own[i] == null || names[i] != name) {
          return null;
        }
        double there = image.find("depth.Z")[i];
        if (Math.abs(there - depth) > 0.02 * depth) {
          return null;
        }
        double w = ((k & 1) == 0 ? 1 - fx : fx) * ((k >> 1) == 0 ? 1 - fy : fy);
        sum = sum.plus(own[i].times(w));
      }
      return sum;
    }
  }

  @ParameterizedTest
  @FieldSource("LOOKS")
  void aPointMovedByItsVectorIsThereInTheNextFrame(Look l) throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), l.scene().get());
    RenderScene ready = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    Points now = new Points(ready, l, l.frame);
    Points next = new Points(ready, l, l.frame + 1);
    float[] mx = now.image.find("motion-next.X"), my = now.image.find("motion-next.Y");
    float[] bx = next.image.find("motion-previous.X"), by = next.image.find("motion-previous.Y");
    float[] depth = now.image.find("depth.Z");
    int seen = 0;
    int off = 0;
    double moved = 0;
    for (int i = 0; i < mx.length; i++) {
      if (now.own[i] == null) {
        continue;
      }
      double px = i % WIDTH + 0.5 + mx[i], py = i / WIDTH + 0.5 + my[i];
      Vec3 there = next.at(px, py, now.names[i], depth[i]);
      if (there == null) {
        continue;
      }
      seen++;
      moved = Math.max(moved, Math.hypot(mx[i], my[i]));
      int to = (int) py * WIDTH + (int) px;
      // The way there and the way back are the same, but for the fraction of a pixel between.
      boolean back = Math.hypot(bx[to] - mx[i], by[to] - my[i]) < 1;
      double pixel = footprint(ready, l, depth[i]);
      off += back && there.minus(now.own[i]).length() < pixel ? 0 : 1;
    }
    assertTrue(moved > 1, "the look moves by " + moved + " pixels");
    assertTrue(seen > mx.length / 4, seen + " points are on smooth surfaces");
    assertEquals(0, off / (double) seen, 0.003);
  }

  private static double footprint(RenderScene ready, Look l, double depth) {
    Scene s = ready.scene();
    int camera = s.nodes().get(s.cameraNode(l.camera)).camera();
    return 2 * Math.tan(s.cameras().get(camera).verticalAngle() / 2) / HEIGHT * depth;
  }
}
