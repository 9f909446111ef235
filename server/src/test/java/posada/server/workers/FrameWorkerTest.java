package posada.server.workers;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyBoolean;
import static org.mockito.ArgumentMatchers.anyDouble;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.ArgumentMatchers.isNull;
import static org.mockito.Mockito.atLeastOnce;
import static org.mockito.Mockito.doCallRealMethod;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.mockito.ArgumentCaptor;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.beans.factory.support.StaticListableBeanFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
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
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.JobCache;
import posada.formats.ledger.LedgerRow;
import posada.formats.light.LightFile;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.ledger.LedgerService;
import posada.server.runs.OtherWork;
import posada.server.runs.RunService;
import posada.server.runs.RunService.Taken;
import posada.server.runs.RunState;
import posada.server.runs.RunStrand;
import posada.server.runs.Task;
import posada.server.runs.TestRuns;
import posada.server.storage.StorageHealth;

class FrameWorkerTest {
  private static final Task FRAME = TestRuns.frame(2), LIGHT = TestRuns.light();
  private static final String BAKED =
      "{\"recipe\": {\"irradiance\": {\"use\": true, \"paths\": 512}}}";
  @TempDir Path folder;
  private final RunService runs = mock(RunService.class);
  private final LedgerService ledger = mock(LedgerService.class);
  private JobCache cache = new JobCache(1 << 28);
  private final EventHub events = mock(EventHub.class);
  private final RenderThreads pool = mock(RenderThreads.class);
  private final StorageHealth storage = mock(StorageHealth.class);

  /** There is no other work. */
  private static final ObjectProvider<OtherWork> NO_OTHERS =
      new StaticListableBeanFactory().getBeanProvider(OtherWork.class);

  private final FrameWorker worker =
      new FrameWorker(runs, ledger, pool, events, storage, new InWork(), NO_OTHERS);

  @BeforeEach
  void allIsWell() {
    when(pool.batchTime()).thenAnswer(q -> System.nanoTime());
    when(pool.workers()).thenReturn(Workers.CALLER);
    when(storage.await(anyLong(), any())).thenReturn(true);
    doCallRealMethod().when(storage).keep(any(), any());
    when(storage.kept(any(), any())).thenAnswer(q -> q.<Supplier<?>>getArgument(0).get());
  }

  private RunStrand run(String settings) {
    return TestRuns.run(folder, RunState.RUNNING, settings, List.of());
  }

  private void work(String settings, Scene scene, Task task) throws Exception {
    takes(task, run(settings));
    RenderScene ready = new RenderScene(scene, Workers.CALLER);
    when(ledger.job(any(), any()))
        .thenAnswer(
            q ->
                new FrameJob(
                    q.getArgument(0),
                    ready,
                    null,
                    q.getArgument(1),
                    new FrameJob.Machine(
                        Workers.CALLER, System::nanoTime, () -> Long.MAX_VALUE, cache)));
    give(task);
    verify(runs, times(1)).settle(7);
  }

  private void takes(Task task, RunStrand run) {
    when(runs.take(task.id(), false)).thenReturn(Optional.of(new Taken(task, run)));
  }

  private void give(Task task) {
    worker.take(Long.toString(task.id()), false);
  }

  /** What the ledger hears of a frame that is finished. */
  private LedgerRow finished(Task task) {
    ArgumentCaptor<LedgerRow> row = ArgumentCaptor.forClass(LedgerRow.class);
    verify(runs, atLeastOnce()).finished(any(), eq(task), any(), row.capture(), anyDouble());
    return row.getValue();
  }

  @Test
  void aLateMessageChangesNothing() {
    when(runs.take(FRAME.id(), false)).thenReturn(Optional.empty());
    give(FRAME);
    verifyNoInteractions(ledger, events);
    verify(runs, never()).settle(anyLong());
  }

