package posada.bench;

import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.denoise.Denoiser;
import posada.core.denoise.NoisyPicture;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Workers;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.core.trace.film.GuideChannels;

/** What denoising does to the demo scenes, and what it costs. */
@Command(name = "noise", description = "Measures denoising.")
final class NoiseCommand {
  private static final int FRAME = 24;
  private static final Denoising CLEAN = new Denoising(true, 1);

  private NoiseCommand() {}

  private static References.View view(DemoScenes.Demo d, int frame, int width, int height)
      throws Exception {
    return new References.View(
        new RenderScene(DemoScenes.load(d), Workers.CALLER),
        d.camera(),
        frame,
        width,
        height,
        RenderSettings.DEFAULT);
  }

  @Command(description = "16 samples denoised against 128 plain, and edges that are kept.")
  int still(
      @Option(names = "--only", description = "one scene") String only,
      @Option(names = "--references", defaultValue = "2", description = "pictures of 512 samples")
          int references,
      @Option(names = "--pictures", description = "folder for pictures") Path pictures)
      throws Exception {
    int w = 640;
    int h = 360;
    for (DemoScenes.Demo d : DemoScenes.all(only)) {
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          workers -> {
            References.View v = view(d, FRAME, w, h);
            Quality q = References.of(d.name(), v, 512, references, workers);
            float[][] plain16 = Quality.rgb(v.render(16, 1, workers));
            // Anew each time: kept pictures may be those of older code.
            float[][] plain128 = Quality.rgb(v.render(128, 128, workers));
            RenderSettings s =
                v.settings().with(CLEAN).with(EnumSet.of(Pass.BEAUTY, Pass.GUIDES)).with(16, 1);
            FrameImage image = Pictures.render(v, s, workers);
            float[][] clean = Quality.rgb(image);
            System.out.printf(
                Locale.ROOT,
                "%s: relative mean square error of 16 plain %.5f, 128 plain %.5f, 16 denoised %.5f,"
                    + " the reference %.5f%n",
                d.name(),
                q.error(plain16),
                q.error(plain128),
                q.error(clean),
                q.ownError());
            System.out.printf(
                Locale.ROOT,
                "%s: similarity of 16 plain %.4f, 128 plain %.4f, 16 denoised %.4f%n",
                d.name(),
                q.similarity(plain16),
                q.similarity(plain128),
                q.similarity(clean));
            Figures.print(
                d.name() + ": error, 16 denoised over 128 plain",
                q.error(clean) / q.error(plain128),
                1,
                false);
            Figures.print(
                d.name() + ": dissimilarity, the same",
                (1 - q.similarity(clean)) / (1 - q.similarity(plain128)),
                1,
                false);
            NoisyPicture guides = GuideChannels.read(image).picture();
            Figures.print(
                d.name() + ": gradient energy, textures",
                q.edges(clean, i -> textured(guides, i, w)),
                0.9,
                true);
            Figures.print(
                d.name() + ": gradient energy, edges",
                q.edges(clean, i -> !textured(guides, i, w)),
                0.9,
                true);
            if (pictures != null) {
              Path p = pictures.resolve(d.name());
              Pictures.save(Path.of(p + "-reference.jpg"), w, h, q.reference());
              Pictures.save(Path.of(p + "-plain.jpg"), w, h, plain16);
              Pictures.save(Path.of(p + "-denoised.jpg"), w, h, clean);
              Pictures.saveDifference(
                  Path.of(p + "-denoised-difference.jpg"), w, h, clean, q.reference());
            }
          });
    }
    return 0;
  }

  /** Returns true where the colour of one flat surface changes; not what it mirrors. */
  private static boolean textured(NoisyPicture p, int i, int width) {
    double color = 0;
    double normal = 0;
    for (int step : new int[] {1, width}) {
      for (int c = 0; c < 3; c++) {
        float[] t = p.tint()[c], m = p.mirrored()[c], n = p.normal().planes()[c];
        color += Math.pow(t[i + step] + m[i + step] - t[i - step] - m[i - step], 2);
        normal += Math.pow(n[i + step] - n[i - step], 2);
      }
    }
    float[] z = p.nearness().planes()[0];
    float there = Math.max(Math.abs(z[i + 1] - z[i - 1]), Math.abs(z[i + width] - z[i - width]));
    return color > 1e-3 && normal < 1e-2 && there < 0.05 * z[i];
  }

  @Command(description = "Seconds that a frame of 1280x720 takes, on two threads.")
  int time() throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      Figures.with(
          2,
          workers -> {
            References.View v = view(d, FRAME, 1280, 720);
            RenderSettings s = v.settings().with(EnumSet.of(Pass.BEAUTY, Pass.GUIDES)).with(4, 1);
            NoisyPicture p = GuideChannels.read(Pictures.render(v, s, workers)).picture();
            double best = Double.POSITIVE_INFINITY;
            for (int i = 0; i < 5; i++) {
              best =
                  Math.min(
                      best,
                      Figures.wall(
                          () ->
                              Denoiser.clean(Denoiser.prepare(p, workers), List.of(), 1, workers)));
            }
            Figures.print(d.name() + ": seconds to denoise 1280x720", best, 3, false);
          });
    }
    return 0;
  }

  /**
   * Two films of different seeds differ by noise alone: how that changes from frame to frame is
   * flicker, whatever moves in the picture.
   */
  @Command(description = "Flicker of 24 frames, denoised over plain at four times the samples.")
  int film(
      @Option(names = "--only", description = "one scene") String only,
      @Option(names = "--samples", defaultValue = "8") int samples)
      throws Exception {
    int w = 320;
    int h = 180;
    for (DemoScenes.Demo d : DemoScenes.all(only)) {
      Figures.with(
          Runtime.getRuntime().availableProcessors(),
          workers -> {
            double[] flicker = new double[2];
            float[][][] before = new float[2][][];
            RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
            for (int f = 1; f <= 24; f++) {
              References.View v =
                  new References.View(scene, d.camera(), f, w, h, RenderSettings.DEFAULT);
              for (int k = 0; k < 2; k++) {
                int n = k == 0 ? samples : 4 * samples;
                RenderSettings s = k == 0 ? v.settings().with(CLEAN) : v.settings();
                float[][] a = Quality.rgb(Pictures.render(v, s.with(n, 2 * f), workers));
                float[][] b = Quality.rgb(Pictures.render(v, s.with(n, 2 * f + 1), workers));
                float[][] apart = apart(a, b);
                flicker[k] += before[k] == null ? 0 : changed(before[k], apart);
                before[k] = apart;
              }
            }
            System.out.printf(
                Locale.ROOT,
                "%s: flicker of %d samples denoised %.4f, of %d plain %.4f%n",
                d.name(),
                samples,
                Math.sqrt(flicker[0] / 23),
                4 * samples,
                Math.sqrt(flicker[1] / 23));
            Figures.print(
                d.name() + ": flicker, denoised over plain of 4 x samples",
                Math.sqrt(flicker[0] / flicker[1]),
                1,
                false);
          });
    }
    return 0;
  }

  /** Relative differences of two pictures of the same frame. */
  private static float[][] apart(float[][] a, float[][] b) {
    float[][] out = new float[3][a[0].length];
    for (int i = 0; i < out[0].length; i++) {
      float y =
          0.05f
              + Luminance.of(
                  (a[0][i] + b[0][i]) / 2, (a[1][i] + b[1][i]) / 2, (a[2][i] + b[2][i]) / 2);
      for (int c = 0; c < 3; c++) {
        out[c][i] = (a[c][i] - b[c][i]) / y;
      }
    }
    return out;
  }

  private static double changed(float[][] a, float[][] b) {
    double sum = 0;
    for (int c = 0; c < 3; c++) {
      for (int i = 0; i < a[c].length; i++) {
        // Four pictures' noise is in it.
        sum += (a[c][i] - b[c][i]) * (a[c][i] - b[c][i]) / 4;
      }
    }
    return sum / (3 * a[0].length);
  }
}
