package posada.bench;

import com.sun.management.OperatingSystemMXBean;
import java.lang.management.ManagementFactory;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.IntFunction;
import picocli.CommandLine.Command;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.settings.Bounces;
import posada.core.settings.Denoising;
import posada.core.settings.Filter;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;

/** What each default value costs and gives on the demo scenes; docs/settings.md has the table. */
@Command(name = "defaults", description = "Measures what the default values rest on.")
final class DefaultsCommand {
  private static final int FRAME = 24;
  private static final int WIDTH = 384;
  private static final int HEIGHT = 216;
  private static final int FAR = 32;

  private static final Denoising PLAIN = new Denoising(false, 1);
  private static final Denoising CLEAN = new Denoising(true, 1);
  private static final Set<Pass> GUIDED = EnumSet.of(Pass.BEAUTY, Pass.GUIDES);

  private static final OperatingSystemMXBean CPU =
      ManagementFactory.getPlatformMXBean(OperatingSystemMXBean.class);

  private DefaultsCommand() {}

  /** A picture, the share of its light that was clamped, and the CPU seconds that it took. */
  private record Taken(float[][] rgb, double clamped, double seconds) {
    private double light() {
      double sum = 0;
      for (int i = 0; i < rgb[0].length; i++) {
        sum += Luminance.of(rgb[0][i], rgb[1][i], rgb[2][i]);
      }
      return sum / rgb[0].length;
    }
  }

  /** A demo scene with what it is rendered on. */
  private record View(String name, RenderScene scene, String camera, Workers workers) {
    private FrameRenderer frame(RenderSettings s) {
      Moment at = new Moment(FRAME, FRAME / 24.0, 24);
      return scene.frame(camera, at, WIDTH, HEIGHT, s, workers, Stop.NEVER, null);
    }

    private Taken take(RenderSettings s) {
      FrameRenderer f = frame(s);
      long start = CPU.getProcessCpuTime();
      FrameImage image = f.render(1 << 16, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
      double seconds = (CPU.getProcessCpuTime() - start) * 1e-9;
      return new Taken(Quality.rgb(image), f.report().shareCut(), seconds);
    }

    /** Returns the reference of these settings, from two pictures. */
    private Quality reference(RenderSettings s, int samples) {
      return new Quality(
          WIDTH, HEIGHT, take(s.with(samples, 1001)).rgb(), take(s.with(samples, 1002)).rgb());
    }

    private void print(String format, Object... values) {
      System.out.printf(Locale.ROOT, "| %s | " + format + " |%n", join(name, values));
    }

    private static Object[] join(String first, Object[] rest) {
      Object[] all = new Object[rest.length + 1];
      all[0] = first;
      System.arraycopy(rest, 0, all, 1, rest.length);
      return all;
    }
  }

  private interface Body {
    void run(View v) throws Exception;
  }

