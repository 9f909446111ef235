package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Environment;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;

/** A floor, and two boxes below a carriage that moves from frame 12 to frame 24. */
class BakeCheckTest {
  private static final List<Moment> MOMENTS =
      IntStream.rangeClosed(10, 26).mapToObj(f -> new Moment(f, f / 24.0, 24)).toList();

  private static RenderScene scene() {
    TestScenes t = new TestScenes();
    t.nodes.add(new Node("carriage", -1, Trs.IDENTITY, null, -1, -1, -1));
    t.square(Vec3.ZERO, 5, false, TestScenes.chalk())
        .box(new Vec3(1, 1, 0), new Vec3(0.5, 0.5, 0.5), TestScenes.chalk())
        .box(new Vec3(3, 1, 0), new Vec3(0.5, 0.5, 0.5), TestScenes.chalk())
        .camera(new Vec3(0, 8, 0), Vec3.ZERO, 40);
    for (int i : new int[] {2, 3}) {
      Node n = t.nodes.get(i);
      t.nodes.set(i, new Node(n.name(), 0, n.trs(), null, n.mesh(), -1, -1));
    }
    Animation go =
        new Animation(
            "go",
            List.of(
                new Animation.Channel(
                    0,
                    Animation.Path.TRANSLATION,
                    Animation.Interpolation.LINEAR,
                    new float[] {0.5f, 1},
                    new float[] {0, 0, 0, 2, 0, 0})),
            List.of());
    Scene s =
        new Scene(
            "test",
            t.nodes,
            t.meshes,
            t.materials,
            List.of(),
            t.cameras,
            List.of(),
            List.of(go),
            List.of(),
            Environment.NONE);
    return new RenderScene(s, Workers.CALLER);
  }

  @Test
  void whatMovesIsToldByWhatCarriesIt() {
    BakeCheck c = BakeCheck.of(scene(), MOMENTS, RenderSettings.DEFAULT);
    assertEquals(List.of("carriage"), c.movers());
    assertEquals(List.of("carriage with 2 objects moves or changes in frames 13-26"), c.why());
  }

  @Test
  void withoutItOnlyLightGroupsStandInTheWay() {
    RenderSettings s = RenderSettings.DEFAULT;
    RenderScene scene = scene();
    List<String> movers = List.of("carriage");
    RenderSettings without = s.with(LayerPlan.without(s.layer(), movers, scene.scene()).get(0));
    assertEquals(List.of(), BakeCheck.of(scene, MOMENTS, without).why());
    RenderSettings groups = without.with(Set.of(Pass.BEAUTY, Pass.LIGHT_GROUPS));
    assertEquals(
        List.of(
            "light groups cannot be told apart in baked light: leave out the pass light-groups"),
        BakeCheck.of(scene(), MOMENTS, groups).why());
  }

  /** Measured in ticket-hall, seconds: docs/baked-light.md. */
  @Test
  void aBakeIsToldFromASmallOneWithinAQuarter() {
    double small = 33.2;
    assertEquals(109.3, BakeTime.of(small, 160 * 90, 1, 480 * 270, 1), 0.25 * 109.3);
    assertEquals(89.4, BakeTime.of(small, 160 * 90, 1, 320 * 180, 3), 0.25 * 89.4);
    assertEquals(2.5, BakeTime.toNoise(10, 0.05, 0.1), 1e-12, "half as clean in a quarter");
  }
}
