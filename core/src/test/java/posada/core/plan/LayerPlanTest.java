package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.plan.LayerPlan.Looked;
import posada.core.scene.Animation;
import posada.core.scene.Environment;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;

class LayerPlanTest {
  private static Node node(String name, int parent, int mesh) {
    return new Node(name, parent, null, Affine.IDENTITY, mesh, -1, -1);
  }

  /** A rock, a car with a wheel, a lamp without a mesh; what moves is named by number. */
  private static Scene scene(int... moving) {
    List<Animation.Channel> channels = new ArrayList<>();
    for (int m : moving) {
      channels.add(
          new Animation.Channel(
              m,
              Animation.Path.TRANSLATION,
              Animation.Interpolation.LINEAR,
              new float[] {0, 1},
              new float[] {0, 0, 0, 1, 0, 0}));
    }
    return new Scene(
        "s",
        List.of(
            node("Old Rock", -1, 0),
            node("car", -1, -1),
            node("wheel", 1, 0),
            node("lamp", -1, -1)),
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        List.of(new Animation("go", channels, List.of())),
        List.of(),
        Environment.NONE);
  }

  @Test
  void whatMovesIsTakenFromWhatStands() {
    Map<String, Layer> all =
        LayerPlan.of(scene(1, 2, 3), LayerPlan.Way.MOVING_AND_STILL, Looked.NOTHING);
    assertEquals(List.of("still", "moving-shadow", "moving"), List.copyOf(all.keySet()));
    Layer still = all.get("still"), moving = all.get("moving");
    // The wheel is below the car, and the lamp is nothing to be seen.
    assertEquals(List.of("car"), still.objects().get(0).match());
    assertEquals(Role.LEFT_OUT, still.objects().get(0).role());
    assertEquals(Role.HOLDOUT, moving.otherwise());
    Layer shadow = all.get("moving-shadow");
    assertEquals(Role.SHADOW_CATCHER, shadow.otherwise());
    assertEquals(Role.UNSEEN, shadow.roles(scene(1)).get(2));
    // The shadow is the wheel's, which the car carries.
    assertEquals('1', LayerRoles.of(scene(1), shadow).shadows().charAt(2));
    assertEquals('0', LayerRoles.of(scene(1), shadow).shadows().charAt(0));
    assertEquals(Role.SEEN, moving.objects().get(0).role());
  }

  @Test
  void nothingToTakeApartIsSaid() {
    for (int[] moving : new int[][] {{}, {3}, {0, 1}}) {
      String why =
          assertThrows(
                  IllegalArgumentException.class,
                  () -> LayerPlan.of(scene(moving), LayerPlan.Way.MOVING_AND_STILL, Looked.NOTHING))
              .getMessage();
      assertTrue(why.endsWith("nothing to take apart."), why);
    }
  }

  @Test
  void groupsAtTheTopGetLayers() {
    Map<String, Layer> all = LayerPlan.of(scene(), LayerPlan.Way.GROUPS, Looked.NOTHING);
    assertEquals(List.of("old-rock", "car"), List.copyOf(all.keySet()));
    assertEquals(List.of("Old Rock"), all.get("old-rock").objects().get(0).match());
    assertEquals(Role.HOLDOUT, all.get("car").otherwise());
    assertEquals(Set.of("old-rock"), LayerPlan.withBackground(all), "one of them has the sky");
  }

  @Test
  void whatMovesGetsARegionThatFollowsIt() {
    Map<String, Layer> all = LayerPlan.of(scene(1), LayerPlan.Way.BAKED_BACKGROUND, Looked.NOTHING);
    assertEquals(List.of("background", "moving-shadow", "moving"), List.copyOf(all.keySet()));
    assertEquals("background", all.get("background").name());
    assertEquals(List.of("car"), all.get("moving").region().follow());
    assertEquals(null, all.get("moving-shadow").region(), "shadows may fall anywhere");
  }

  @Test
  void anObjectItsShadowAndItsReflectionAreApart() {
    Looked wheel = new Looked(List.of("wheel"), null, null);
    Map<String, Layer> all = LayerPlan.of(scene(), LayerPlan.Way.OBJECTS, wheel);
    assertEquals(
        List.of("without-wheel", "wheel-reflected", "wheel-shadow", "wheel"),
        List.copyOf(all.keySet()));
    all.forEach((name, l) -> assertEquals(name, l.name()));
    Scene s = scene();
    assertEquals(Role.LEFT_OUT, all.get("without-wheel").roles(s).get(2));
    assertEquals(Role.SHADOW_CATCHER, all.get("wheel-shadow").roles(s).get(0));
    assertEquals(Role.HOLDOUT, all.get("wheel").roles(s).get(0));
    assertEquals(Role.SEEN, all.get("wheel").roles(s).get(2));
    assertEquals(false, all.get("wheel-reflected").objects().get(0).castsShadows());
    // Names of any length make names that a layer may have.
    Scene one =
        new Scene(
            "s",
            List.of(node("w".repeat(200), -1, 0)),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            Environment.NONE);
    Looked lengthy = new Looked(List.of("w".repeat(200)), null, null);
    assertEquals(4, LayerPlan.of(one, LayerPlan.Way.OBJECTS, lengthy).size());
    String why =
        assertThrows(
                IllegalArgumentException.class,
                () -> LayerPlan.of(s, LayerPlan.Way.OBJECTS, Looked.NOTHING))
            .getMessage();
    assertTrue(why.startsWith("Choose the objects"), why);
  }

