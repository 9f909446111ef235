package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.settings.Denoising;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.Preview;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.files.AtomicFile;
import posada.formats.light.LightFile;
import posada.formats.preview.BurnIn;
import posada.formats.preview.PreviewFilm;
import posada.formats.preview.PreviewRecipe;

/** What makes a slow sequence cheap: previews, clay, baked light. */
@Command(name = "sequences", description = "Measures previews, clay and baked light.")
final class SequencesCommand {
  private static final int FRAME = 24;
  private static final int SAMPLES = 16;

  /** Frames of ticket-hall's animation. */
  private static final int STRAND = 72;

  /** Samples of spots that are held against a reference. */
  private static final int SPOT_SAMPLES = 4096;

  /**
   * Pixels along each side of the blocks that flicker is measured in, so that pixels that do not
   * lie on each other average out.
   */
  private static final int FLICKER = 8;

  /** Pixels that a pixel's filter reaches, to each side. */
  private static final int REACH = 2;

  private SequencesCommand() {}

  private static List<Moment> moments(int from, int to) {
    return IntStream.rangeClosed(from, to).mapToObj(f -> new Moment(f, f / 24.0, 24)).toList();
  }

  @Command(description = "Frames a second of previews of larkspur-pass, written as films.")
  int previews(
      @Option(
              names = "--cameras",
              split = ",",
              defaultValue = "valley-wide,station-close,car-ride,summit")
          List<String> cameras,
      @Option(names = "--frames", defaultValue = "96") int frames)
      throws Exception {
    Path file = Files.createTempDirectory("preview").resolve("p.mp4");
    Figures.with(
        2,
        workers -> {
          RenderScene scene =
              new RenderScene(DemoScenes.load(DemoScenes.all("larkspur-pass").get(0)), workers);
          // Not measured: until the compiler has done its work.
          for (int k = 0; k < 3; k++) {
            seconds(film(scene, cameras.get(0), Preview.Style.SHADED, frames), file, workers);
          }
          for (Preview.Style style : Preview.Style.values()) {
            for (String camera : cameras) {
              PreviewFilm film = film(scene, camera, style, frames);
              double best = Double.POSITIVE_INFINITY;
              for (int k = 0; k < 3; k++) {
                best = Math.min(best, seconds(film, file, workers));
              }
              Figures.print(
                  "preview, " + style.text() + ", " + camera + ": frames a second",
                  frames / best,
                  12,
                  true);
            }
          }
        });
    return 0;
  }

  private static PreviewFilm film(
      RenderScene scene, String camera, Preview.Style style, int frames) {
    Preview look = new Preview(style, 1, 0.6, Set.of(), 0, 0);
    return new PreviewFilm(
        scene,
        camera,
        moments(1, frames),
        640,
        360,
        new FrameRate(24),
        RenderSettings.DEFAULT,
        new PreviewRecipe(look, 100, 1, EnumSet.allOf(BurnIn.class), "Larkspur Line", 80),
        Map.of("shot", camera, "camera", camera, "layer", "main"));
  }

  private static double seconds(PreviewFilm film, Path file, Workers workers) throws Exception {
    long start = System.nanoTime();
    film.film(file, true, workers, Stop.NEVER, n -> {});
    return (System.nanoTime() - start) * 1e-9;
  }

