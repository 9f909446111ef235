package posada.server.workers;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.dao.DataAccessResourceFailureException;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrReader;
import posada.formats.gltf.ImportException;
import posada.formats.light.LightFile;
import posada.formats.settings.SettingsJson;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.runs.FrameState;
import posada.server.runs.LedgerLine;
import posada.server.runs.Run;
import posada.server.runs.RunRepository;
import posada.server.runs.RunService;
import posada.server.runs.RunState;
import posada.server.runs.TestRuns;
import posada.server.scenes.SettingsDocuments;
import posada.server.storage.StorageHealth;

class FrameWorkerTest {
  @TempDir Path folder;
  private final RunRepository ledger = mock(RunRepository.class);
  private final RunService runs = mock(RunService.class);
  private final SettingsDocuments documents = mock(SettingsDocuments.class);
  private final EventHub events = mock(EventHub.class);
  private final RenderThreads pool = mock(RenderThreads.class);
  private final StorageHealth storage = mock(StorageHealth.class);
  private final FrameWorker worker =
      new FrameWorker(ledger, runs, documents, pool, events, storage);

  @BeforeEach
  void startTheClock() {
    when(pool.batchTime()).thenAnswer(q -> System.nanoTime());
    when(storage.await(anyLong(), any())).thenReturn(true);
    when(storage.kept(any(), any())).thenAnswer(q -> q.<Supplier<?>>getArgument(0).get());
  }

  private Run run() {
    return run(Map.of(), List.of("beauty"));
  }

  private Run run(Map<String, Object> settings, List<String> passes) {
    return TestRuns.run(folder, RunState.RUNNING, settings, passes, List.of());
  }

  @Test
  void aLateMessageChangesNothing() {
    when(ledger.take(7, 2, false)).thenReturn(false);
    worker.take("7/2", false);
    verifyNoInteractions(documents, runs, events);
    verify(ledger, never()).move(anyLong(), anyInt(), any(FrameState.class), any());
  }

  @Test
  void aFailureIsKeptWithItsReasonAndTheRunGoesOn() throws Exception {
    when(ledger.take(7, 2, false)).thenReturn(true);
    when(ledger.line(7, 2))
        .thenReturn(Optional.of(new LedgerLine(2, FrameState.FAILED, 1, null, "f", null)));
    Run run = run();
    when(runs.find(7)).thenReturn(run);
    when(documents.read("sha", "s.glb", Map.of(), 1))
        .thenThrow(new ImportException("s.glb: the file is gone."));
    worker.take("7/2", false);
    verify(ledger).move(eq(7L), eq(2), eq(FrameState.FAILED), contains("the file is gone"));
    verify(runs).settle(7);
  }

  /** A triangle called car that the camera sees in the middle of the picture. */
  private static Scene scene() {
    float[] corners = {-0.2f, -0.1f, 0, 0.2f, -0.1f, 0, 0, 0.1f, 0};
    int[] order = {0, 1, 2};
    Primitive p = new Primitive(corners, null, null, new float[0][], null, order, 0);
    Trs eye = new Trs(new Vec3(0, 0, 2), Quat.IDENTITY, Vec3.ONE);
    return new Scene(
        "s",
        List.of(
            new Node("car", -1, Trs.IDENTITY, null, 0, -1, -1),
            new Node("eye", -1, eye, null, -1, 0, -1)),
        List.of(new Mesh("car", List.of(p))),
        List.of(Material.plain("m", 1, 1, 1, 0, 1)),
        List.of(),
        List.of(new Camera("eye", 0.8, 0)),
        List.of(),
        List.of(),
        Sky.PLAIN);
  }

  @Test
  void aLayerOfTheSettingsNamesItsFilesAndCutsItsRegion() throws Exception {
    Map<String, Object> settings =
        Map.of(
            "layer",
            Map.of("name", "cars", "region", Map.of("follow", List.of("car"), "snap", 4)),
            "files",
            Map.of("perPass", true, "compression", "rle"));
    Run run = run(settings, List.of("beauty", "depth"));
    when(ledger.take(7, 2, false)).thenReturn(true);
    when(ledger.line(7, 2))
        .thenReturn(Optional.of(new LedgerLine(2, FrameState.FRESH, 1, 1.0, null, null)));
    when(runs.find(7)).thenReturn(run);
    when(pool.workers()).thenReturn(Workers.CALLER);
    RenderSettings read = SettingsJson.withoutSurroundings(settings).settings().with(1, 0);
    when(documents.read("sha", "s.glb", settings, 1))
        .thenReturn(new SettingsDocuments.Ready(new RenderScene(scene(), Workers.CALLER), read));
    worker.take("7/2", false);
    verify(ledger).finish(eq(7L), eq(2), anyDouble(), anyDouble());
    Path file = folder.resolve("depth/shot_cars_depth.0002.exr");
    FrameImage image = ExrReader.read(file);
    FrameImage.Window w = image.window();
    assertEquals(64, w.fullWidth());
    assertEquals(0, w.x() % 4);
    assertTrue(w.x() > 0 && image.width() < 64 && image.height() < 48, w.toString());
    assertEquals("cars", ExrReader.texts(file).get("posadaLayer"));
    assertEquals(
        4, ExrReader.read(folder.resolve("beauty/shot_cars_beauty.0002.exr")).channels().size());
  }

