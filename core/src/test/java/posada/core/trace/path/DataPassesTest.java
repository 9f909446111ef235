package posada.core.trace.path;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.image.NameHash;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.UnfitNames;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.NameMask;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Trs;
import posada.core.settings.Filter;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;

/** Passes that are no light, against closed forms. */
class DataPassesTest {
  private static final int SIZE = 16;
  private static final int MIDDLE = SIZE / 2 * SIZE + SIZE / 2;

  private static RenderSettings settings(PassSettings p) {
    return RenderSettings.of(256, 1).with(new Filter(Filter.Shape.BOX, 0.5)).with(p);
  }

  private static FrameImage render(TestScenes s, RenderSettings settings) {
    return new RenderScene(s.scene(), Workers.CALLER)
        .frame("eye", 0, SIZE, SIZE, settings)
        .render(256, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static PassSettings wanting(Pass... p) {
    return PassSettings.BEAUTY.with(Set.of(p));
  }

  private static Light lamp(String name, double intensity) {
    float[] white = {1, 1, 1};
    double all = Double.POSITIVE_INFINITY;
    return new Light(name, Light.Kind.POINT, white, intensity, all, 0, Math.PI / 4, 0);
  }

  /**
   * Under a ceiling at height h what is nearer than R lies within the cosines from c = h / R on: a
   * share of 1 - c^2 of evenly scattered directions, and (1 - c)^2 when weighed by 1 - distance/R.
   */
  @ParameterizedTest
  @CsvSource({"1, 0", "2, 0", "1, 1", "0.5, 1"})
  void occlusionUnderACeilingIsTheClosedForm(double height, double falloff) {
    double radius = 2.5;
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .square(new Vec3(0, height, 0), 50, true, TestScenes.chalk())
            .camera(new Vec3(0, 0.4 * height, 0), Vec3.ZERO, 20);
    PassSettings p = new PassSettings(Set.of(Pass.AMBIENT_OCCLUSION), Map.of(), radius, falloff);
    double c = height / radius;
    double shut = falloff == 0 ? 1 - c * c : (1 - c) * (1 - c);
    double mean = TestScenes.mean(render(s, settings(p)), "ambient-occlusion.Y");
    assertEquals(1 - shut, mean, 0.004);
  }

  @Test
  void anOpenFloorAndEmptySpaceAreNotOccluded() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, TestScenes.chalk())
            .camera(new Vec3(0, 5, 0), Vec3.ZERO, 40);
    FrameImage i = render(s, settings(wanting(Pass.AMBIENT_OCCLUSION)));
    for (float v : i.find("ambient-occlusion.Y")) {
      assertEquals(1, v);
    }
  }

  @Test
  void shadowIsTheShareOfDirectLightThatComes() {
    // A lamp above a floor, and a plate between that hides it from half of what is seen.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .box(new Vec3(5, 4, 0), new Vec3(5, 0.01, 5), TestScenes.chalk())
            .light(lamp("lamp", 100), new Vec3(0, 8, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 3, 0), Vec3.ZERO, 20);
    FrameImage i = render(s, settings(wanting(Pass.SHADOW)));
    float[] v = i.find("shadow.Y");
    for (int y = 0; y < SIZE; y++) {
      assertEquals(1, v[y * SIZE + 3], "lit");
      assertEquals(0, v[y * SIZE + SIZE - 3], "behind the plate");
    }
  }

