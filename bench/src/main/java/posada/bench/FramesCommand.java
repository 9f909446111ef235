package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.function.Function;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.MemoryEstimate;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;

/** Ratios of whole frames: threads, samplers, many lights, what is not tracing. */
@Command(name = "frames", description = "Measures whole frames of the demo scenes.")
final class FramesCommand {
  private static final int WIDTH = 240;
  private static final int HEIGHT = 136;

  private FramesCommand() {}

  private static RenderSettings settings(int samples, int seed, Sampling.Pattern pattern) {
    return RenderSettings.DEFAULT.with(
        new Sampling(samples, samples, false, 1, 0, seed, false, pattern));
  }

  private static FrameRenderer frame(
      RenderScene s, String camera, int frame, RenderSettings settings, Workers workers) {
    return frame(s, camera, frame, WIDTH, HEIGHT, settings, workers);
  }

  private static FrameRenderer frame(
      RenderScene s, String camera, int frame, int width, int height, RenderSettings q, Workers w) {
    Moment at = new Moment(frame, frame / 24.0, 24);
    return s.frame(camera, at, width, height, q, w, Stop.NEVER, null);
  }

  private static FrameImage render(
      RenderScene s, String camera, RenderSettings settings, Workers workers) {
    return rendered(frame(s, camera, 24, settings, workers), workers);
  }

  private static FrameImage rendered(FrameRenderer frame, Workers workers) {
    return frame.render(1 << 16, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  @Command(description = "How much faster two threads are than one.")
  int threads(
      @Option(names = "--samples", defaultValue = "48") int samples,
      @Option(names = "--rounds", defaultValue = "6") int rounds,
      @Option(names = "--only", description = "one scene") String only)
      throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all(only)) {
      RenderScene s = new RenderScene(DemoScenes.load(d), Workers.CALLER);
      RenderSettings settings = settings(samples, 0, Sampling.Pattern.SPREAD);
      Turns frames = new Turns(rounds);
      Turns registers = new Turns(rounds);
      Figures.with(
          2,
          both -> {
            for (int i = -1; i < rounds; i++) {
              for (int k = 0; k < 2; k++) {
                Workers w = new Workers(both.executor(), k + 1);
                int tasks = k + 1;
                frames.time(i, k, () -> render(s, d.camera(), settings, w));
                registers.time(i, k, () -> w.each(tasks, Turns::registers));
              }
            }
          });
      System.out.println(d.name() + ": " + frames.told(1));
      System.out.println("this machine, without any memory: " + registers.told(2));
      Figures.print(d.name() + ": two threads over one", frames.best(), 1.85, true);
    }
    return 0;
  }

