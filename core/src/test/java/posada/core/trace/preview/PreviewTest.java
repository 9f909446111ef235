package posada.core.trace.preview;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Ray;
import posada.core.geometry.Vec3;
import posada.core.image.DisplayImage;
import posada.core.image.SrgbTransfer;
import posada.core.parallel.Workers;
import posada.core.scene.AlphaMode;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.DaySky;
import posada.core.scene.Environment;
import posada.core.scene.Light;
import posada.core.scene.Light.Kind;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Skies;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.Preview;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/** Quick pictures against rays and closed forms. */
class PreviewTest {
  private static final int W = 96, H = 64;
  private static final Material.Transmission CLEAR =
      new Material.Transmission(1, null, 0, new float[] {1, 1, 1}, Float.POSITIVE_INFINITY);
  private static final Vec3 DOWN = new Vec3(0, -1, 0);
  private static final List<Moment> ONE = List.of(Moment.at(0));

  private static Preview preview(Preview.Style style, Preview.Kind... without) {
    return new Preview(style, 1, 0.6, Set.of(without), 0, 0);
  }

  private static DisplayImage draw(Scene s, Preview p) {
    return new Previewer(
            new RenderScene(s, Workers.CALLER),
            "eye",
            ONE,
            W,
            H,
            RenderSettings.DEFAULT,
            p,
            Workers.CALLER)
        .draw(ONE.get(0), Workers.CALLER);
  }

  private static int at(DisplayImage image, int x, int y) {
    return image.samples()[(y * image.width() + x) * 3] & 0xffff;
  }

  /** Triangles of all sizes around the camera, many of them partly behind it. */
  private static TestScenes cloud(int count) {
    Random random = new Random(7);
    float[] p = new float[count * 9];
    int[] t = new int[count * 3];
    for (int i = 0; i < count; i++) {
      double size = Math.pow(10, -1.5 + 2 * random.nextDouble());
      for (int k = 0; k < 3; k++) {
        p[i * 9 + k] = (float) (random.nextGaussian() * 3);
      }
      for (int c = 1; c < 3; c++) {
        for (int k = 0; k < 3; k++) {
          p[i * 9 + c * 3 + k] = p[i * 9 + k] + (float) (random.nextGaussian() * size);
        }
      }
    }
    for (int i = 0; i < t.length; i++) {
      t[i] = i;
    }
    return new TestScenes().mesh(p, t, TestScenes.chalk(), Trs.IDENTITY);
  }

  @Test
  void projectingFindsWhatRaysMeet() {
    Scene s = cloud(600).camera(new Vec3(0.3, 0.2, 0.1), new Vec3(2, 1, -3), 70).scene();
    RenderScene ready = new RenderScene(s, Workers.CALLER);
    Stage stage = ready.placed(ONE.get(0), RenderSettings.DEFAULT, new BitSet(), Workers.CALLER);
    View view = stage.view(s.cameraNode("eye"), W, H, RenderSettings.DEFAULT.lens());
    Projector seen = new Projector(view);
    seen.project(stage, view);
    Ray ray = new Ray();
    View.Place place = new View.Place();
    SurfacePoint point = new SurfacePoint();
    int met = 0;
    int other = 0;
    for (int i = 0; i < W * H; i++) {
      view.aim(i % W + 0.5f, i / W + 0.5f, 0, 0, 0, place, ray);
      stage.top().intersect(ray);
      if (!ray.hit() || seen.instance(i) < 0 || seen.triangle(i) != ray.triangle) {
        // Both may take a middle on an edge for either side.
        other += ray.hit() != seen.instance(i) >= 0 || ray.hit() ? 1 : 0;
        continue;
      }
      met++;
      point.fill(stage, ray, 0);
      assertEquals(view.depth(point.x, point.y, point.z, 0, place), seen.depth(i), 1e-3);
      assertEquals(ray.u, seen.u(i), 2e-3);
      assertEquals(ray.v, seen.v(i), 2e-3);
      assertEquals(point.front, seen.front(i));
    }
    assertTrue(met > W * H / 2, "only " + met + " pixels see something");
    assertTrue(other <= 4, other + " pixels differ");
  }