  @Command(description = "Time of clay over that of the full picture, at equal noise.")
  int clay(@Option(names = "--rounds", defaultValue = "3") int rounds) throws Exception {
    DemoScenes.Demo d = DemoScenes.all("larkspur-pass").get(0);
    Figures.with(
        2,
        workers -> {
          RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
          RenderSettings full = RenderSettings.DEFAULT;
          RenderSettings clay = full.clay();
          References.View f = new References.View(scene, d.camera(), FRAME, 640, 360, full);
          References.View c = new References.View(scene, d.camera(), FRAME, 640, 360, clay);
          Quality truth =
              References.of(
                  d.name() + "-clay",
                  new References.View(scene, d.camera(), FRAME, 640, 360, clay.with(Denoising.OFF)),
                  128,
                  2,
                  workers);
          double[] ratio = new double[rounds];
          for (int k = 0; k < rounds; k++) {
            EqualNoise whole = EqualNoise.of(f, SAMPLES, 1 + 2 * k, workers);
            double error = Double.POSITIVE_INFINITY;
            double seconds = 0;
            int samples = 2;
            // With blotches and smeared edges, not only noise: against what clay looks like.
            while (error > whole.error() && samples < SAMPLES) {
              samples += 2;
              float[][][] p = new float[1][][];
              int n = samples;
              int seed = 1 + k;
              seconds = Figures.wall(() -> p[0] = Quality.rgb(c.render(n, seed, workers)));
              error = truth.error(p[0]);
            }
            System.out.printf(
                Locale.ROOT,
                "full, %d samples: error %.5f, %.1f s; clay, %d samples, cleaned: error %.5f (of"
                    + " the reference: %.5f), %.1f s%n",
                SAMPLES,
                whole.error(),
                whole.seconds(),
                samples,
                error,
                truth.ownError(),
                seconds);
            ratio[k] = seconds / whole.seconds();
          }
          Figures.print(
              d.name() + ": clay over full, time at equal noise",
              Figures.median(ratio),
              0.44,
              false);
        });
    return 0;
  }

  @Command(description = "Baked light in ticket-hall: time, difference to a reference, flicker.")
  int light(
      @Option(names = "--file", description = "light that was baked; baked if it is not there")
          Path file,
      @Option(names = "--frames", split = ",", defaultValue = "12,36,60") List<Integer> frames,
      @Option(
              names = "--spots",
              defaultValue = "16384",
              description = "samples of half a reference; more where its halves differ")
          int samples,
      @Option(names = "--pictures", description = "folder for pictures") Path pictures)
      throws Exception {
    DemoScenes.Demo d = DemoScenes.all("ticket-hall").get(0);
    Figures.with(
        2,
        workers -> {
          RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
          BakedLight light =
              file != null && Files.exists(file) ? LightFile.read(file) : baked(d, scene, workers);
          if (file != null && !Files.exists(file)) {
            AtomicFile.publish(file, LightFile.encode(light), false);
          }
          System.out.printf(
              Locale.ROOT,
              "%s: %d points from frames %s, baked in %.0f s%n",
              d.name(),
              light.points().count(),
              light.info().frames(),
              light.info().seconds());
          RenderScene lit = scene.withBakedLight(light);
          speed(d, scene, lit, light.info().seconds(), frames, workers);
          difference(d, scene, lit, samples, workers);
          if (pictures != null) {
            pictures(d, lit, pictures, workers);
          }
          flicker(d, lit, workers);
        });
    return 0;
  }

  private static BakedLight baked(DemoScenes.Demo d, RenderScene scene, Workers workers) {
    List<Moment> all = moments(1, STRAND);
    RenderSettings s = RenderSettings.DEFAULT;
    long start = System.nanoTime();
    int every = scene.suggestEvery(d.camera(), all, s, workers);
    System.out.printf(
        Locale.ROOT,
        "%s: every %d. frame is suggested, found in %.1f s%n",
        d.name(),
        every,
        (System.nanoTime() - start) * 1e-9);
    s = s.with(s.irradiance().each(every));
    return scene.bake(
        d.camera(),
        RenderScene.someOf(all, every),
        640,
        360,
        s,
        workers,
        Stop.NEVER,
        x -> {},
        System::nanoTime);
  }

