package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import org.junit.jupiter.api.Test;
import posada.core.denoise.Denoiser;
import posada.core.denoise.Noisy;
import posada.core.denoise.NoisyPicture;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Material;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.film.GuideChannels;

/** What a picture is cleaned from, and the clean picture. */
class GuidesTest {
  private static final int W = 48;
  private static final int H = 32;
  private static final Denoising CLEAN = new Denoising(true, 1);

  /** A glossy floor and a ball-sized lamp above it. */
  private static RenderScene scene() {
    return new RenderScene(
        new TestScenes()
            .square(Vec3.ZERO, 3, false, Material.plain("floor", 0.6f, 0.4f, 0.2f, 0, 0.5f))
            .square(new Vec3(0, 2, 0), 0.6, true, TestScenes.lamp(5))
            .camera(new Vec3(0, 1.2, 4), new Vec3(0, 0.5, 0), 50)
            .scene(),
        Workers.CALLER);
  }

  private static FrameRenderer renderer(RenderSettings s) {
    return scene().frame("eye", 0, W, H, s);
  }

  private static FrameImage render(RenderSettings s) {
    return renderer(s).render(1 << 16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static RenderSettings random(int samples, int seed) {
    return RenderSettings.DEFAULT.with(
        new Sampling(samples, samples, false, 1, 0, seed, false, Sampling.Pattern.RANDOM));
  }

  private static NoisyPicture noisy(int samples, int seed) {
    FrameRenderer r = renderer(random(samples, seed).with(CLEAN));
    r.advance(samples, Workers.CALLER, Stop.NEVER);
    return r.film().noisy();
  }

  /** Half the mean squared difference of independent pictures is their variance. */
  @Test
  void errorsAreWhatIndependentPicturesDifferBy() {
    NoisyPicture[] p = new NoisyPicture[64];
    for (int k = 0; k < p.length; k++) {
      p[k] = noisy(16, k);
    }
    honest(p, q -> q.glossy(), q -> q.mirrored());
    honest(p, q -> q.diffuse(), q -> q.tint());
    honest(p, q -> q.albedo(), null);
    honest(p, q -> q.nearness(), null);
  }

  private static void honest(
      NoisyPicture[] p,
      Function<NoisyPicture, Noisy> part,
      Function<NoisyPicture, float[][]> over) {
    double squares = 0;
    double told = 0;
    for (int k = 0; k < p.length; k += 2) {
      Noisy a = part.apply(p[k]), b = part.apply(p[k + 1]);
      for (int i = 0; i < W * H; i++) {
        told += (double) a.variance()[i] + b.variance()[i];
        for (int c = 0; c < a.planes().length; c++) {
          double x = a.planes()[c][i] / (over == null ? 1 : over.apply(p[k])[c][i]);
          double y = b.planes()[c][i] / (over == null ? 1 : over.apply(p[k + 1])[c][i]);
          squares += (x - y) * (x - y);
        }
      }
    }
    assertTrue(squares > 0);
    assertEquals(1, told / squares, 0.1);
  }

  @Test
  void lightByKindAddsUpToTheBeautyWhichStaysAsItIs() {
    FrameImage plain = render(RenderSettings.of(16, 1));
    FrameImage guided = render(RenderSettings.of(16, 1).with(EnumSet.of(Pass.BEAUTY, Pass.GUIDES)));
    assertArrayEquals(plain.find("G"), guided.find("G"));
    for (int i = 0; i < W * H; i++) {
      float sum =
          guided.find("guides-diffuse.G")[i]
              + guided.find("guides-specular.G")[i]
              + guided.find("guides-seen.G")[i];
      assertEquals(plain.find("G")[i], sum, 1e-5 * (1 + sum));
    }
  }

  @Test
  void cleanIsNearerToTheTruthThanFourTimesTheSamples() {
    float[] truth = render(RenderSettings.of(2048, 3)).find("G");
    double plain = error(render(RenderSettings.of(64, 1)).find("G"), truth);
    double clean = error(render(RenderSettings.of(16, 1).with(CLEAN)).find("G"), truth);
    assertTrue(clean < plain, plain + " against " + clean);
  }

  private static double error(float[] a, float[] truth) {
    double sum = 0;
    for (int i = 0; i < a.length; i++) {
      double d = (a[i] - truth[i]) / (truth[i] + 0.05);
      sum += d * d;
    }
    return sum / a.length;
  }

  /** Parts of the light are cleaned with the beauty, and what was written is as good as new. */
  @Test
  void cleaningLaterIsTheSame() {
    Set<Pass> parts = EnumSet.copyOf(Pass.LIGHT_PARTS);
    parts.addAll(Set.of(Pass.BEAUTY, Pass.LIGHT_GROUPS));
    FrameImage now = render(RenderSettings.of(8, 1).with(CLEAN).with(parts));
    parts.add(Pass.GUIDES);
    FrameImage written = render(RenderSettings.of(8, 1).with(parts));
    GuideChannels.Read read = GuideChannels.read(written);
    FrameImage later =
        GuideChannels.cleaned(
            written,
            Denoiser.clean(
                Denoiser.prepare(read.picture(), Workers.CALLER), List.of(), 1, Workers.CALLER));
    assertEquals(now.channels().size(), later.channels().size());
    for (FrameImage.Channel c : now.channels()) {
      assertArrayEquals(c.data(), later.find(c.name()), 1e-4f, c.name());
    }
    for (int i = 0; i < W * H; i++) {
      double sum = 0;
      for (Pass p : Pass.LIGHT_PARTS) {
        sum += now.find(p.label() + ".R")[i];
      }
      assertEquals(now.find("R")[i], sum, 1e-4 * (1 + sum));
      assertEquals(now.find("R")[i], now.find("light-rest.R")[i], 1e-4 * (1 + sum));
    }
  }

  @Test
  void cleaningStops() {
    FrameRenderer r = renderer(RenderSettings.of(4, 1).with(CLEAN));
    r.advance(4, Workers.CALLER, Stop.NEVER);
    assertEquals(null, r.image(Set.of(Pass.BEAUTY), Workers.CALLER, () -> true));
  }
}