  @Test
  void placesAndDirectionsAreThoseOfTheScene() {
    // The camera looks down from (1, 4, 2): its up is -z, its right is x.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .camera(new Vec3(1, 4, 2), new Vec3(1, 0, 2), 30);
    Set<Pass> all = EnumSet.complementOf(EnumSet.of(Pass.OWN));
    FrameImage i = render(s, settings(PassSettings.BEAUTY.with(all)));
    double step = 2 * 4 * Math.tan(Math.toRadians(15)) / SIZE;
    for (int y = 0; y < SIZE; y++) {
      for (int x = 0; x < SIZE; x++) {
        int at = y * SIZE + x;
        double px = 1 + (x + 0.5 - SIZE / 2) * step;
        double pz = 2 + (y + 0.5 - SIZE / 2) * step;
        assertEquals(px, i.find("position.X")[at], 1e-5);
        assertEquals(0, i.find("position.Y")[at], 1e-5);
        assertEquals(pz, i.find("position.Z")[at], 1e-5);
        assertEquals(4, i.find("depth.Z")[at], 1e-5);
        assertEquals(4, i.find("depth-filtered.Z")[at], 1e-4);
        assertEquals(1, i.find("normal.Y")[at], 1e-6);
        assertEquals(1, i.find("normal-camera.Z")[at], 1e-6);
        double away = Math.hypot(px - 1, pz - 2);
        assertEquals(4 / Math.hypot(4, away), i.find("facing.Y")[at], 1e-3);
        assertEquals(256, i.find("samples.Y")[at]);
        assertTrue(i.find("time.Y")[at] > 0);
      }
    }
  }

  @Test
  void aCameraNormalTurnsWithTheCamera() {
    // Half from above: the picture's right is (1, -1, 0) / sqrt 2, its up -z.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .camera(new Vec3(10, 10, 0), Vec3.ZERO, 5);
    FrameImage i = render(s, settings(wanting(Pass.NORMAL_CAMERA)));
    assertEquals(-Math.sqrt(0.5), i.find("normal-camera.X")[MIDDLE], 1e-6);
    assertEquals(0, i.find("normal-camera.Y")[MIDDLE], 1e-6);
    assertEquals(Math.sqrt(0.5), i.find("normal-camera.Z")[MIDDLE], 1e-6);
  }

