package posada.server.shots;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.trace.RenderScene;
import posada.formats.settings.RenderDocument;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.changes.ChangeLog;
import posada.server.definitions.Deliveries;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.productions.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;

class ShotServiceTest {
  private static final long SHOT = 7;

  private final ShotRepository shots = mock(ShotRepository.class);
  private final SceneService scenes = mock(SceneService.class);
  private final SceneLibrary library = mock(SceneLibrary.class);
  private final RenderThreads pool = mock(RenderThreads.class);
  private final StrandSettings settings = mock(StrandSettings.class);
  private final ShotService service =
      new ShotService(
          shots,
          scenes,
          mock(StrandRepository.class),
          settings,
          mock(Layers.class),
          mock(Recipes.class),
          mock(Deliveries.class),
          mock(ChangeLog.class),
          library,
          pool,
          mock(EventHub.class));
  private final RenderScene scene = mock(RenderScene.class);

  /** Whether each picture that the meter wanted was to be stopped. */
  private final List<Boolean> asked = new ArrayList<>();

  /**
   * @param meanwhile happens while the scene is read
   */
  private void metering(Runnable meanwhile) throws Exception {
    Shot shot = mock(Shot.class);
    when(shot.frames()).thenReturn("1-3");
    when(shot.scaledWidth()).thenReturn(64);
    when(shot.scaledHeight()).thenReturn(48);
    when(shots.find(SHOT)).thenReturn(Optional.of(shot));
    Production production = new Production(1, 1, "p", "p", 24, 64, 48, null, false);
    when(scenes.productionOf(any())).thenReturn(production);
    when(scenes.revision(0)).thenReturn(mock(Revision.class));
    when(pool.watch()).thenReturn(mock(RenderThreads.Watched.class));
    when(pool.workers()).thenReturn(Workers.CALLER);
    when(settings.of(any(), anyLong(), any())).thenReturn(RenderDocument.DEFAULT);
    when(library.get(any(Revision.class), any()))
        .thenAnswer(
            i -> {
              meanwhile.run();
              return scene;
            });
    when(scene.frame(any(), any(), anyInt(), anyInt(), any(), any(), any(), any()))
        .thenAnswer(
            i -> {
              asked.add(((Stop) i.getArgument(6)).asked());
              return null;
            });
  }

  @Test
  void meteringIsStopped() throws Exception {
    metering(() -> service.stopMetering(SHOT));
    assertNull(service.meter(SHOT, null).stops());
    assertEquals(List.of(true), asked);
  }

  @Test
  void metersOfOtherShotsGoOn() throws Exception {
    metering(() -> service.stopMetering(SHOT + 1));
    service.meter(SHOT, null);
    assertEquals(List.of(false), asked);
  }

  @Test
  void aSecondMeterOfAShotStopsTheFirst() throws Exception {
    boolean[] inner = {false};
    metering(
        () -> {
          if (!inner[0]) {
            inner[0] = true;
            try {
              service.meter(SHOT, null);
            } catch (Exception e) {
              throw new IllegalStateException(e);
            }
          }
        });
    service.meter(SHOT, null);
    assertEquals(List.of(false, true), asked);
  }
}
