package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.Executors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.review.Fault;
import posada.core.review.FrameLook;
import posada.core.review.SequenceChecks;
import posada.core.scene.Camera;
import posada.core.settings.Denoising;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;

/** Whether the checks of finished sequences find what is wrong, and nothing else. */
@Command(name = "review", description = "Measures the checks of finished sequences.")
final class ReviewCommand {
  private static final int WIDTH = 192, HEIGHT = 108;
  private static final int[] SAMPLES = {16, 24, 32};

  private final Workers workers =
      new Workers(
          Executors.newCachedThreadPool(
              r -> {
                Thread t = new Thread(r);
                t.setDaemon(true);
                return t;
              }),
          Runtime.getRuntime().availableProcessors());

  /** What is planted. */
  private enum Planted {
    MISSING,
    BLACK,
    WHITE,
    UNCHANGED,
    NOT_A_NUMBER,
    NEGATIVE,
    FIREFLY,
    FLICKER,
    JUMP,
    SIZE,
    CHANNELS,
    HOLES
  }

  @Command(
      description =
          "Sequences of the demo scenes, each once clean and once with a fault that a seed chooses.")
  int checks(
      @Option(names = "--sequences", defaultValue = "40") int sequences,
      @Option(names = "--frames", defaultValue = "12") int frames,
      @Option(names = "--seed", defaultValue = "1") int seed)
      throws Exception {
    Random random = new Random(seed);
    List<DemoScenes.Demo> demos = DemoScenes.all();
    int found = 0, alarms = 0, made = 0;
    for (int round = 0; made < sequences; round++) {
      for (DemoScenes.Demo d : demos) {
        RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
        for (Camera c : scene.scene().cameras()) {
          if (made == sequences) {
            break;
          }
          int samples = SAMPLES[made % SAMPLES.length];
          boolean clean = made % 2 == 1;
          List<FrameImage> images =
              render(scene, c.name(), 1 + random.nextInt(36), frames, samples, made, clean);
          List<FrameLook> looks = new ArrayList<>();
          for (int i = 0; i < frames; i++) {
            looks.add(FrameLook.of(i + 1, images.get(i), false));
          }
          String what = d.name() + " " + c.name() + " " + samples + (clean ? " denoised" : "");
          List<Fault> none = SequenceChecks.of(looks);
          alarms += none.isEmpty() ? 0 : 1;
          none.forEach(f -> System.out.println("  false alarm: " + what + ": " + f));
          Planted kind = Planted.values()[random.nextInt(Planted.values().length)];
          int at = 2 + random.nextInt(frames - 4);
          plant(kind, looks, images, at, random);
          int frame = at + 1;
          List<Fault> all = SequenceChecks.of(looks);
          boolean right = all.stream().anyMatch(f -> f.frames().contains(frame));
          found += right ? 1 : 0;
          if (!right) {
            System.out.println(
                "  missed: " + what + ": " + kind + " at " + frame + ", found " + all);
          }
          made++;
        }
      }
    }
    System.out.printf(
        Locale.ROOT,
        "%d of %d planted faults found at the right frame; %d of %d clean sequences called faulty%n",
        found,
        made,
        alarms,
        made);
    return 0;
  }

  private static final Set<Pass> EIGHT =
      EnumSet.of(
          Pass.BEAUTY,
          Pass.DIFFUSE_DIRECT,
          Pass.SPECULAR_DIRECT,
          Pass.ALBEDO,
          Pass.DEPTH,
          Pass.NORMAL,
          Pass.MOTION_PREVIOUS,
          Pass.MATTE_OBJECTS);

  @Command(description = "Seconds to read and look at a frame of 1280 x 720 with eight passes.")
  int speed(@Option(names = "--rounds", defaultValue = "10") int rounds) throws Exception {
    DemoScenes.Demo d = DemoScenes.all().get(0);
    RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
    String camera = scene.scene().cameras().get(0).name();
    RenderSettings s = RenderSettings.of(2, 1).with(EIGHT);
    FrameImage image =
        scene
            .frame(camera, new Moment(20, 20 / 24.0, 24), 1280, 720, s, workers, Stop.NEVER, null)
            .render(2, workers, Stop.NEVER, FrameRenderer.Progress.NONE);
    Path file = Files.createTempFile("frame", ".exr");
    Files.write(file, ExrWriter.encode(image, ExrHeader.NONE, ExrCompression.ZIP, workers));
    double[] read = new double[rounds], look = new double[rounds];
    for (int i = 0; i < rounds; i++) {
      long start = System.nanoTime();
      FrameImage in = ExrReader.read(file);
      long there = System.nanoTime();
      FrameLook.of(20, in, false);
      read[i] = (there - start) / 1e9;
      look[i] = (System.nanoTime() - there) / 1e9;
    }
    Files.delete(file);
    Arrays.sort(read);
    Arrays.sort(look);
    System.out.printf(
        Locale.ROOT,
        "%d channels: read in %.3f s, looked at in %.3f s (the middle of %d, one thread)%n",
        image.channels().size(),
        read[rounds / 2],
        look[rounds / 2],
        rounds);
    return 0;
  }