  private static int each(Body body) throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          workers ->
              body.run(
                  new View(
                      d.name(),
                      new RenderScene(DemoScenes.load(d), workers),
                      d.camera(),
                      workers)));
    }
    return 0;
  }

  /** Bounces of each kind; what is not said is followed far. */
  private record Kind(String name, List<Integer> values, IntFunction<Bounces> of) {}

  private static Bounces bounces(int diffuse, int specular, int transmission) {
    return new Bounces(diffuse, specular, transmission, 64, 0, Bounces.DEFAULT.roughnessFloor());
  }

  private static final List<Kind> KINDS =
      List.of(
          new Kind("diffuse", List.of(1, 2, 3, 4, 5, 6, 8, 12), n -> bounces(n, FAR, FAR)),
          new Kind("specular", List.of(1, 2, 3, 4, 6, 8), n -> bounces(FAR, n, FAR)),
          new Kind("transmission", List.of(2, 4, 6, 8, 12, 16), n -> bounces(FAR, FAR, n)));

  @Command(description = "Light that is missing with so many bounces, against 32 of each kind.")
  int bounces() throws Exception {
    return each(
        v -> {
          RenderSettings s = RenderSettings.of(64, 1);
          Taken far = v.take(s.with(bounces(FAR, FAR, FAR)));
          for (Kind k : KINDS) {
            for (int n : k.values()) {
              Taken t = v.take(s.with(k.of().apply(n)));
              v.print(
                  "%s %d | %.2f %% | %.0f %%",
                  k.name(),
                  n,
                  100 * (1 - t.light() / far.light()),
                  100 * t.seconds() / far.seconds());
            }
          }
        });
  }

  @Command(description = "Error of 64 samples with a clamp, against 1024 without one.")
  int clamp() throws Exception {
    return each(
        v -> {
          RenderSettings s = RenderSettings.DEFAULT;
          Quality q = v.reference(s.with(s.bounces().clampedAt(0)), 512);
          for (double most : new double[] {0, 1, 2, 4, 6, 8, 10, 16, 32, 64}) {
            Taken t = v.take(s.with(s.bounces().clampedAt(most)).with(64, 1));
            v.print("%.0f | %.5f | %.2f %%", most, q.error(t.rgb()), 100 * t.clamped());
          }
        });
  }

  @Command(description = "Error and time of so many samples, plain and denoised.")
  int recipes() throws Exception {
    return each(
        v -> {
          RenderSettings s = RenderSettings.DEFAULT.with(PLAIN);
          Quality q = v.reference(s, 96);
          for (int n : new int[] {4, 8, 16, 32, 64, 128, 256}) {
            Taken plain = v.take(s.with(n, 1));
            Taken clean = v.take(s.with(n, 1).with(CLEAN).with(GUIDED));
            v.print(
                "%d | %.5f | %.1f s | %.5f | %.1f s",
                n, q.error(plain.rgb()), plain.seconds(), q.error(clean.rgb()), clean.seconds());
          }
        });
  }

  private static final List<Filter> FILTERS =
      List.of(
          new Filter(Filter.Shape.BOX, 0.5),
          new Filter(Filter.Shape.TENT, 1),
          new Filter(Filter.Shape.GAUSSIAN, 1),
          new Filter(Filter.Shape.GAUSSIAN, 1.25),
          new Filter(Filter.Shape.GAUSSIAN, 1.5),
          new Filter(Filter.Shape.GAUSSIAN, 2));

  @Command(description = "Noise of 16 samples and edges through a filter, and what it lets pass.")
  int filter() throws Exception {
    return each(
        v -> {
          RenderSettings s = RenderSettings.DEFAULT;
          Quality sharp = v.reference(s.with(new Filter(Filter.Shape.BOX, 0.5)), 128);
          for (Filter f : FILTERS) {
            Taken many = v.take(s.with(f).with(64, 1001));
            Taken few = v.take(s.with(f).with(16, 1));
            Quality own = new Quality(WIDTH, HEIGHT, many.rgb(), many.rgb());
            v.print(
                "%s %.2f px | %.0f %% | %.5f | %.0f %% | %.1f %%",
                f.shape().name().toLowerCase(Locale.ROOT),
                f.radius(),
                100 * sharp.edges(many.rgb(), i -> true),
                own.error(few.rgb()),
                100 * passes(f, 0.25),
                100 * passes(f, 1));
          }
        });
  }

  /** Returns how much of a wave of so many periods a pixel a filter lets pass, along a row. */
  private static double passes(Filter f, double frequency) {
    double sum = 0;
    double weights = 0;
    int steps = 2000;
    for (int i = -steps; i <= steps; i++) {
      double x = f.radius() * i / steps;
      double sigma = f.radius() / 2.5;
      double w =
          switch (f.shape()) {
            case BOX -> 1;
            case TENT -> 1 - Math.abs(x) / f.radius();
            case GAUSSIAN -> Math.exp(-x * x / (2 * sigma * sigma));
          };
      sum += w * Math.cos(2 * Math.PI * frequency * x);
      weights += w;
    }
    return Math.abs(sum / weights);
  }

  @Command(description = "How wide points blur, focused on what is in the middle of the picture.")
  int lens() throws Exception {
    return each(
        v -> {
          FrameImage image =
              v.frame(RenderSettings.of(1, 1).with(EnumSet.of(Pass.DEPTH)))
                  .render(1, v.workers(), Stop.NEVER, FrameRenderer.Progress.NONE);
          float[] depth = image.find("depth.Z");
          double focus = depth[HEIGHT / 2 * WIDTH + WIDTH / 2];
          Camera camera =
              v.scene().scene().cameras().stream()
                  .filter(c -> c.name().equals(v.camera()))
                  .findFirst()
                  .orElseThrow();
          // Of a picture 1920 wide; Lens.DEFAULT's film back.
          double pixels = 1080 / 2.0 / Math.tan(camera.verticalAngle() / 2);
          double metres = pixels / 1920 * Lens.DEFAULT.filmWidth() / 1000;
          for (double stop : new double[] {1.4, 2, 2.8, 4, 5.6, 8, 11, 16}) {
            double[] blur = new double[depth.length];
            for (int i = 0; i < depth.length; i++) {
              double z = depth[i];
              double nearness = Double.isInfinite(z) ? 0 : 1 / z;
              blur[i] = metres / stop * pixels * Math.abs(1 / focus - nearness);
            }
            Arrays.sort(blur);
            v.print(
                "%.0f mm, %.2f m | %.1f | %.1f px | %.1f px | %.0f %%",
                1000 * metres,
                focus,
                stop,
                blur[blur.length / 2],
                blur[blur.length * 9 / 10],
                100.0 * Arrays.stream(blur).filter(b -> b <= 2).count() / blur.length);
          }
        });
  }
}