  /** Time of the whole strand at the noise that plain pictures of 128 samples have. */
  private static void speed(
      DemoScenes.Demo d,
      RenderScene scene,
      RenderScene lit,
      double bakeSeconds,
      List<Integer> frames,
      Workers workers) {
    double plainSeconds = 0;
    double bakedSeconds = 0;
    for (int f : frames) {
      RenderSettings s = RenderSettings.DEFAULT;
      EqualNoise p =
          EqualNoise.of(
              new References.View(scene, d.camera(), f, 640, 360, s), SAMPLES, 1, workers);
      EqualNoise b =
          EqualNoise.of(new References.View(lit, d.camera(), f, 640, 360, s), SAMPLES, 1, workers);
      System.out.printf(
          Locale.ROOT,
          "%s frame %d: plain: error %.5f, %.1f s; baked: error %.5f, %.1f s%n",
          d.name(),
          f,
          p.error(),
          p.seconds(),
          b.error(),
          b.seconds());
      double wanted = p.error() * SAMPLES / 128;
      plainSeconds += p.secondsFor(wanted) / frames.size();
      bakedSeconds += b.secondsFor(wanted) / frames.size();
    }
    double without = plainSeconds / bakedSeconds;
    double whole = STRAND * plainSeconds / (bakeSeconds + STRAND * bakedSeconds);
    System.out.printf(
        Locale.ROOT,
        "%s: at the noise of 128 plain samples a frame takes %.1f s plain, %.1f s baked: %.2f times"
            + " faster without the bake%n",
        d.name(),
        plainSeconds,
        bakedSeconds,
        without);
    Figures.print(d.name() + ": baked over the strand, times faster", whole, 8, true);
  }

  /** How far spots of a frame are off, against paths without any limit on what is bright. */
  private static void difference(
      DemoScenes.Demo d, RenderScene scene, RenderScene lit, int samples, Workers workers)
      throws Exception {
    RenderSettings s = RenderSettings.DEFAULT;
    RenderSettings unlimited = s.with(s.bounces().clampedAt(0));
    References.View truth = new References.View(scene, d.camera(), FRAME, 640, 360, unlimited);
    double[][] halves = Spots.reference(d.name(), truth, samples, workers);
    double[] mean = new double[Spots.COUNT];
    double[] own = new double[Spots.COUNT];
    for (int i = 0; i < mean.length; i++) {
      mean[i] = (halves[0][i] + halves[1][i]) / 2;
      own[i] = Spots.apart(halves[0][i], mean[i]);
    }
    System.out.printf(
        Locale.ROOT,
        "%s: in %d spots of %d x %d pixels the reference's own error is %.2f %% (half of what its"
            + " halves differ by), 99th percentile %.2f %%%n",
        d.name(),
        Spots.COUNT,
        Spots.SIDE,
        Spots.SIDE,
        100 * Arrays.stream(own).average().orElse(0),
        100 * percentile(own, 0.99));
    double[] spots =
        Spots.of(
            new References.View(lit, d.camera(), FRAME, 640, 360, s), SPOT_SAMPLES, 1, workers);
    double[] off = new double[Spots.COUNT];
    for (int i = 0; i < off.length; i++) {
      off[i] = Spots.apart(spots[i], mean[i]);
    }
    System.out.printf(
        Locale.ROOT,
        "%s: baked with %d samples: all spots together %.2f %% off%n",
        d.name(),
        SPOT_SAMPLES,
        100 * (Arrays.stream(spots).sum() / Arrays.stream(mean).sum() - 1));
    String what = d.name() + ": baked against reference, ";
    double all = Arrays.stream(off).average().orElse(0);
    Figures.print(what + "mean, %", 100 * all, 2, false);
    Figures.print(what + "99th of 100, %", 100 * percentile(off, 0.99), 5, false);
  }

  private static void pictures(DemoScenes.Demo d, RenderScene lit, Path folder, Workers workers)
      throws Exception {
    int w = 640, h = 360;
    References.View plain =
        new References.View(
            lit.withBakedLight(null), d.camera(), FRAME, w, h, RenderSettings.DEFAULT);
    Quality q = References.of(d.name(), plain, 512, 2, workers);
    float[][] p =
        Quality.rgb(
            new References.View(lit, d.camera(), FRAME, w, h, RenderSettings.DEFAULT)
                .render(128, 1, workers));
    Path to = folder.resolve(d.name());
    Pictures.save(Path.of(to + "-baked.jpg"), w, h, p);
    Pictures.saveDifference(Path.of(to + "-baked-difference.jpg"), w, h, p, q.reference());
  }

  private static double percentile(double[] v, double share) {
    double[] sorted = v.clone();
    Arrays.sort(sorted);
    return sorted[(int) (share * (sorted.length - 1))];
  }