  @Test
  void aPlaneIsLitByItsAngleToTheLightAndNothingElse() {
    // Over the left shoulder of a camera that looks straight down: (-0.5, 0.7, 0.6) turned.
    Scene s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 10, 0), Vec3.ZERO, 40)
            .scene();
    double side = 0.6 / Math.sqrt(0.25 + 0.49 + 0.36);
    double light = 0.3 + 0.12 + 0.62 * side + 0.12;
    assertEquals(
        SrgbTransfer.encode(0.5 * light),
        at(draw(s, preview(Preview.Style.SHADED)), W / 2, H / 2) / 65535.0,
        2e-3);
    assertEquals(
        SrgbTransfer.encode(0.5 * light),
        at(draw(s, preview(Preview.Style.CLAY)), W / 2, H / 2) / 65535.0,
        2e-3);
    assertEquals(
        SrgbTransfer.encode(0.5 * 0.9),
        at(draw(s, preview(Preview.Style.OUTLINED)), W / 2, H / 2) / 65535.0,
        2e-3);
  }

  /** The twentieth of March where the equator meets the first meridian. */
  private static DaySky day(double hours) {
    return Skies.of(DaySky.Model.PHYSICAL, 0, 0, LocalDate.of(2026, 3, 20), hours, 0);
  }

  /**
   * The strongest parallel light is what shades, wherever it stands; a sun that is up goes first.
   */
  @Test
  void theStrongestParallelLightOrTheSunShades() {
    TestScenes t =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 10, 0), Vec3.ZERO, 40);
    double over = Math.toRadians(60);
    Vec3 low = new Vec3(Math.sin(over), -Math.cos(over), 0);
    float[] white = {1, 1, 1};
    double none = Double.POSITIVE_INFINITY;
    t.light(new Light("weak", Kind.DIRECTIONAL, white, 1, none, 0, 0, 0), Vec3.ZERO, DOWN);
    t.light(new Light("strong", Kind.DIRECTIONAL, white, 5, none, 0, 0, 0), Vec3.ZERO, low);
    t.light(new Light("bulb", Kind.POINT, white, 90, none, 0, 0, 0), new Vec3(0, 3, 0), DOWN);
    double light = 0.3 + 0.12 + 0.62 * Math.cos(over) + 0.12;
    assertEquals(
        SrgbTransfer.encode(0.5 * light),
        at(draw(t.scene(), preview(Preview.Style.SHADED)), W / 2, H / 2) / 65535.0,
        2e-3);
    // Noon of an equinox on the equator, local time: the sun is overhead.
    Scene noon = t.scene().withEnvironment(new Environment(Sky.NONE, null, day(12), new float[3]));
    double overhead = 0.3 + 0.12 + 0.62 + 0.12;
    assertEquals(
        SrgbTransfer.encode(0.5 * overhead),
        at(draw(noon, preview(Preview.Style.SHADED)), W / 2, H / 2) / 65535.0,
        5e-3);
    Scene midnight =
        t.scene().withEnvironment(new Environment(Sky.NONE, null, day(0), new float[3]));
    assertEquals(
        SrgbTransfer.encode(0.5 * light),
        at(draw(midnight, preview(Preview.Style.SHADED)), W / 2, H / 2) / 65535.0,
        2e-3);
  }

  @Test
  void contactDarkensAFoldAndNotTheOpen() {
    TestScenes t =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .box(new Vec3(0, 1, 0), new Vec3(1, 1, 1), TestScenes.diffuse(0.5))
            .camera(new Vec3(6, 4, 6), Vec3.ZERO, 40);
    DisplayImage with = draw(t.scene(), preview(Preview.Style.SHADED));
    DisplayImage flat = draw(t.scene(), new Preview(Preview.Style.SHADED, 1, 0, Set.of(), 0, 0));
    assertEquals(at(flat, 4, H - 4), at(with, 4, H - 4));
    int darker = 0;
    for (int i = 0; i < W * H; i++) {
      int a = at(with, i % W, i / W), b = at(flat, i % W, i / W);
      assertTrue(a <= b);
      darker += a < 0.97 * b ? 1 : 0;
    }
    assertTrue(darker > 40 && darker < W * H / 4, darker + " pixels are darker");
  }

  @Test
  void depthIsTheSameStepForTheSameRatio() {
    Scene s =
        new TestScenes()
            .square(new Vec3(0, 0, 0), 1, false, TestScenes.chalk())
            .square(new Vec3(-6, -10, 0), 3, false, TestScenes.chalk())
            .square(new Vec3(22, -30, 0), 9, false, TestScenes.chalk())
            .camera(new Vec3(0, 10, 0), Vec3.ZERO, 60)
            .scene();
    DisplayImage d = draw(s, new Preview(Preview.Style.DEPTH, 1, 0, Set.of(), 10, 40));
    assertEquals(65535, at(d, W / 2, H / 2), 40);
    assertEquals(65535 * (1 - 0.46), at(d, 31, H / 2), 40);
    assertEquals(65535 * 0.08, at(d, 78, H / 2), 40);
    assertEquals(0, at(d, 0, 0));
    // Found by itself, nearest and farthest are what is seen.
    DisplayImage found = draw(s, preview(Preview.Style.DEPTH));
    assertArrayEquals(d.samples(), found.samples());
  }

  @Test
  void kindsAreLeftOut() {
    TestScenes t =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, TestScenes.chalk())
            .square(Vec3.ZERO, 1, false, TestScenes.lamp(3))
            .square(
                Vec3.ZERO,
                1,
                false,
                Material.named("pane").roughness(0).transmission(CLEAR).build())
            .square(Vec3.ZERO, 1, false, Material.named("leaf").alpha(AlphaMode.MASK, 0.5f).build())
            .square(Vec3.ZERO, 1, false, TestScenes.chalk());
    t.nodes.add(new Node("copy", -1, Trs.IDENTITY, null, 4, -1, -1));
    t.nodes.add(new Node("carrier", -1, Trs.IDENTITY, null, -1, -1, -1));
    t.nodes.add(new Node("carried", 6, Trs.IDENTITY, null, 0, -1, -1));
    Animation a =
        new Animation(
            "ride",
            List.of(
                new Animation.Channel(
                    6,
                    Animation.Path.TRANSLATION,
                    Animation.Interpolation.LINEAR,
                    new float[] {0, 1},
                    new float[] {0, 0, 0, 1, 0, 0})));
    Scene s =
        new Scene(
            "test",
            t.nodes,
            t.meshes,
            t.materials,
            List.of(),
            List.of(),
            List.of(),
            List.of(a),
            t.sky);
    PreviewKinds kinds = new PreviewKinds(s, null);
    assertEquals(set(1), kinds.of(EnumSet.of(Preview.Kind.GLOWING)));
    assertEquals(set(2), kinds.of(EnumSet.of(Preview.Kind.GLASS)));
    assertEquals(set(3), kinds.of(EnumSet.of(Preview.Kind.CUT_OUT)));
    assertEquals(set(0, 4, 5, 7), kinds.of(EnumSet.of(Preview.Kind.COPIES)));
    assertEquals(set(7), kinds.of(EnumSet.of(Preview.Kind.MOVING)));
    assertEquals(set(0, 1, 2, 3, 4, 5), kinds.of(EnumSet.of(Preview.Kind.STANDING)));
    assertEquals(set(), new PreviewKinds(s, Set.of()).of(EnumSet.of(Preview.Kind.MOVING)));
    assertEquals(set(1, 3), kinds.of(EnumSet.of(Preview.Kind.GLOWING, Preview.Kind.CUT_OUT)));
  }

  private static BitSet set(int... bits) {
    BitSet b = new BitSet();
    for (int i : bits) {
      b.set(i);
    }
    return b;
  }

  @Test
  void panesAreLookedThroughAndWhatIsLeftOutIsNotThere() {
    Material pane = Material.named("pane").roughness(0).transmission(CLEAR).build();
    TestScenes t =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 10, 0), Vec3.ZERO, 40);
    Preview shaded = new Preview(Preview.Style.SHADED, 1, 0, Set.of(), 0, 0);
    double bare = SrgbTransfer.decode(at(draw(t.scene(), shaded), W / 2, H / 2) / 65535.0);
    t.square(new Vec3(0, 5, 0), 1, false, pane);
    double behind = SrgbTransfer.decode(at(draw(t.scene(), shaded), W / 2, H / 2) / 65535.0);
    assertEquals(0.9 * bare, behind, 1e-3);
    Preview without = new Preview(Preview.Style.SHADED, 1, 0, Set.of(Preview.Kind.GLASS), 0, 0);
    assertEquals(
        bare, SrgbTransfer.decode(at(draw(t.scene(), without), W / 2, H / 2) / 65535.0), 1e-4);
  }

  @Test
  void withoutPerspectiveRaysAreFollowed() {
    TestScenes t = new TestScenes().square(Vec3.ZERO, 1, false, TestScenes.diffuse(0.5));
    t.camera(new Vec3(0, 10, 0), Vec3.ZERO, 40);
    t.cameras.set(0, new Camera("eye", 0, 2));
    DisplayImage d = draw(t.scene(), preview(Preview.Style.OUTLINED));
    // Two of four metres are the square.
    assertEquals(65535 * SrgbTransfer.encode(0.45), at(d, W / 2, H / 4 + 2), 200);
    assertTrue(Math.abs(at(d, W / 2, H / 4 - 2) - 65535 * SrgbTransfer.encode(0.45)) > 1000);
  }

  @Test
  void moreRaysSmoothEdgesAndAnyNumberOfThreadsDrawsTheSame() {
    Scene s =
        new TestScenes()
            .box(Vec3.ZERO, new Vec3(1, 1, 1), TestScenes.diffuse(0.5))
            .camera(new Vec3(4, 3, 5), Vec3.ZERO, 40)
            .scene();
    Preview fine = new Preview(Preview.Style.SHADED, 9, 0.6, Set.of(), 0, 0);
    DisplayImage image = draw(s, fine);
    assertEquals(W, image.width());
    assertEquals(H, image.height());
    var pool = java.util.concurrent.Executors.newFixedThreadPool(3);
    try {
      Workers three = new Workers(pool, 3);
      DisplayImage again =
          new Previewer(
                  new RenderScene(s, three), "eye", ONE, W, H, RenderSettings.DEFAULT, fine, three)
              .draw(ONE.get(0), three);
      assertArrayEquals(image.samples(), again.samples());
    } finally {
      pool.shutdownNow();
    }
    assertThrows(
        IllegalArgumentException.class,
        () ->
            new Previewer(
                new RenderScene(s, Workers.CALLER),
                "eye",
                ONE,
                8000,
                8000,
                RenderSettings.DEFAULT,
                fine,
                Workers.CALLER));
  }

  @Test
  void backsAreLitFromTheSideThatIsSeen() {
    TestScenes t =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .square(new Vec3(0, 5, 0), 1, true, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 10, 0), Vec3.ZERO, 40);
    Preview p = new Preview(Preview.Style.SHADED, 1, 0, Set.of(), 0, 0);
    int back = at(draw(t.scene(), p), W / 2, H / 2);
    t.nodes.remove(1);
    assertEquals(at(draw(t.scene(), p), W / 2, H / 2), back);
  }
}