  @Test
  void textureCoordinatesRunAcrossTheTextureAndAreZeroWithoutOne() {
    TestScenes s = new TestScenes().camera(new Vec3(0, 4, 0), Vec3.ZERO, 30);
    s.materials.add(TestScenes.chalk());
    float[] places = {-2, 0, -2, -2, 0, 2, 2, 0, 2, 2, 0, -2};
    float[] uv = {0, 0, 0, 1, 1, 1, 1, 0};
    int[] corners = {0, 1, 2, 0, 2, 3};
    Primitive p = new Primitive(places, null, null, new float[][] {uv}, null, corners, 0);
    s.meshes.add(new Mesh("square", List.of(p)));
    s.nodes.add(new Node("square", -1, Trs.IDENTITY, null, 0, -1, -1));
    FrameImage i = render(s, settings(wanting(Pass.TEXTURE_COORDINATES, Pass.POSITION)));
    for (int at = 0; at < SIZE * SIZE; at++) {
      double u = (i.find("position.X")[at] + 2) / 4, v = (i.find("position.Z")[at] + 2) / 4;
      assertEquals(u, i.find("texture-coordinates.U")[at], 1e-5);
      assertEquals(v, i.find("texture-coordinates.V")[at], 1e-5);
    }
    TestScenes bare =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 30);
    FrameImage none = render(bare, settings(wanting(Pass.TEXTURE_COORDINATES)));
    assertEquals(0, none.find("texture-coordinates.U")[MIDDLE]);
  }

  @Test
  void aLightGroupTakesInWhatHangsUnderItsNodes() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .camera(new Vec3(0, 3, 0), Vec3.ZERO, 20);
    s.nodes.add(new Node("chandelier", -1, Trs.IDENTITY, null, -1, -1, -1));
    int parent = s.nodes.size() - 1;
    s.light(lamp("bulb", 100), new Vec3(0, 4, 1), new Vec3(0, -1, 0));
    Node bulb = s.nodes.remove(s.nodes.size() - 1);
    s.nodes.add(new Node("bulb", parent, bulb.trs(), null, -1, -1, bulb.light()));
    PassSettings p =
        new PassSettings(Set.of(Pass.LIGHT_GROUPS), Map.of("hall", List.of("chand*")), 1, 1);
    FrameImage i = render(s, settings(p));
    assertTrue(TestScenes.mean(i, "light-hall.G") > 0.1);
    assertEquals(0, TestScenes.mean(i, "light-rest.G"));
  }

  @Test
  void lightGroupsKeepLampsApart() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .light(lamp("key-left", 100), new Vec3(-3, 4, 0), new Vec3(0, -1, 0))
            .light(lamp("fill", 50), new Vec3(3, 4, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 3, 0), Vec3.ZERO, 20);
    PassSettings p =
        new PassSettings(
            Set.of(Pass.BEAUTY, Pass.LIGHT_GROUPS), Map.of("key", List.of("key-*")), 1, 1);
    FrameImage both = render(s, settings(p));
    double key = TestScenes.mean(both, "light-key.G"), rest = TestScenes.mean(both, "light-rest.G");
    // Both lamps are as far away: their light is as 100 to 50.
    assertEquals(2, key / rest, 0.02);
    PassSettings wrong =
        new PassSettings(Set.of(Pass.BEAUTY), Map.of("key", List.of("kez-*")), 1, 1);
    Exception e =
        assertThrows(
            IllegalArgumentException.class, () -> UnfitNames.refuse(s.scene(), settings(wrong)));
    assertEquals("Group key: no object is called \"kez-*\".", e.getMessage());
  }

  @ParameterizedTest
  @CsvSource({
    "lamp*, lamp-1, true",
    "*lamp*, old lamp 2, true",
    "l?mp, lump, true",
    "l?mp, lmp, false",
    "*a*b, xaxxb, true",
    "*a*b, xaxxbc, false",
    "lamp, lamp, true",
    "lamp, lamps, false"
  })
  void masksFitWholeNames(String mask, String name, boolean fits) {
    assertEquals(fits, NameMask.fits(mask, name));
  }

  private static RenderSettings with(OwnPass... own) {
    Map<String, OwnPass> all = new LinkedHashMap<>();
    for (OwnPass o : own) {
      all.put("own-" + all.size(), o);
    }
    return settings(new PassSettings(Set.of(Pass.OWN), Map.of(), 1, 1, 6, all, 0));
  }

  private static OwnPass own(OwnPass.Quantity q, double radius, Map<String, Double> numbers) {
    // Keeps the value in red and shows half of it, from 1 on, in green.
    return new OwnPass(
        q,
        radius,
        numbers,
        List.of(
            new OwnPass.RampStop(0, List.of(0f, 0f, 0f)),
            new OwnPass.RampStop(1, List.of(1f, 0f, 0f)),
            new OwnPass.RampStop(9, List.of(9f, 4f, 0f))));
  }

  @Test
  void mattesHoldNamesByCoverage() {
    // A plate covers the left part of the floor up to a quarter of pixel column 8.
    double step = 2 * 4 * Math.tan(Math.toRadians(15)) / SIZE;
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .square(new Vec3(-50 + 0.25 * step, 0.0001, 0), 50, false, TestScenes.lamp(1))
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 30);
    FrameImage i = render(s, settings(wanting(Pass.MATTE_OBJECTS, Pass.MATTE_MATERIALS)));
    float floor = NameHash.toFloat(NameHash.of("object-0"));
    float plate = NameHash.toFloat(NameHash.of("object-1"));
    assertEquals(floor, i.find("matte-objects00.R")[MIDDLE]);
    assertEquals(0.75, i.find("matte-objects00.G")[MIDDLE], 0.01);
    assertEquals(plate, i.find("matte-objects00.B")[MIDDLE]);
    assertEquals(0.25, i.find("matte-objects00.A")[MIDDLE], 0.01);
    assertEquals(plate, i.find("matte-objects00.R")[MIDDLE - 1]);
    assertEquals(1, i.find("matte-objects00.G")[MIDDLE - 1]);
    assertEquals(0, i.find("matte-objects02.G")[MIDDLE]);
    assertEquals(NameHash.toFloat(NameHash.of("chalk")), i.find("matte-materials00.R")[MIDDLE]);
    String key = NameHash.key("matte-objects");
    assertEquals("matte-objects", i.texts().get(key + "name"));
    assertEquals(
        "{\"object-0\":\"%s\",\"object-1\":\"%s\"}"
            .formatted(NameHash.hex("object-0"), NameHash.hex("object-1")),
        i.texts().get(key + "manifest"));
  }

  @Test
  void ownPassesAreMeasuredAndMapped() {
    TestScenes s =
        new TestScenes()
            .square(new Vec3(0, 2, 0), 50, false, TestScenes.chalk())
            .camera(new Vec3(0, 6, 0), new Vec3(0, 2, 0), 5);
    FrameImage i =
        render(
            s,
            with(
                own(OwnPass.Quantity.HEIGHT, 1, Map.of()),
                own(OwnPass.Quantity.CONSTANT, 1, Map.of("object-*", 3.0)),
                own(OwnPass.Quantity.FACING, 1, Map.of()),
                own(OwnPass.Quantity.CURVATURE, 0.1, Map.of())));
    assertEquals(2, i.find("own-0.R")[MIDDLE], 1e-3);
    assertEquals(0.5, i.find("own-0.G")[MIDDLE], 1e-3);
    assertEquals(3, i.find("own-1.R")[MIDDLE], 1e-6);
    assertEquals(1, i.find("own-2.R")[MIDDLE], 1e-3);
    assertEquals(0, i.find("own-3.R")[MIDDLE], 1e-4);
  }

  @Test
  void curvatureOfASphereIsTheRadiusOverItsOwn() {
    int n = 64;
    float[] p = new float[3 * (n + 1) * (2 * n + 1)];
    int[] t = new int[6 * n * 2 * n];
    int at = 0;
    for (int j = 0; j <= n; j++) {
      for (int k = 0; k <= 2 * n; k++) {
        double a = Math.PI * j / n, b = Math.PI * k / n;
        p[at++] = (float) (Math.sin(a) * Math.sin(b));
        p[at++] = (float) Math.cos(a);
        p[at++] = (float) (Math.sin(a) * Math.cos(b));
      }
    }
    at = 0;
    for (int j = 0; j < n; j++) {
      for (int k = 0; k < 2 * n; k++) {
        int v = j * (2 * n + 1) + k;
        for (int c : new int[] {v, v + 2 * n + 1, v + 1, v + 1, v + 2 * n + 1, v + 2 * n + 2}) {
          t[at++] = c;
        }
      }
    }
    TestScenes s =
        new TestScenes()
            .mesh(p, t, TestScenes.chalk(), Trs.IDENTITY)
            .camera(new Vec3(1, 4, 3), Vec3.ZERO, 4);
    double r = 0.3;
    FrameImage i = render(s, with(own(OwnPass.Quantity.CURVATURE, r, Map.of())));
    assertEquals(-2 * (Math.sqrt(1 - r * r) - 1) / r, i.find("own-0.R")[MIDDLE], 0.01);
  }

  @Test
  void albedoIsSeenInAMirrorAndThroughGlass() {
    Material mirror = Material.plain("mirror", 1, 0.8f, 0.4f, 1, 0);
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, mirror)
            .square(new Vec3(0, 9, 0), 50, true, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 5, 1), Vec3.ZERO, 4);
    FrameImage i = render(s, settings(wanting(Pass.ALBEDO)));
    assertEquals(0.5, i.find("albedo.R")[MIDDLE], 1e-4);
    assertEquals(0.4, i.find("albedo.G")[MIDDLE], 1e-4);
    Material glass =
        Material.named("glass")
            .roughness(0)
            .transmission(new Material.Transmission(1, null, 1, new float[] {1, 1, 1}, 1))
            .build();
    TestScenes g =
        new TestScenes()
            .box(new Vec3(0, 1, 0), new Vec3(1, 0.5, 1), glass)
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.25))
            .camera(new Vec3(0, 5, 1), new Vec3(0, 1, 0), 4);
    assertEquals(0.25, render(g, settings(wanting(Pass.ALBEDO))).find("albedo.R")[MIDDLE], 1e-4);
  }
}