  /**
   * Baked light of what two neighbouring frames both see: each point of one is looked for in the
   * other, and its light compared. Pixels that show two surfaces are left out: how much of which
   * changes with the view.
   */
  private static void flicker(DemoScenes.Demo d, RenderScene lit, Workers workers) {
    int w = 640, h = 360;
    RenderSettings s =
        RenderSettings.DEFAULT.with(
            EnumSet.of(
                Pass.BEAUTY,
                Pass.DIFFUSE_INDIRECT,
                Pass.ALBEDO,
                Pass.MOTION_NEXT,
                Pass.POSITION,
                Pass.NORMAL));
    FrameImage[] f = new FrameImage[2];
    for (int k = 0; k < 2; k++) {
      f[k] =
          Pictures.render(
              new References.View(lit, d.camera(), FRAME + k, w, h, s), s.with(32, 1), workers);
    }
    float[] mx = f[0].find("motion-next.X"), my = f[0].find("motion-next.Y");
    int columns = w / FLICKER;
    double[] changed = new double[columns * (h / FLICKER)];
    double mean = 0;
    int count = 0;
    for (int i = 0; i < w * h; i++) {
      int x = (int) Math.floor(i % w + 0.5 + mx[i]), y = (int) Math.floor(i / w + 0.5 + my[i]);
      if (x < 0 || y < 0 || x >= w || y >= h || far(f[0], i, f[1], y * w + x)) {
        continue;
      }
      if (!flat(f[0], i, w, h) || !flat(f[1], y * w + x, w, h)) {
        continue;
      }
      double a = light(f[0], i), b = between(f[1], i % w + mx[i], i / w + my[i], w);
      if (a > 0 && b > 0) {
        changed[i / w / FLICKER * columns + i % w / FLICKER] += b - a;
        mean += a;
        count++;
      }
    }
    double sum = Arrays.stream(changed).map(Math::abs).sum();
    System.out.printf(
        Locale.ROOT,
        "%s: %d of %d pixels are seen in both frames and not at an edge%n",
        d.name(),
        count,
        w * h);
    Figures.print(
        d.name() + ": change of what both frames see, % of mean", 100 * sum / mean, 0.2, false);
  }

  private static boolean far(FrameImage a, int i, FrameImage b, int j) {
    double[] p = vector(a, "position", i), q = vector(b, "position", j);
    return Math.hypot(Math.hypot(p[0] - q[0], p[1] - q[1]), p[2] - q[2]) > 0.02;
  }

  /** Returns the light between four pixels. */
  private static double between(FrameImage f, double x, double y, int w) {
    int left = (int) Math.floor(x), top = (int) Math.floor(y), i = top * w + left;
    double u = x - left, v = y - top;
    double a = light(f, i), b = light(f, i + 1), c = light(f, i + w), d = light(f, i + w + 1);
    return (1 - v) * ((1 - u) * a + u * b) + v * ((1 - u) * c + u * d);
  }

  /** Returns whether all that a pixel's filter reaches is one flat surface. */
  private static boolean flat(FrameImage f, int i, int w, int h) {
    int x = i % w, y = i / w;
    if (x < REACH || y < REACH || x >= w - REACH || y >= h - REACH) {
      return false;
    }
    double[] n = vector(f, "normal", i), p = vector(f, "position", i);
    for (int k = 0; k < (2 * REACH + 1) * (2 * REACH + 1); k++) {
      int j = i + (k / (2 * REACH + 1) - REACH) * w + k % (2 * REACH + 1) - REACH;
      double[] m = vector(f, "normal", j), q = vector(f, "position", j);
      double cos = 0, height = 0;
      for (int c = 0; c < 3; c++) {
        cos += n[c] * m[c];
        height += n[c] * (q[c] - p[c]);
      }
      if (cos < 0.99 || Math.abs(height) > 0.01) {
        return false;
      }
    }
    return true;
  }

  private static double[] vector(FrameImage f, String pass, int i) {
    return new double[] {f.find(pass + ".X")[i], f.find(pass + ".Y")[i], f.find(pass + ".Z")[i]};
  }

  private static double light(FrameImage f, int i) {
    double albedo = f.find("albedo.G")[i];
    return albedo > 0.02 ? f.find("diffuse-indirect.G")[i] / albedo : 0;
  }
}
