package posada.core.trace.bake;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Camera;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;

/**
 * A camera without perspective that sees 3.56 m of the ground and moves along it: the frame between
 * two others is seen in them as long as they are not further apart than what each sees.
 */
class ViewChangeTest {
  private static final double RATE = 24;

  private static Scene moving(double metres, int frames) {
    TestScenes t = new TestScenes().square(Vec3.ZERO, 10_000, false, TestScenes.chalk());
    Quat down = Quat.looking(new Vec3(0, -1, 0), new Vec3(0, 0, -1));
    List<Node> nodes = new ArrayList<>(t.nodes);
    nodes.add(new Node("eye", -1, new Trs(new Vec3(0, 10, 0), down, Vec3.ONE), null, -1, 0, -1));
    float end = (float) (metres * frames);
    Channel c =
        new Channel(
            1,
            Animation.Path.TRANSLATION,
            Interpolation.LINEAR,
            new float[] {0, (float) (frames / RATE)},
            new float[] {0, 10, 0, end, 10, 0});
    return new Scene(
        "s",
        nodes,
        t.meshes,
        t.materials,
        List.of(),
        List.of(new Camera("eye", 0, 1)),
        List.of(),
        List.of(new Animation("go", List.of(c))),
        Sky.NONE);
  }

  @ParameterizedTest(name = "{0} m a frame, {1} frames: every {2}")
  @CsvSource({
    "0, 100, 64",
    "0, 5, 4",
    "0, 1, 1",
    "0.05, 100, 64",
    "0.1, 100, 32",
    "0.2, 100, 16",
    "0.4, 100, 8",
    "1.7, 100, 2",
    "2, 100, 1",
    "50, 100, 1"
  })
  void nothingIsMissedBetween(double metres, int frames, int every) {
    List<Moment> moments = new ArrayList<>();
    for (int f = 0; f < frames; f++) {
      moments.add(new Moment(f, f / RATE, RATE));
    }
    RenderScene s = new RenderScene(moving(metres, frames), Workers.CALLER);
    assertEquals(every, s.suggestEvery("eye", moments, RenderSettings.DEFAULT, Workers.CALLER));
  }
}