  private List<FrameImage> render(
      RenderScene scene,
      String camera,
      int from,
      int frames,
      int samples,
      int seed,
      boolean clean) {
    Set<Pass> beauty = EnumSet.of(Pass.BEAUTY);
    RenderSettings s =
        RenderSettings.DEFAULT
            .with(beauty)
            .with(clean ? new Denoising(true, 1) : Denoising.OFF)
            .with(new Sampling(samples, samples, false, 1, 0, seed, seed % 3 != 0));
    List<FrameImage> all = new ArrayList<>();
    for (int f = from; f < from + frames; f++) {
      all.add(
          scene
              .frame(
                  camera, new Moment(f, f / 24.0, 24), WIDTH, HEIGHT, s, workers, Stop.NEVER, null)
              .render(samples, workers, Stop.NEVER, FrameRenderer.Progress.NONE));
    }
    return all;
  }

  private static void plant(
      Planted kind, List<FrameLook> looks, List<FrameImage> images, int at, Random random) {
    FrameImage image = images.get(at);
    int w = image.width(), h = image.height();
    // A third to a half of each side.
    int bw = w / 3 + random.nextInt(w / 6), bh = h / 3 + random.nextInt(h / 6);
    int x = random.nextInt(w - bw), y = random.nextInt(h - bh);
    int one = (1 + random.nextInt(h - 2)) * w + 1 + random.nextInt(w - 2);
    FrameImage bad =
        switch (kind) {
          case MISSING -> null;
          case BLACK -> each(image, (c, i, v) -> c < 3 ? 0 : v);
          case WHITE -> each(image, (c, i, v) -> 2);
          case UNCHANGED -> images.get(at - 1);
          case NOT_A_NUMBER -> each(image, (c, i, v) -> i == one && c == 1 ? Float.NaN : v);
          case NEGATIVE -> each(image, (c, i, v) -> i == one && c < 3 ? -1 : v);
          case FIREFLY -> each(image, (c, i, v) -> i == one && c < 3 ? 100 : v);
          case FLICKER -> {
            float factor = random.nextBoolean() ? 1.3f : 0.75f;
            yield each(
                image,
                (c, i, v) ->
                    c < 3 && i % w >= x && i % w < x + bw && i / w >= y && i / w < y + bh
                        ? v * factor
                        : v);
          }
          case JUMP ->
              // Turned over, as another camera's would be as different.
              each(image, (c, i, v) -> image.channels().get(c).data()[i / w * w + w - 1 - i % w]);
          case SIZE -> new FrameImage(w, h / 2, cut(image, w * (h / 2), 4));
          case CHANNELS -> new FrameImage(w, h, cut(image, w * h, 3));
          case HOLES -> each(image, (c, i, v) -> c == 3 ? i == one ? 0 : 1 : v);
        };
    if (bad == null) {
      looks.remove(at);
      return;
    }
    if (kind == Planted.HOLES) {
      for (int i = 0; i < looks.size(); i++) {
        looks.set(i, FrameLook.of(i + 1, each(images.get(i), (c, k, v) -> c == 3 ? 1 : v), false));
      }
    }
    looks.set(at, FrameLook.of(at + 1, bad, false));
  }

  private interface Change {
    float of(int channel, int pixel, float value);
  }

  private static FrameImage each(FrameImage image, Change change) {
    List<Channel> all = new ArrayList<>();
    for (int c = 0; c < image.channels().size(); c++) {
      Channel old = image.channels().get(c);
      float[] data = old.data().clone();
      for (int i = 0; i < data.length; i++) {
        data[i] = change.of(c, i, old.data()[i]);
      }
      all.add(new Channel(old.name(), old.precision(), data));
    }
    return new FrameImage(image.width(), image.height(), all);
  }

  private static List<Channel> cut(FrameImage image, int pixels, int channels) {
    return image.channels().subList(0, channels).stream()
        .map(c -> new Channel(c.name(), c.precision(), Arrays.copyOf(c.data(), pixels)))
        .toList();
  }
}