  /** Nothing is rendered in vain: the picture waits for room, then it is written. */
  @Test
  void aPictureWaitsForRoomOnAFullDisk() throws Exception {
    Path blocked = folder.resolve("beauty");
    Files.writeString(blocked, "a file where the folder should be");
    when(storage.hasRoom(anyLong())).thenReturn(false);
    when(storage.await(anyLong(), any()))
        .thenReturn(true, true)
        .thenAnswer(q -> Files.deleteIfExists(blocked));
    work(Map.of("files", Map.of("perPass", true)), scene(), "2");
    verify(ledger).finish(eq(7L), eq(2), anyDouble(), anyDouble());
    verify(documents).read(any(), any(), any(), anyInt());
    assertTrue(Files.exists(folder.resolve("beauty/shot_main_beauty.0002.exr")));
  }

  @Test
  void aFileThatCannotBeWrittenThoughThereIsRoomFailsTheFrame() throws Exception {
    Files.writeString(folder.resolve("beauty"), "a file where the folder should be");
    when(storage.hasRoom(anyLong())).thenReturn(true);
    work(Map.of("files", Map.of("perPass", true)), scene(), "2");
    verify(ledger).move(eq(7L), eq(2), eq(FrameState.FAILED), contains("is a file, not a folder"));
  }

  @Test
  void anOrderlyStopGivesTheFrameBack() throws Exception {
    when(storage.await(anyLong(), any()))
        .thenAnswer(
            q -> {
              if (q.<Long>getArgument(0) > 0) {
                worker.stop(); // In the middle of the frame.
              }
              return true;
            });
    work(Map.of(), scene(), "2");
    verify(ledger).giveBack(7, 2);
    verify(ledger, never()).move(anyLong(), anyInt(), any(FrameState.class), any());
    verify(ledger, never()).finish(anyLong(), anyInt(), anyDouble(), anyDouble());
  }

  @Test
  void aDatabaseThatFailsIsNoFailureOfTheFrame() throws Exception {
    RuntimeException down =
        new DataAccessResourceFailureException("x", new SQLException("closed", "", 90098));
    when(ledger.take(7, 2, false)).thenReturn(true);
    when(runs.find(7)).thenThrow(down);
    // The message goes back to the queue and is given again.
    assertSame(down, assertThrows(RuntimeException.class, () -> worker.take("7/2", false)));
    verify(ledger, never()).move(anyLong(), anyInt(), any(FrameState.class), any());
  }

  private void work(Map<String, Object> settings, Scene scene, String task) throws Exception {
    Run run = run(settings, List.of("beauty"));
    when(ledger.takeBake(7, false)).thenReturn(true);
    when(ledger.take(eq(7L), anyInt(), eq(false))).thenReturn(true);
    when(ledger.line(eq(7L), anyInt()))
        .thenReturn(Optional.of(new LedgerLine(1, FrameState.FRESH, 1, 1.0, null, null)));
    when(runs.find(7)).thenReturn(run);
    when(pool.workers()).thenReturn(Workers.CALLER);
    RenderSettings read = SettingsJson.withoutSurroundings(settings).settings().with(1, 0);
    when(documents.read("sha", "s.glb", settings, 1))
        .thenReturn(new SettingsDocuments.Ready(new RenderScene(scene, Workers.CALLER), read));
    worker.take("7/" + task, false);
  }

  @Test
  void lightIsBakedOnceForAllFramesOfARun() throws Exception {
    Map<String, Object> settings = Map.of("irradiance", Map.of("use", true, "paths", 512));
    work(settings, scene(), "light");
    Path file = folder.resolve(RunLight.FILE);
    BakedLight light = LightFile.read(file);
    assertEquals(List.of(1, 2), light.info().frames());
    verify(ledger)
        .moveBake(eq(7L), eq(FrameState.FRESH), anyDouble(), eq(light.points().count()), eq(null));
    verify(ledger, never()).move(anyLong(), anyInt(), any(FrameState.class), any());
    FileTime baked = Files.getLastModifiedTime(file);
    work(settings, scene(), "2");
    verify(ledger).finish(eq(7L), eq(2), anyDouble(), anyDouble());
    // After a restart the file is read; one that is damaged is baked anew.
    new RunLight()
        .of(
            run(settings, List.of("beauty")),
            null,
            List.of(),
            null,
            Workers.CALLER,
            Stop.NEVER,
            x -> {});
    assertEquals(baked, Files.getLastModifiedTime(file));
    Files.writeString(file, "PosadaL2");
    new RunLight()
        .of(
            run(settings, List.of("beauty")),
            new RenderScene(scene(), Workers.CALLER),
            List.of(new Moment(1, 1 / 24.0, 24), new Moment(2, 2 / 24.0, 24)),
            SettingsJson.withoutSurroundings(settings).settings(),
            Workers.CALLER,
            Stop.NEVER,
            x -> {});
    assertEquals(List.of(1, 2), LightFile.read(file).info().frames());
  }

  @Test
  void whatMovesKeepsLightFromBeingBaked() throws Exception {
    Scene still = scene();
    Animation ride =
        new Animation(
            "ride",
            List.of(
                new Animation.Channel(
                    0,
                    Animation.Path.TRANSLATION,
                    Animation.Interpolation.LINEAR,
                    new float[] {0, 1},
                    new float[] {0, 0, 0, 1, 0, 0})));
    Scene moving =
        new Scene(
            "s",
            still.nodes(),
            still.meshes(),
            still.materials(),
            List.of(),
            still.cameras(),
            List.of(),
            List.of(ride),
            Sky.PLAIN);
    work(Map.of("irradiance", Map.of("use", true)), moving, "light");
    verify(ledger).moveBake(eq(7L), eq(FrameState.FAILED), eq(null), eq(null), contains("car"));
    assertFalse(Files.exists(folder.resolve(RunLight.FILE)));
  }
}