  @Command(description = "Share of a one-minute frame that is neither tracing nor shading.")
  int share(@Option(names = "--seconds", defaultValue = "60") double seconds) throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          w -> {
            RenderSettings settings =
                RenderSettings.DEFAULT
                    .with(new Sampling(1, 1 << 16, false, 1, seconds, 0, false))
                    .with(Set.of(Pass.BEAUTY, Pass.DEPTH));
            Path file = Files.createTempFile(d.name(), ".exr");
            long start = System.nanoTime();
            RenderScene s = new RenderScene(DemoScenes.load(d), w);
            long built = System.nanoTime();
            FrameRenderer r = frame(s, d.camera(), 24, settings, w);
            long begun = System.nanoTime();
            long[] traced = {0};
            FrameImage image =
                r.render(
                    8,
                    w,
                    Stop.NEVER,
                    FrameRenderer.Progress.NONE,
                    () -> traced[0] = System.nanoTime());
            AtomicFile.publish(file, ExrWriter.encode(image, ExrHeader.NONE), true);
            long end = System.nanoTime();
            Files.delete(file);
            double second = Figures.wall(() -> frame(s, d.camera(), 25, settings, w));
            System.out.printf(
                Locale.ROOT,
                "%s: load and build %.2f s, write %.2f s, the second frame prepares %.3f s%n",
                d.name(),
                (built - start) * 1e-9,
                (end - traced[0]) * 1e-9,
                second);
            double rest = (end - traced[0] + begun - start) / (double) (end - start);
            Figures.print(d.name() + ": not tracing, share of the frame", rest, 0.1, false);
          });
    }
    return 0;
  }

  @Command(description = "What passes cost: CPU time over that of the beauty alone.")
  int passes(@Option(names = "--samples", defaultValue = "16") int samples) throws Exception {
    Set<Pass> light = EnumSet.of(Pass.BEAUTY, Pass.LIGHT_GROUPS);
    light.addAll(Pass.LIGHT_PARTS);
    Set<Pass> data = EnumSet.complementOf(EnumSet.copyOf(light));
    data.removeAll(Set.of(Pass.AMBIENT_OCCLUSION, Pass.OWN, Pass.GUIDES));
    List<Set<Pass>> sets =
        List.of(
            Set.of(Pass.BEAUTY), light, data, Set.of(Pass.AMBIENT_OCCLUSION), Set.of(Pass.GUIDES));
    for (DemoScenes.Demo d : DemoScenes.all()) {
      RenderScene s = new RenderScene(DemoScenes.load(d), Workers.CALLER);
      RenderSettings settings = settings(samples, 0, Sampling.Pattern.SPREAD);
      double[] best = new double[sets.size()];
      java.util.Arrays.fill(best, Double.POSITIVE_INFINITY);
      for (int i = -1; i < 6; i++) {
        for (int k = 0; k < best.length; k++) {
          RenderSettings with = settings.with(sets.get(k));
          double t = Figures.cpu(() -> render(s, d.camera(), with, Workers.CALLER));
          best[k] = i < 0 ? best[k] : Math.min(best[k], t);
        }
      }
      System.out.printf(
          Locale.ROOT,
          "%s: light parts and groups %.3f, data %.3f, ambient occlusion %.3f, guides %.3f%n",
          d.name(),
          best[1] / best[0],
          best[2] / best[0],
          best[3] / best[0],
          best[4] / best[0]);
    }
    return 0;
  }

  @Command(description = "Longest time that a frame goes on after it was asked to stop.")
  int stop(@Option(names = "--times", defaultValue = "40") int times) throws Exception {
    Random random = new Random(7);
    for (DemoScenes.Demo d : DemoScenes.all()) {
      RenderScene s = new RenderScene(DemoScenes.load(d), Workers.CALLER);
      RenderSettings settings = settings(1 << 16, 0, Sampling.Pattern.SPREAD);
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          w -> {
            double longest = 0;
            for (int i = 0; i < times; i++) {
              // From the middle of the preparation to well into the samples.
              long after = (long) (Math.pow(random.nextDouble(), 2) * 1.5e9);
              long asked = System.nanoTime() + after;
              Stop stop = () -> System.nanoTime() >= asked;
              Moment at = new Moment(i, i / 24.0, 24);
              FrameRenderer r = s.frame(d.camera(), at, WIDTH, HEIGHT, settings, w, stop, null);
              if (r != null) {
                r.render(1 << 16, w, stop, FrameRenderer.Progress.NONE);
              }
              longest = Math.max(longest, (System.nanoTime() - asked) * 1e-9);
            }
            Figures.print(d.name() + ": seconds from stop to end", longest, 0.2, false);
          });
    }
    return 0;
  }

  @Command(description = "The estimate of a scene's and a frame's memory over the heap in use.")
  int memory() throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      int width = 1920;
      int height = 1080;
      DemoScenes.load(d);
      long empty = heap();
      Scene scene = DemoScenes.load(d);
      RenderScene ready = new RenderScene(scene, Workers.CALLER);
      long open = heap();
      FrameRenderer frame =
          ready.frame(
              d.camera(),
              Moment.at(1),
              width,
              height,
              RenderSettings.DEFAULT,
              Workers.CALLER,
              Stop.NEVER,
              null);
      long exposed = heap();
      // Kept alive until here.
      long counted = ready.bytes() + frame.bytes();
      System.out.printf(
          Locale.ROOT,
          "%s: scene %d KB, frame %d KB, counted %d KB%n",
          d.name(),
          (open - empty) / 1024,
          (exposed - open) / 1024,
          counted / 1024);
      double scenes = MemoryEstimate.scene(scene) / (double) (open - empty);
      double frames =
          ready.frameBytes(width, height, RenderSettings.DEFAULT) / (double) (exposed - open);
      Figures.print(d.name() + ": scene, estimate over heap", scenes, 1.2, false);
      Figures.print(d.name() + ": scene, estimate over heap", scenes, 0.8, true);
      Figures.print(d.name() + ": frame, estimate over heap", frames, 1.2, false);
      Figures.print(d.name() + ": frame, estimate over heap", frames, 0.8, true);
    }
    return 0;
  }

  /** Returns the bytes of the heap that are in use once everything unused is gone. */
  private static long heap() {
    Runtime r = Runtime.getRuntime();
    for (int i = 0; i < 4; i++) {
      System.gc();
    }
    return r.totalMemory() - r.freeMemory();
  }

  @Command(description = "Error of 64 spread samples over that of 96 random ones.")
  int sampler(
      @Option(names = "--seeds", defaultValue = "4") int seeds,
      @Option(names = "--width", defaultValue = "240", description = "pixels, at about 16:9")
          int width,
      @Option(names = "--baked", description = "with light baked for the frame") boolean baked,
      @Option(names = "--only", description = "one scene") String only)
      throws Exception {
    if (seeds < 2) {
      throw new IllegalArgumentException(
          "seeds must be 2 or more, since pictures are compared (got " + seeds + ")");
    }
    int height = 2 * Math.round(width * 9f / 32);
    for (DemoScenes.Demo d : DemoScenes.all(only)) {
      RenderScene plain = new RenderScene(DemoScenes.load(d), Workers.CALLER);
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          w -> {
            RenderScene s = baked ? plain.withBakedLight(light(plain, d, width, height, w)) : plain;
            Function<RenderSettings, FrameImage> view =
                q -> rendered(frame(s, d.camera(), 24, width, height, q, w), w);
            double[] spread = error(view, 64, Sampling.Pattern.SPREAD, seeds);
            double[] random = error(view, 96, Sampling.Pattern.RANDOM, seeds);
            System.out.printf(
                Locale.ROOT,
                "%s: error %.4f and %.4f, mean standard error %.4f and %.4f (ratio %.3f)%n",
                d.name(),
                spread[0],
                random[0],
                spread[1],
                random[1],
                spread[1] / random[1]);
            Figures.print(d.name() + ": 64 spread over 96 random", spread[0] / random[0], 1, false);
          });
    }
    return 0;
  }

  private static BakedLight light(
      RenderScene s, DemoScenes.Demo d, int width, int height, Workers w) {
    return s.bake(
        d.camera(),
        List.of(new Moment(24, 1, 24)),
        width,
        height,
        RenderSettings.DEFAULT,
        w,
        Stop.NEVER,
        done -> {},
        System::nanoTime);
  }

  /**
   * Root of the mean squared relative error of green, and the mean of its root. It comes from how
   * far pictures with different seeds are apart: half the mean square of the difference of two
   * independent estimates is their variance, and no reference is needed.
   */
  private static double[] error(
      Function<RenderSettings, FrameImage> view, int samples, Sampling.Pattern pattern, int seeds) {
    float[][] green = new float[seeds][];
    for (int k = 0; k < seeds; k++) {
      green[k] = view.apply(settings(samples, 1000 * k, pattern)).find("G");
    }
    double sum = 0;
    double roots = 0;
    int n = green[0].length;
    for (int i = 0; i < n; i++) {
      double mean = 0;
      double square = 0;
      for (float[] g : green) {
        mean += g[i] / seeds;
        square += (double) g[i] * g[i] / seeds;
      }
      double variance = Math.max(0, square - mean * mean) * seeds / (seeds - 1);
      double relative = variance / ((mean + 0.05) * (mean + 0.05));
      sum += relative;
      roots += Math.sqrt(relative);
    }
    return new double[] {Math.sqrt(sum / n), roots / n};
  }

  @Command(description = "Time to equal noise with 1,000 lights over that with 10.")
  int lights(@Option(names = "--samples", defaultValue = "64") int samples) throws Exception {
    double[] cost = new double[2];
    for (int k = 0; k < 2; k++) {
      int n = k == 0 ? 10 : 1000;
      int at = k;
      RenderScene s = new RenderScene(plaza(n), Workers.CALLER);
      Figures.with(
          1,
          w -> {
            double best = Double.POSITIVE_INFINITY;
            double noise = 0;
            for (int round = 0; round < 4; round++) {
              FrameRenderer r =
                  s.frame(
                      "eye",
                      Moment.at(0),
                      WIDTH,
                      HEIGHT,
                      settings(samples, 0, Sampling.Pattern.SPREAD),
                      w,
                      Stop.NEVER,
                      null);
              long start = System.nanoTime();
              r.advance(samples, w, Stop.NEVER);
              best = Math.min(best, (System.nanoTime() - start) * 1e-9);
              noise = r.noise();
            }
            cost[at] = best * noise * noise;
            System.out.printf(Locale.ROOT, "%d lights: %.2f s, noise %.4f%n", n, best, noise);
          });
    }
    Figures.print("1,000 lights over 10, time to equal noise", cost[1] / cost[0], 2.5, false);
    return 0;
  }

  /** An open place with boxes on it, lit by lights of the same total power. */
  private static Scene plaza(int count) {
    List<Node> nodes = new ArrayList<>();
    List<Light> lights = new ArrayList<>();
    float[] ground = {-50, 0, -50, -50, 0, 50, 50, 0, 50, 50, 0, -50};
    Primitive floor =
        new Primitive(ground, null, null, new float[0][], null, new int[] {0, 1, 2, 0, 2, 3}, 0);
    float[] corners = new float[24];
    for (int i = 0; i < 8; i++) {
      corners[i * 3] = (i & 1) == 0 ? -1 : 1;
      corners[i * 3 + 1] = (i & 2) == 0 ? 0 : 3;
      corners[i * 3 + 2] = (i & 4) == 0 ? -1 : 1;
    }
    int[] faces = {
      0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1,
      3, 5, 3, 7, 5
    };
    Primitive box = new Primitive(corners, null, null, new float[0][], null, faces, 0);
    Random random = new Random(5);
    nodes.add(new Node("floor", -1, Trs.IDENTITY, null, 0, -1, -1));
    for (int i = 0; i < 60; i++) {
      Vec3 at = new Vec3(80 * random.nextDouble() - 40, 0, 80 * random.nextDouble() - 40);
      nodes.add(new Node("box-" + i, -1, new Trs(at, Quat.IDENTITY, Vec3.ONE), null, 1, -1, -1));
    }
    for (int i = 0; i < count; i++) {
      Vec3 at =
          new Vec3(
              90 * random.nextDouble() - 45,
              4 + random.nextDouble(),
              90 * random.nextDouble() - 45);
      lights.add(
          new Light(
              "l" + i,
              Light.Kind.POINT,
              new float[] {1, 1, 1},
              20_000.0 / count,
              Double.POSITIVE_INFINITY,
              0,
              1,
              0.1));
      nodes.add(new Node("l" + i, -1, new Trs(at, Quat.IDENTITY, Vec3.ONE), null, -1, -1, i));
    }
    Vec3 eye = new Vec3(0, 30, 60);
    nodes.add(
        new Node(
            "eye",
            -1,
            new Trs(eye, Quat.looking(eye.times(-1), new Vec3(0, 1, 0)), Vec3.ONE),
            null,
            -1,
            0,
            -1));
    return new Scene(
        "plaza",
        nodes,
        List.of(new Mesh("floor", List.of(floor)), new Mesh("box", List.of(box))),
        List.of(Material.plain("grey", 0.6f, 0.6f, 0.6f, 0, 0.8f)),
        List.of(),
        List.of(new Camera("eye", Math.toRadians(45), 0)),
        lights,
        List.of(),
        Sky.NONE);
  }
}
