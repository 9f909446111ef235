package posada.demo;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Crop;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrReader;
import posada.formats.files.Delivery;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.SceneImporter;
import posada.formats.job.Again;
import posada.formats.job.FrameJob;
import posada.formats.job.JobCache;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RenderDocument;

/** Boxes and more samples, put into the files of a frame. */
class AgainTest {
  private static final int FRAME = 20, WIDTH = 160, HEIGHT = 100;
  private static final Crop BOX = new Crop(50, 22, 61, 40, false);

  /** Steps of a half between 1 and 2. */
  private static final float HALF = 1 / 1024f;

  private static final Set<Pass> PASSES =
      Set.of(
          Pass.BEAUTY,
          Pass.DIFFUSE_DIRECT,
          Pass.SPECULAR_DIRECT,
          Pass.ALBEDO,
          Pass.DEPTH,
          Pass.NORMAL,
          Pass.MATTE_OBJECTS,
          Pass.SAMPLES);

  @TempDir static Path folder;
  private static RenderScene scene;

  @BeforeAll
  static void load() throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), BuildScenes.larkspurPass());
    scene = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
  }

  private static FrameJob job(String name, RenderSettings settings) {
    StrandDocument d =
        new StrandDocument(
            StrandDocument.SCHEMA,
            "Larkspur Line",
            "s",
            1,
            "",
            "s.glb",
            "close",
            "station-close",
            "20",
            24,
            WIDTH,
            HEIGHT,
            RenderDocument.of(settings, null, Delivery.DEFAULT),
            1,
            "2026-11-30");
    return new FrameJob(
        d,
        scene,
        null,
        folder.resolve(name),
        new FrameJob.Machine(
            Workers.CALLER, System::nanoTime, () -> Long.MAX_VALUE, new JobCache(1 << 28)));
  }

  private static RenderSettings settings(int samples) {
    return RenderSettings.of(samples, 3).with(PASSES);
  }

  private static FrameFiles render(FrameJob job) throws Exception {
    job.render(FRAME, List.of(FRAME), true, Stop.NEVER, (x, r) -> {});
    return job.files();
  }

  private static FrameImage read(FrameFiles f) throws Exception {
    return ExrReader.read(f.paths(FRAME).get(0));
  }

  private static void add(FrameJob job, Again again, FrameFiles before) throws Exception {
    String bore = ExrReader.texts(before.paths(FRAME).get(0)).get("posadaFingerprint");
    job.add(again, FRAME, before, bore, Stop.NEVER, (x, r) -> {});
  }

  @Test
  void aBoxIsAWholeRenderInsideAndBitForBitWhatWasThereOutside() throws Exception {
    FrameFiles before = render(job("before", settings(4)));
    FrameFiles whole = render(job("whole", settings(16)));
    FrameJob job = job("box", settings(16));
    add(job, new Again(settings(16).recipe(), BOX, 0, "box"), before);
    FrameImage old = read(before), want = read(whole), got = read(job.files());
    assertEquals(old.channels().size(), got.channels().size());
    int changed = 0;
    for (Channel c : got.channels()) {
      for (int i = 0; i < c.data().length; i++) {
        int x = i % WIDTH, y = i / WIDTH;
        boolean inside =
            x >= BOX.x() && x < BOX.x() + BOX.width() && y >= BOX.y() && y < BOX.y() + BOX.height();
        float is = (inside ? want : old).find(c.name())[i];
        assertEquals(
            Float.floatToRawIntBits(is),
            Float.floatToRawIntBits(c.data()[i]),
            c.name() + " at " + x + ", " + y);
        changed += is == old.find(c.name())[i] ? 0 : 1;
      }
    }
    assertTrue(changed > BOX.width() * BOX.height(), "the box is another picture: " + changed);
    var texts = ExrReader.texts(job.files().paths(FRAME).get(0));
    assertEquals("box 50 22 61 40, 16 samples", texts.get("posadaAgain"));
    assertEquals("4", texts.get("posadaSamples"));
    var bore = ExrReader.texts(before.paths(FRAME).get(0)).get("posadaFingerprint");
    assertTrue(!bore.equals(texts.get("posadaFingerprint")));
    assertTrue(got.texts().keySet().stream().anyMatch(k -> k.endsWith("/manifest")));
  }

  @Test
  void moreSamplesOnTopAreAsAllAtOnce() throws Exception {
    FrameFiles before = render(job("six", settings(6)));
    FrameFiles whole = render(job("eight", settings(8)));
    FrameJob job = job("more", settings(8));
    add(job, new Again(settings(8).recipe(), null, 2, "more"), before);
    FrameImage old = read(before), want = read(whole), got = read(job.files());
    for (String c : List.of("R", "G", "B", "A", "diffuse-direct.G", "albedo.R", "samples.Y")) {
      for (int i = 0; i < WIDTH * HEIGHT; i++) {
        float w = want.find(c)[i];
        assertEquals(w, got.find(c)[i], 2 * HALF * Math.max(Math.abs(w), 0.01f), c + " " + i);
      }
    }
    for (String c : List.of("depth.Z", "normal.X")) {
      assertArrayEquals(old.find(c), got.find(c), c);
    }
    assertEquals("8", ExrReader.texts(job.files().paths(FRAME).get(0)).get("posadaSamples"));
  }

  @Test
  void whatCannotBeAddedToIsSaidWithAWayOut() throws Exception {
    FrameFiles before = render(job("some", settings(1)));
    RenderSettings s = settings(2);
    Again more = new Again(s.recipe(), null, 1, "");
    for (FrameJob job :
        List.of(
            job("a", s.with(new Sampling(1, 2, false, 0.1, 60, 3, false))),
            job("b", s.with(new Sampling(1, 2, true, 0.1, 0, 3, false))))) {
      Exception e = assertThrows(IllegalArgumentException.class, () -> job.check(more, before));
      assertTrue(e.getMessage().contains("render the frames again"), e.getMessage());
    }
    Again outside = new Again(null, new Crop(150, 0, 20, 20, false), 0, "");
    Exception e =
        assertThrows(
            IllegalArgumentException.class, () -> job("c", settings(1)).check(outside, before));
    assertTrue(e.getMessage().contains("outside the picture"), e.getMessage());
  }
}