  @Test
  void nearAndFarAreToldByDepth() {
    // The rock lies 100 m away, the wheel 2 m; the lamp is a speck that nobody asks about.
    int[] seen = new int[1000];
    float[] depths = new float[1000];
    Arrays.fill(depths, 100);
    Arrays.fill(seen, 600, 999, 2);
    Arrays.fill(depths, 600, 999, 2);
    seen[999] = 3;
    Map<String, Layer> all =
        LayerPlan.of(scene(), LayerPlan.Way.NEAR_AND_FAR, new Looked(List.of(), seen, depths));
    assertEquals(List.of("far", "near"), List.copyOf(all.keySet()));
    assertEquals(Set.of("far"), LayerPlan.withBackground(all));
    assertEquals(List.of("wheel"), all.get("near").objects().get(0).match());
    assertEquals(Role.HOLDOUT, all.get("far").objects().get(0).role());
    // A near car with its wheel far away.
    Arrays.fill(seen, 0, 600, 2);
    Arrays.fill(seen, 600, 999, 1);
    all = LayerPlan.of(scene(), LayerPlan.Way.NEAR_AND_FAR, new Looked(List.of(), seen, depths));
    assertEquals(Role.SEEN, all.get("far").roles(scene()).get(2));
    assertEquals(Role.HOLDOUT, all.get("near").roles(scene()).get(2));
    Arrays.fill(seen, 0);
    assertThrows(
        IllegalArgumentException.class,
        () ->
            LayerPlan.of(scene(), LayerPlan.Way.NEAR_AND_FAR, new Looked(List.of(), seen, depths)));
  }

  /** What a layer says besides stays, for itself and for those that are made beside it. */
  @Test
  void moversLeaveALayerForTheirOwn() {
    Layer from = Layer.MAIN.of(Layer.Plain.CLAY).named("look");
    List<Layer> all = LayerPlan.without(from, List.of("car"), scene(1));
    assertEquals(
        List.of("look", "look-moving-shadow", "look-moving"),
        all.stream().map(Layer::name).toList());
    Scene s = scene(1);
    assertEquals(Role.LEFT_OUT, all.get(0).roles(s).get(2), "the wheel goes with the car");
    assertEquals(Role.SEEN, all.get(0).roles(s).get(0));
    assertEquals(Role.SHADOW_CATCHER, all.get(1).roles(s).get(0));
    assertEquals(Role.HOLDOUT, all.get(2).roles(s).get(0));
    assertEquals(Role.SEEN, all.get(2).roles(s).get(2));
    assertEquals(List.of("car"), all.get(2).region().follow());
    assertTrue(all.stream().allMatch(l -> l.material() == Layer.Plain.CLAY));
  }

  /** What a layer does not show cuts no hole beside it, and catches no shadow. */
  @Test
  void whatALayerLeavesOutStaysOut() {
    Layer from =
        Layer.MAIN.with(
            List.of(new Layer.Rule(List.of("Old Rock"), Role.LEFT_OUT, null, null, null)));
    Scene s = scene(1);
    for (Layer l : LayerPlan.without(from, List.of("car"), s)) {
      assertEquals(Role.LEFT_OUT, l.roles(s).get(0), l.name());
    }
  }

  /** What a layer makes of what moves it goes on making of it beside the rest. */
  @Test
  void moversStayWhatTheyWere() {
    Scene s = scene(1);
    for (String pattern : List.of("wheel", "w*", "*")) {
      for (Role was : List.of(Role.UNSEEN, Role.HOLDOUT, Role.LEFT_OUT, Role.SEEN)) {
        Layer from =
            Layer.MAIN.with(List.of(new Layer.Rule(List.of(pattern), was, false, null, null)));
        List<Layer> all = LayerPlan.without(from, List.of("car"), s);
        String told = was + " by " + pattern;
        Role unseen = was == Role.SEEN ? Role.UNSEEN : was;
        assertEquals(Role.LEFT_OUT, all.get(0).roles(s).get(2), told);
        assertEquals(unseen, all.get(1).roles(s).get(2), told);
        assertEquals(was, all.get(2).roles(s).get(2), told);
        assertEquals('0', LayerRoles.of(s, all.get(1)).shadows().charAt(2), told);
      }
    }
  }
}
