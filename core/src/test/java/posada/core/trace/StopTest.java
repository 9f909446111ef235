package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.parallel.Workers;
import posada.core.scene.Sky;

class StopTest {
  private static RenderScene scene() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 5, false, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 60)
            .sky(Sky.PLAIN);
    return new RenderScene(s.scene(), Workers.CALLER);
  }

  @Test
  void stopsInTheMiddleOfAFrameAndGivesNoPicture() {
    AtomicInteger asked = new AtomicInteger();
    FrameRenderer r = scene().frame("eye", 0, 256, 256, RenderSettings.of(4096, 0));
    assertNull(
        r.render(
            Set.of(Pass.BEAUTY),
            4096,
            Workers.CALLER,
            () -> asked.incrementAndGet() > 3,
            FrameRenderer.Progress.NONE));
  }

  @Test
  void aStopThatIsTakenBackLeavesNoHoles() {
    AtomicInteger asked = new AtomicInteger();
    FrameRenderer r = scene().frame("eye", 0, 64, 64, RenderSettings.of(2, 0));
    assertFalse(r.advance(2, Workers.CALLER, () -> asked.incrementAndGet() == 5));
  }

  @Test
  void namesTheCamerasThatExist() {
    var e =
        assertThrows(
            IllegalArgumentException.class,
            () -> scene().frame("nobody", 0, 8, 8, RenderSettings.of(1, 0)));
    assertFalse(e.getMessage().indexOf("eye") < 0);
  }
}
