package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Curve;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Animation.Value;
import posada.core.scene.Light;
import posada.core.scene.Node;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.TextureSlot;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;

/** Lights, cameras and materials that keys change while a sequence plays. */
class KeyedValuesTest {
  private static final int SIZE = 24;

  private static Curve line(float... values) {
    return new Curve(Interpolation.LINEAR, new float[] {0, 1}, values);
  }

  private static Value value(Property p, int index, float... values) {
    return new Value(p, index, null, line(values));
  }

  private static Scene keyed(TestScenes t, Value... values) {
    return playing(t.scene(), new Animation("change", List.of(), List.of(values)));
  }

  private static Scene playing(Scene s, Animation a) {
    return new Scene(
        s.name(),
        s.nodes(),
        s.meshes(),
        s.materials(),
        s.textures(),
        s.cameras(),
        s.lights(),
        List.of(a),
        s.skins(),
        s.environment());
  }

  /** A floor under a lamp and a glowing square, seen from above. */
  private static TestScenes room(double candela, double glow, double degrees) {
    Light lamp =
        new Light(
            "lamp",
            Light.Kind.POINT,
            new float[] {1, 1, 1},
            candela,
            Double.POSITIVE_INFINITY,
            0,
            0,
            0);
    return new TestScenes()
        .square(Vec3.ZERO, 2, false, TestScenes.diffuse(0.5))
        .square(new Vec3(0.5, 0.5, 0), 0.25, false, TestScenes.lamp(glow))
        .light(lamp, new Vec3(-1, 1, 0), new Vec3(0, -1, 0))
        .camera(new Vec3(0, 4, 0), Vec3.ZERO, degrees);
  }

  private static FrameImage render(Scene s, double seconds, Set<String> clips) {
    RenderSettings q =
        RenderSettings.of(16, 0)
            .with(EnumSet.of(Pass.BEAUTY, Pass.MOTION_NEXT, Pass.MOTION_PREVIOUS))
            .playing(clips);
    return new RenderScene(s, Workers.CALLER)
        .frame("eye", new Moment(0, seconds, 4), SIZE, SIZE, q, Workers.CALLER, Stop.NEVER, null)
        .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static void same(FrameImage a, FrameImage b) {
    for (String channel : List.of("R", "G", "B")) {
      assertArrayEquals(a.find(channel), b.find(channel));
    }
  }

  @Test
  void picturesAreThoseOfASceneThatIsLikeThatAllTheTime() {
    float angle = (float) Math.toRadians(40);
    float wide = (float) Math.toRadians(60);
    Scene s =
        keyed(
            room(8, 0, Math.toDegrees(angle)),
            value(Property.LIGHT_INTENSITY, 0, 0, 16),
            value(Property.EMISSION, 1, 0, 0, 0, 4, 4, 4),
            value(Property.VIEW_ANGLE, 0, angle, wide));
    double half = Math.toDegrees(((double) angle + wide) / 2);
    same(render(room(8, 2, half).scene(), 0, null), render(s, 0.5, null));
    // Without the clip all is as the file has it.
    same(render(room(8, 0, Math.toDegrees(angle)).scene(), 0, null), render(s, 0.5, Set.of()));
  }

  /** A point of the floor stays where it is; in the picture it goes outwards as the lens closes. */
  @Test
  void zoomingIsMotion() {
    float first = (float) Math.toRadians(60);
    float last = (float) Math.toRadians(20);
    Scene s = keyed(room(8, 1, 60), value(Property.VIEW_ANGLE, 0, first, last));
    FrameImage image = render(s, 0.5, null);
    double now = Math.tan(((double) first + last) / 4);
    double later = Math.tan((first * 0.25 + last * 0.75) / 2);
    double before = Math.tan((first * 0.75 + last * 0.25) / 2);
    float[] x = image.find("motion-next.X");
    float[] p = image.find("motion-previous.X");
    int row = SIZE / 2;
    for (int i : new int[] {2, SIZE - 3}) {
      double out = i + 0.5 - SIZE / 2.0;
      assertEquals(out * (now / later - 1), x[row * SIZE + i], 0.01);
      assertEquals(out * (1 - now / before), p[row * SIZE + i], 0.01);
    }
  }

  @Test
  void bakedLightIsToldOfWhatChanges() {
    Scene s =
        keyed(
            room(8, 1, 40),
            value(Property.LIGHT_INTENSITY, 0, 0, 16),
            value(Property.VIEW_ANGLE, 0, 1, 0.5f));
    List<Moment> frames =
        List.of(new Moment(1, 0, 4), new Moment(2, 0.25, 4), new Moment(3, 0.5, 4));
    assertEquals(
        List.of("light lamp changes in frames 2-3"),
        new RenderScene(s, Workers.CALLER).changes(frames, RenderSettings.of(1, 0)));
  }

  /** What hangs on a node that is left out is left out with it: meshes, lights. */
  @Test
  void nodesComeAndGo() {
    TestScenes t = room(8, 4, 40);
    int group = t.nodes.size();
    t.nodes.add(new Node("group", -1, Trs.IDENTITY, null, -1, -1, -1));
    // The camera first, then the group, then all that hangs on it.
    List<Node> nodes = new ArrayList<>(List.of(t.nodes.get(group - 1), t.nodes.get(group)));
    for (Node n : t.nodes.subList(1, group - 1)) {
      nodes.add(new Node(n.name(), 1, n.trs(), null, n.mesh(), n.camera(), n.light()));
    }
    nodes.add(t.nodes.get(0));
    t.nodes.clear();
    t.nodes.addAll(nodes);
    Curve c = new Curve(Interpolation.STEP, new float[] {0, 1}, new float[] {0, 1});
    Animation a = new Animation("show", List.of(new Channel(1, Path.SHOWN, c)));
    Scene s = playing(t.scene(), a);
    FrameImage without = render(s, 0.9, null);
    assertEquals(0, TestScenes.mean(without, "R"));
    same(render(t.scene(), 0, null), render(s, 1, null));
    List<Moment> frames = List.of(new Moment(1, 0, 4), new Moment(2, 1, 4));
    assertEquals(
        List.of(
            "light lamp changes in frame 2",
            "material lamp changes in frame 2",
            "object object-1 changes in frame 2"),
        new RenderScene(s, Workers.CALLER).changes(frames, RenderSettings.of(1, 0)));
  }

  @Test
  void memoryCountsWhatWillGlow() {
    RenderSettings q = RenderSettings.of(1, 0);
    long dark = MemoryEstimate.frame(room(8, 0, 40).scene(), SIZE, SIZE, q);
    long glowing = MemoryEstimate.frame(room(8, 1, 40).scene(), SIZE, SIZE, q);
    Scene s = keyed(room(8, 0, 40), value(Property.EMISSION, 1, 0, 0, 0, 1, 1, 1));
    assertEquals(glowing, MemoryEstimate.frame(s, SIZE, SIZE, q));
    assertEquals(480, glowing - dark);
  }

  @Test
  void aValueMustFitItsProperty() {
    assertThrows(IllegalArgumentException.class, () -> value(Property.LIGHT_COLOR, 0, 1, 2));
    assertThrows(
        IllegalArgumentException.class,
        () -> new Value(Property.TEXTURE_ROTATION, 0, null, line(1, 2)));
    assertThrows(
        IllegalArgumentException.class,
        () -> new Value(Property.METALLIC, 0, TextureSlot.BASE, line(1, 2)));
  }
}
