package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Crop;
import posada.core.settings.Filter;
import posada.core.settings.Moment;
import posada.core.settings.Multipliers;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.settings.Shutter;
import posada.core.trace.film.Film;
import posada.core.trace.path.PixelFilter;

class SamplingTest {
  private static final Workers ONE = Workers.CALLER;

  private static RenderScene scene() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 6, false, Material.plain("floor", 0.6f, 0.5f, 0.4f, 0, 0.4f))
            .box(new Vec3(0, 0.7, 0), new Vec3(0.7, 0.7, 0.7), TestScenes.diffuse(0.7))
            .square(new Vec3(1.5, 2.5, 0), 0.5, true, TestScenes.lamp(8))
            .camera(new Vec3(2, 3, 5), new Vec3(0, 0.5, 0), 40)
            .sky(Sky.PLAIN);
    return new RenderScene(s.scene(), ONE);
  }

  private static FrameRenderer frame(RenderSettings s) {
    return scene().frame("eye", 0, 40, 30, s);
  }

  private static FrameImage finish(FrameRenderer r) {
    return r.render(64, ONE, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static double error(FrameImage a, FrameImage reference) {
    float[] p = a.find("G"), q = reference.find("G");
    double sum = 0;
    for (int i = 0; i < p.length; i++) {
      sum += (p[i] - q[i]) * (p[i] - q[i]);
    }
    return Math.sqrt(sum / p.length);
  }

  @Test
  void errorFallsAtLeastWithTheRootOfTheSamples() {
    FrameImage reference = finish(frame(RenderSettings.of(8192, 99)));
    double few = 0, many = 0;
    for (int seed = 0; seed < 4; seed++) {
      few += error(finish(frame(RenderSettings.of(16, seed))), reference);
      many += error(finish(frame(RenderSettings.of(256, seed))), reference);
    }
    assertTrue(many <= few / 4 * 1.1, few + " then " + many);
  }

  /** Paths are the same with and without a limit, so that what is gone is what they differ by. */
  @Test
  void whatALimitTakesIsReported() {
    RenderSettings all = RenderSettings.of(64, 1).withBounces(4, 0);
    FrameRenderer whole = frame(all), limited = frame(all.withBounces(4, 0.05));
    double light = luminance(finish(whole)), left = luminance(finish(limited));
    assertTrue(left < 0.97 * light, left + " of " + light);
    assertEquals((light - left) / light, limited.report().shareCut(), 1e-4);
    assertEquals(0, whole.report().shareCut());
  }

  private static double luminance(FrameImage i) {
    return 0.2126 * TestScenes.mean(i, "R")
        + 0.7152 * TestScenes.mean(i, "G")
        + 0.0722 * TestScenes.mean(i, "B");
  }

  @Test
  void theFirstSamplesOfManyAreAGoodPicture() {
    FrameRenderer many = frame(RenderSettings.of(1024, 3));
    many.advance(16, ONE, Stop.NEVER);
    FrameImage reference = finish(frame(RenderSettings.of(4096, 99)));
    double early = error(many.film().image(Set.of(Pass.BEAUTY)), reference);
    double own = error(finish(frame(RenderSettings.of(16, 3))), reference);
    assertTrue(early < 1.4 * own, early + " against " + own);
  }

  @Test
  void splittingPathsChangesNoise() {
    FrameImage reference = finish(frame(RenderSettings.of(4096, 99)));
    RenderSettings plain = RenderSettings.of(16, 1);
    RenderSettings split = plain.with(new Multipliers(4, 2, 3, 4));
    double a = error(finish(frame(plain)), reference), b = error(finish(frame(split)), reference);
    assertTrue(b < 0.85 * a, a + " then " + b);
    assertEquals(
        TestScenes.mean(reference, "G"),
        TestScenes.mean(finish(frame(split.with(256, 1))), "G"),
        0.004);
    assertEquals(
        "16 camera rays for each pixel; at the first surface up to 4 scattered rays and 4 light"
            + " rays for each of them; every path ends after at most 18 segments",
        split.rays().sentence());
  }

  @Test
  void aRegionIsPartOfTheWholePicture() {
    FrameImage whole = finish(frame(RenderSettings.of(8, 1)));
    Crop alone = new Crop(7, 5, 20, 11, true);
    FrameImage part = finish(frame(RenderSettings.of(8, 1).with(alone)));
    FrameImage within =
        finish(frame(RenderSettings.of(8, 1).with(new Crop(7, 5, 20, 11, false)))).full();
    assertEquals(20, part.width());
    assertEquals(11, part.height());
    assertEquals(40, within.width());
    for (int y = 0; y < 30; y++) {
      for (int x = 0; x < 40; x++) {
        boolean in = x >= 7 && x < 27 && y >= 5 && y < 16;
        float want = whole.find("R")[y * 40 + x];
        assertEquals(in ? want : 0, within.find("R")[y * 40 + x]);
        if (in) {
          assertEquals(want, part.find("R")[(y - 5) * 20 + x - 7]);
        }
      }
    }
    assertThrows(
        IllegalArgumentException.class,
        () -> frame(RenderSettings.of(8, 1).with(new Crop(30, 5, 20, 11, true))));
  }

  @Test
  void adaptiveSamplingSpendsSamplesWhereThereIsNoise() {
    Sampling s = new Sampling(16, 1024, true, 0.02, 0, 1, false);
    FrameRenderer r = frame(RenderSettings.DEFAULT.with(s));
    FrameImage adaptive = finish(r);
    FrameReport report = r.report();
    assertTrue(report.shareClean() > 0.97, report.toString());
    assertTrue(report.samplesSpent() < 0.6 * 1024 * 40 * 30, report.toString());
    assertTrue(report.noise() < 0.02, report.toString());
    FrameImage reference = finish(frame(RenderSettings.of(4096, 99)));
    assertEquals(TestScenes.mean(reference, "G"), TestScenes.mean(adaptive, "G"), 0.004);
    // Bright and dark parts alike: relative errors of both halves are of the same size.
    double[] bright = new double[2];
    double[] dark = new double[2];
    float[] p = adaptive.find("G"), q = reference.find("G");
    double mean = TestScenes.mean(reference, "G");
    for (int i = 0; i < p.length; i++) {
      double[] to = q[i] > mean ? bright : dark;
      to[0] += Math.pow((p[i] - q[i]) / (q[i] + Film.DARK), 2);
      to[1]++;
    }
    assertTrue(Math.sqrt(bright[0] / bright[1]) < 0.03);
    assertTrue(Math.sqrt(dark[0] / dark[1]) < 0.03);
  }

  @Test
  void aLimitInSecondsEndsTheFrameAndSaysSo() {
    Sampling s = new Sampling(1, 1024, false, 0.02, 10, 1, false);
    FrameRenderer r = frame(RenderSettings.DEFAULT.with(s));
    // Every look at the clock finds half a second gone.
    AtomicLong clock = new AtomicLong();
    FrameImage image =
        r.render(
            4, ONE, Stop.NEVER, FrameRenderer.Progress.NONE, () -> clock.addAndGet(500_000_000L));
    assertTrue(r.report().outOfTime());
    assertTrue(r.report().samplesOfMost() < 1024 && r.report().samplesOfMost() > 4);
    assertTrue(TestScenes.mean(image, "G") > 0);
    assertTrue(clock.get() < 14_000_000_000L);
  }

  @Test
  void seedsChangeThePatternOnlyWhenTheyShould() {
    RenderScene s = scene();
    Sampling fixed = new Sampling(4, 4, false, 0.02, 0, 1, false);
    Sampling moving = new Sampling(4, 4, false, 0.02, 0, 1, true);
    assertArrayEquals(at(s, fixed, 1), at(s, fixed, 2));
    assertFalse(java.util.Arrays.equals(at(s, moving, 1), at(s, moving, 2)));
    assertArrayEquals(at(s, moving, 2), at(s, moving, 2));
  }

  private static float[] at(RenderScene s, Sampling sampling, int frame) {
    return finish(
            s.frame(
                "eye",
                new Moment(frame, 0, 24),
                16,
                12,
                RenderSettings.DEFAULT.with(sampling),
                ONE,
                Stop.NEVER,
                null))
        .find("G");
  }

  @Test
  void memoryIsCheckedBeforeAndFailsClearlyAfter() {
    FrameFailure before =
        assertThrows(
            FrameFailure.class,
            () ->
                scene()
                    .frame(
                        "eye",
                        Moment.at(0),
                        8000,
                        8000,
                        RenderSettings.DEFAULT,
                        ONE,
                        Stop.NEVER,
                        () -> 1L << 28));
    assertTrue(before.getMessage().contains("256 MiB are free"), before.getMessage());
    Workers full =
        new Workers(
            r -> {
              throw new OutOfMemoryError("test");
            },
            1);
    FrameFailure after =
        assertThrows(
            FrameFailure.class, () -> frame(RenderSettings.of(1, 0)).advance(1, full, Stop.NEVER));
    assertTrue(after.getMessage().contains("more memory"), after.getMessage());
  }

  /** A bending mesh takes more while the shutter is open, and the estimate says so. */
  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void theEstimateOfABendingMeshIsWhatItTakes(boolean blur) {
    int n = 120;
    float[] p = new float[n * n * 3];
    float[] up = new float[n * n * 3];
    int[] t = new int[(n - 1) * (n - 1) * 6];
    for (int i = 0; i < n * n; i++) {
      p[i * 3] = i % n;
      p[i * 3 + 2] = i / n;
      up[i * 3 + 1] = i % 7;
    }
    for (int i = 0; i < t.length / 6; i++) {
      int a = i / (n - 1) * n + i % (n - 1);
      System.arraycopy(new int[] {a, a + n, a + 1, a + 1, a + n, a + n + 1}, 0, t, i * 6, 6);
    }
    Primitive sheet =
        new Primitive(
            p,
            null,
            null,
            new float[0][],
            null,
            t,
            0,
            null,
            List.of(new Primitive.Target(up, null, null)));
    Animation.Channel bends =
        new Animation.Channel(
            0,
            Animation.Path.WEIGHTS,
            Animation.Interpolation.LINEAR,
            new float[] {0, 1},
            new float[] {0, 1});
    Trs eye = new Trs(new Vec3(0, 50, 0), Quat.IDENTITY, Vec3.ONE);
    Scene s =
        new Scene(
            "s",
            List.of(
                new Node("sheet", -1, Trs.IDENTITY, null, 0, -1, -1),
                new Node("eye", -1, eye, null, -1, 0, -1)),
            List.of(new Mesh("sheet", List.of(sheet), new float[1])),
            List.of(TestScenes.diffuse(0.5)),
            List.of(),
            List.of(new Camera("eye", 1, 0)),
            List.of(),
            List.of(new Animation("bends", List.of(bends))),
            Sky.PLAIN);
    RenderSettings settings =
        RenderSettings.DEFAULT.with(new Shutter(blur, 180, 0, true, true, true, 2));
    RenderScene ready = new RenderScene(s, ONE);
    double takes =
        ready.frame("eye", new Moment(12, 0.5, 24), 8, 8, settings, ONE, Stop.NEVER, null).bytes();
    assertEquals(1, ready.frameBytes(8, 8, settings) / takes, 0.2);
  }

  @Test
  void theFilterIsSampledByItsWeight() {
    for (Filter.Shape shape : Filter.Shape.values()) {
      PixelFilter f = new PixelFilter(new Filter(shape, 1.5));
      double sum = 0, square = 0;
      int n = 100_000;
      for (int i = 0; i < n; i++) {
        double x = f.offset((i + 0.5f) / n);
        assertTrue(Math.abs(x) <= 1.5);
        sum += x;
        square += x * x;
      }
      double variance =
          switch (shape) {
            case BOX -> 1.5 * 1.5 / 3;
            case TENT -> 1.5 * 1.5 / 6;
            // A bell cut at 2.5 deviations keeps 0.9112 of its variance.
            case GAUSSIAN -> 0.6 * 0.6 * 0.9112;
          };
      assertEquals(0, sum / n, 1e-3);
      assertEquals(variance, square / n, 0.01 * variance);
    }
  }

  @Test
  void everyNumberIsFiniteWhateverTheSceneHolds() {
    Random random = new Random(8);
    TestScenes s = new TestScenes();
    for (int i = 0; i < 24; i++) {
      Material m =
          Material.named("m" + i)
              .base(random.nextFloat(), random.nextFloat(), random.nextFloat(), 1)
              .metallic(i % 3 == 0 ? random.nextFloat() : 0)
              .roughness(i % 5 == 0 ? 0 : random.nextFloat())
              .transmission(
                  new Material.Transmission(i % 2, null, i % 4, new float[] {0.5f, 0.9f, 1}, 0.3f))
              .coat(new Material.Coat(i % 3 / 2f, null, 0.1f, null, null))
              .sheen(new Material.Sheen(new float[] {i % 4 / 4f, 0.3f, 0}, null, 0.5f, null))
              .emission(i % 7 == 0 ? 30 : 0, 0, 0)
              .build();
      Vec3 at = new Vec3(random.nextGaussian(), random.nextGaussian(), random.nextGaussian());
      s.box(at, new Vec3(0.3, 0.4, 0.2), m);
    }
    Light l =
        new Light(
            "l", Light.Kind.POINT, new float[] {1, 1, 1}, 5, Double.POSITIVE_INFINITY, 0, 1, 0.1);
    s.light(l, Vec3.ZERO, new Vec3(0, -1, 0));
    s.camera(new Vec3(0, 0, 6), Vec3.ZERO, 45).sky(Sky.PLAIN);
    FrameRenderer r =
        new RenderScene(s.scene(), ONE).frame("eye", 0, 48, 48, RenderSettings.of(64, 0));
    FrameImage image = finish(r);
    for (String c : new String[] {"R", "G", "B", "A"}) {
      TestScenes.mean(image, c);
    }
    assertFalse(r.film().dropped());
  }
}
