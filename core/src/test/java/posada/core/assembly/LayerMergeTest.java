package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.assembly.LayerMerge.How;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.LayerPlan;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;
import posada.core.settings.Layer.Rule;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.ObjectMap;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;

/** Two boxes on a floor under a sky: layers of them put together, against all rendered at once. */
class LayerMergeTest {
  private static final int SIZE = 32;

  private static final Scene SCENE =
      new TestScenes()
          .square(Vec3.ZERO, 50, false, TestScenes.chalk())
          .box(new Vec3(-1, 0.5, 0), new Vec3(0.5, 0.5, 0.5), TestScenes.diffuse(0.2))
          .box(new Vec3(0.8, 0.5, 0.6), new Vec3(0.5, 0.5, 0.5), TestScenes.diffuse(0.8))
          .sky(Sky.constant(0.2f))
          .light(
              new Light(
                  "lamp",
                  Light.Kind.POINT,
                  new float[] {1, 1, 1},
                  60,
                  Double.POSITIVE_INFINITY,
                  0,
                  1,
                  0),
              new Vec3(4, 4, 1),
              new Vec3(0, -1, 0))
          .camera(new Vec3(0, 3, 6), new Vec3(0, 0.5, 0), 40)
          .scene();

  private static final RenderScene READY = new RenderScene(SCENE, Workers.CALLER);

  private static Layer layer(String name, Role otherwise, Role role, String... match) {
    Layer m = Layer.MAIN;
    return new Layer(
        name,
        otherwise,
        List.of(new Rule(List.of(match), role, null, null, null)),
        m.material(),
        m.lights(),
        m.environment(),
        m.textures(),
        m.under(),
        m.region());
  }

  private static FrameImage render(Layer l, boolean background, int seed) {
    RenderSettings s = RenderSettings.of(64, seed).with(l).with(background);
    return READY
        .frame("eye", 0, SIZE, SIZE, s)
        .render(64, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static FrameImage merged(List<Layer> layers) {
    List<FrameImage> pictures = new ArrayList<>();
    for (Layer l : layers) {
      pictures.add(render(l, pictures.isEmpty(), 3));
    }
    return LayerMerge.merge(pictures, LayerMerge.ways(SCENE, layers));
  }

  private static double noise() {
    return LayerMerge.apart(render(Layer.MAIN, true, 2), render(Layer.MAIN, true, 1));
  }

  @Test
  void layersThatHoldEachOtherOutAreAddedAndGiveTheWhole() {
    List<Layer> all =
        List.of(
            layer("floor", Role.SEEN, Role.HOLDOUT, "object-1", "object-2"),
            layer("left", Role.HOLDOUT, Role.SEEN, "object-1"),
            layer("right", Role.HOLDOUT, Role.SEEN, "object-2"));
    assertEquals(List.of(How.OVER, How.ADD, How.ADD), LayerMerge.ways(SCENE, all));
    double apart = LayerMerge.apart(merged(all), render(Layer.MAIN, true, 1));
    assertTrue(apart < 1.2 * noise(), apart + " against " + noise());
  }

  @Test
  void whatIsNotHeldOutLiesOver() {
    List<Layer> all =
        List.of(
            layer("rest", Role.SEEN, Role.UNSEEN, "object-2"),
            layer("box", Role.HOLDOUT, Role.SEEN, "object-2"));
    assertEquals(List.of(How.OVER, How.OVER), LayerMerge.ways(SCENE, all));
    double apart = LayerMerge.apart(merged(all), render(Layer.MAIN, true, 1));
    assertTrue(apart < 1.2 * noise(), apart + " against " + noise());
  }

  @Test
  void aForgottenShadowIsFarFromTheWhole() {
    List<Layer> all =
        List.of(
            layer("rest", Role.SEEN, Role.LEFT_OUT, "object-2"),
            layer("box", Role.HOLDOUT, Role.SEEN, "object-2"));
    double apart = LayerMerge.apart(merged(all), render(Layer.MAIN, true, 1));
    assertTrue(apart > 1.5 * noise(), apart + " against " + noise());
  }

  @Test
  void objectsAreFoundWhereTheyAreSeen() {
    ObjectMap map =
        ObjectMap.of(
            READY,
            "eye",
            new Moment(1, 0, 24),
            SIZE,
            SIZE,
            RenderSettings.DEFAULT,
            Workers.CALLER,
            Stop.NEVER);
    int[] nodes = map.nodes();
    // The middle of the picture looks at the floor, between the boxes.
    assertEquals(Math.sqrt(36 + 2.5 * 2.5), map.distances()[SIZE * SIZE / 2 + SIZE / 2], 1.5);
    float[] whole = render(layer("box", Role.HOLDOUT, Role.SEEN, "object-1"), false, 1).find("A");
    int box = SCENE.node("object-1"), same = 0, inside = 0;
    for (int i = 0; i < nodes.length; i++) {
      if (whole[i] == 1) {
        inside++;
        same += nodes[i] == box ? 1 : 0;
      } else if (whole[i] == 0) {
        assertTrue(nodes[i] != box, "pixel " + i);
      }
    }
    assertTrue(inside > 10);
    assertEquals(inside, same);
    assertEquals(SCENE.node("object-0"), nodes[SIZE * SIZE - 1]);
  }

  /** Sunlight alone, so that no light comes from what is left out of a layer. */
  @Test
  void whatMovesItsShadowAndTheRestGiveTheWhole() {
    List<Layer> all =
        List.copyOf(
            LayerPlan.of(
                    SCENE,
                    LayerPlan.Way.OBJECTS,
                    new LayerPlan.Looked(List.of("object-1"), null, null))
                .values());
    List<Layer> three = List.of(all.get(0), all.get(2), all.get(3));
    double apart = LayerMerge.apart(merged(three), render(Layer.MAIN, true, 1));
    assertTrue(apart < 2 * noise(), apart + " against " + noise());
    double wrong =
        LayerMerge.apart(merged(List.of(all.get(0), all.get(3))), render(Layer.MAIN, true, 1));
    assertTrue(apart < wrong, "without its shadow " + wrong + ", with it " + apart);
  }
}