  @Test
  void aFailureIsKeptWithItsReasonAndTheRunGoesOn() throws Exception {
    takes(FRAME, run("{}"));
    when(ledger.job(any(), any())).thenThrow(new ImportException("s.glb: the file is gone."));
    give(FRAME);
    verify(runs).fail(eq(FRAME), contains("the file is gone"), eq(true));
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
    work(
        """
        {"layer": {"name": "cars", "region": {"follow": ["car"], "snap": 4}},
         "passes": {"wanted": ["beauty", "depth"]},
         "delivery": {"perPass": true, "compression": "rle"}}
        """,
        scene(),
        FRAME);
    assertTrue(finished(FRAME).seconds() > 0);
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

  @Test
  void aFrameThatIsThereIsNotRenderedAgain() throws Exception {
    work("{}", scene(), FRAME);
    Path file = folder.resolve("beauty/shot_main_beauty.0002.exr");
    FileTime before = Files.getLastModifiedTime(file);
    give(FRAME);
    assertNull(finished(FRAME).seconds());
    assertEquals(before, Files.getLastModifiedTime(file));
  }

  /** Frames that are made from the same get one picture, each under its own number. */
  @Test
  void copiesAreWrittenWithTheirPicture() throws Exception {
    Task copy = new Task(101, 7, Task.Kind.FRAME, null, 1, 2, 1);
    when(runs.copies(FRAME)).thenReturn(List.of(copy));
    work("{}", scene(), FRAME);
    LedgerRow row = finished(FRAME);
    ArgumentCaptor<LedgerRow> other = ArgumentCaptor.forClass(LedgerRow.class);
    verify(runs).copied(any(), eq(copy), any(), other.capture());
    assertEquals(1, other.getValue().frame());
    assertEquals(2, other.getValue().source());
    assertEquals(row.fingerprint(), other.getValue().fingerprint());
    assertNull(other.getValue().seconds());
    Path own = folder.resolve("beauty/shot_main_beauty.0002.exr");
    Path second = folder.resolve("beauty/shot_main_beauty.0001.exr");
    assertEquals(row.bytes(), Files.size(own));
    assertEquals("1", ExrReader.texts(second).get(ExrHeader.FRAME));
    assertArrayEquals(
        ExrReader.read(own).channels().get(0).data(),
        ExrReader.read(second).channels().get(0).data());
  }

  @Test
  void lightIsBakedOnceForAllFramesOfARun() throws Exception {
    work(BAKED, scene(), LIGHT);
    Path file = folder.resolve(FrameJob.LIGHT);
    BakedLight light = LightFile.read(file);
    assertEquals(List.of(1, 2), light.info().frames());
    verify(runs).baked(eq(LIGHT), any(Double.class), eq(light.points().count()));
    FileTime baked = Files.getLastModifiedTime(file);
    takes(FRAME, run(BAKED));
    give(FRAME);
    assertTrue(finished(FRAME).seconds() > 0);
    // After a restart the file is read; one that is damaged is baked anew.
    cache = new JobCache(1 << 28);
    give(LIGHT);
    verify(runs).baked(eq(LIGHT), isNull(), eq(light.points().count()));
    assertEquals(baked, Files.getLastModifiedTime(file));
    cache = new JobCache(1 << 28);
    Files.writeString(file, "PosadaL2");
    give(LIGHT);
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
    work(BAKED, moving, LIGHT);
    verify(runs).fail(eq(LIGHT), contains("car"), eq(true));
    assertFalse(Files.exists(folder.resolve(FrameJob.LIGHT)));
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
    work("{}", scene(), FRAME);
    assertTrue(finished(FRAME).seconds() > 0);
    verify(runs, never()).fail(any(), any(), anyBoolean());
    assertTrue(Files.exists(folder.resolve("beauty/shot_main_beauty.0002.exr")));
  }

  @Test
  void aFileThatCannotBeWrittenThoughThereIsRoomFailsTheFrame() throws Exception {
    Files.writeString(folder.resolve("beauty"), "a file where the folder should be");
    when(storage.hasRoom(anyLong())).thenReturn(true);
    work("{}", scene(), FRAME);
    verify(runs).fail(eq(FRAME), contains("is a file, not a folder"), eq(false));
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
    work("{}", scene(), FRAME);
    verify(runs).stopped(FRAME, true);
    verify(runs, never()).fail(any(), any(), anyBoolean());
    verify(runs, never()).finished(any(), any(), any(), any(), anyDouble());
  }

  @Test
  void aCancelledFrameIsLeftOut() throws Exception {
    when(runs.isCancelled(7)).thenReturn(true);
    work("{}", scene(), FRAME);
    verify(runs).stopped(FRAME, false);
  }

  @Test
  void aDatabaseThatFailsIsNoFailureOfTheFrame() {
    RuntimeException down =
        new DataAccessResourceFailureException("x", new SQLException("closed", "", 90098));
    when(runs.take(eq(FRAME.id()), anyBoolean())).thenThrow(down);
    // The message goes back to the queue and is given again.
    assertSame(down, assertThrows(RuntimeException.class, () -> give(FRAME)));
    verify(runs, never()).fail(any(), any(), anyBoolean());
  }
}
