package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Sky;
import posada.core.settings.RenderSettings;

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
            4096, Workers.CALLER, () -> asked.incrementAndGet() > 3, FrameRenderer.Progress.NONE));
  }

  @Test
  void aStopThatIsTakenBackLeavesNoHoles() {
    AtomicInteger asked = new AtomicInteger();
    FrameRenderer r = scene().frame("eye", 0, 64, 64, RenderSettings.of(2, 0));
    assertFalse(r.advance(2, Workers.CALLER, () -> asked.incrementAndGet() == 5));
  }

  /** A million triangles take a while to sort; a stop need not wait for that. */
  @Test
  void stopsWhileHierarchiesAreBuilt() {
    int n = 700;
    float[] p = new float[n * n * 3];
    int[] t = new int[(n - 1) * (n - 1) * 6];
    for (int i = 0; i < n * n; i++) {
      p[i * 3] = i % n;
      p[i * 3 + 2] = i / n;
    }
    for (int i = 0; i < t.length / 6; i++) {
      int a = i / (n - 1) * n + i % (n - 1);
      int[] two = {a, a + n, a + 1, a + 1, a + n, a + n + 1};
      System.arraycopy(two, 0, t, i * 6, 6);
    }
    TestScenes s =
        new TestScenes()
            .mesh(p, t, TestScenes.diffuse(0.5), posada.core.scene.Trs.IDENTITY)
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 60);
    AtomicInteger asked = new AtomicInteger();
    assertThrows(
        Stop.Stopped.class,
        () -> new RenderScene(s.scene(), Workers.CALLER, () -> asked.incrementAndGet() > 200));
    // Asked often, and not again once it was told to stop: nothing went on behind its back.
    assertTrue(asked.get() == 201);
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
