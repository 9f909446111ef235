package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Light;
import posada.core.scene.Sky;
import posada.core.scene.Track;
import posada.core.settings.Irradiance;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;

/**
 * Light times a power of two is the same bits but for the exponent: what must agree does exactly.
 */
class ExposureTest {
  private static final int W = 32;
  private static final int H = 18;

  /** A room with a hole in its roof, a lamp inside and sky above, times a factor. */
  private static RenderScene room(double times) {
    float[] white = {1, 1, 1};
    double candela = 2 * times;
    Light lamp =
        new Light("lamp", Light.Kind.POINT, white, candela, Double.POSITIVE_INFINITY, 0, 1, 0.02);
    return new RenderScene(
        new TestScenes()
            .square(Vec3.ZERO, 2, false, TestScenes.diffuse(0.7))
            .box(new Vec3(0, 1, -2), new Vec3(2, 1, 0.05), TestScenes.diffuse(0.5))
            .box(new Vec3(-2, 1, 0), new Vec3(0.05, 1, 2), TestScenes.diffuse(0.6))
            .square(new Vec3(0.6, 2, 0), 1.4, true, TestScenes.diffuse(0.8))
            .square(new Vec3(0.5, 1.9, -1), 0.1, true, TestScenes.lamp(60 * times))
            .light(lamp, new Vec3(0.4, 0.2, -1.8), new Vec3(0, -1, 0))
            .camera(new Vec3(0.3, 1, 3), new Vec3(0, 0.8, 0), 50)
            .sky(Sky.constant((float) times))
            .scene(),
        Workers.CALLER);
  }

  private static RenderSettings exposed(RenderSettings s, double stops) {
    return s.with(s.lens().exposed(Track.of(stops)));
  }

  private static FrameImage render(RenderScene s, RenderSettings settings) {
    return s.frame("eye", 0, W, H, settings)
        .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static float[] times(float k, float[] v) {
    float[] out = v.clone();
    for (int i = 0; i < out.length; i++) {
      out[i] *= k;
    }
    return out;
  }

  @Test
  void eachStopDoublesAllLightAndNothingElse() {
    RenderSettings s =
        RenderSettings.of(16, 1)
            .withBounces(8, 0)
            .with(Set.of(Pass.BEAUTY, Pass.DIFFUSE_INDIRECT, Pass.ALBEDO, Pass.DEPTH));
    FrameImage plain = render(room(1), s), three = render(room(1), exposed(s, 3));
    for (String light : List.of("R", "G", "B", "diffuse-indirect.G")) {
      assertArrayEquals(times(8, plain.find(light)), three.find(light), light);
    }
    for (String same : List.of("A", "depth.Z", "albedo.R")) {
      assertArrayEquals(plain.find(same), three.find(same), same);
    }
  }

  /** Limits and noise are weighed as they are seen, whatever units the scene's light is in. */
  @Test
  void theSameLightInOtherUnitsIsTheSamePicture() {
    RenderSettings s =
        RenderSettings.DEFAULT
            .with(new Sampling(8, 64, true, 0.05, 0, 0, false))
            .with(RenderSettings.DEFAULT.bounces().clampedAt(0.5))
            .with(Set.of(Pass.BEAUTY, Pass.SAMPLES));
    FrameImage plain = render(room(1), s), lux = render(room(1024), exposed(s, -10));
    for (String c : List.of("R", "G", "B", "samples")) {
      assertArrayEquals(plain.find(c), lux.find(c), c);
    }
    assertFalse(Brightness.of(lux).isLost());
    assertTrue(Brightness.of(render(room(1024), s)).isLost());
  }

  @Test
  void bakedLightIsMadeForWhatIsSeenToo() {
    RenderSettings s =
        RenderSettings.of(4, 1).with(new Irradiance(true, 1, 0.5, 0.05, 1024, false));
    RenderSettings ten = exposed(s, -10);
    RenderScene plain = room(1), lux = room(1024);
    BakedLight a = bake(plain, s), b = bake(lux, ten);
    assertEquals(a.points().count(), b.points().count());
    assertArrayEquals(
        render(plain.withBakedLight(a), s).find("G"),
        render(lux.withBakedLight(b), ten).find("G"),
        "picture");
  }

  private static BakedLight bake(RenderScene s, RenderSettings settings) {
    List<Moment> one = List.of(Moment.at(0));
    return s.bake("eye", one, W, H, settings, Workers.CALLER, Stop.NEVER, x -> {}, () -> 0);
  }

  @Test
  void anExposureCanBeKeyed() {
    RenderSettings s = RenderSettings.of(4, 1);
    Track night = new Track(new double[] {0, 2}, new double[] {0, 2});
    FrameImage[] at =
        IntStream.of(0, 1, 2)
            .mapToObj(
                t ->
                    room(1)
                        .frame("eye", t, W, H, s.with(s.lens().exposed(night)).withBounces(2, 0))
                        .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE))
            .toArray(FrameImage[]::new);
    assertArrayEquals(times(2, at[0].find("G")), at[1].find("G"));
    assertArrayEquals(times(4, at[0].find("G")), at[2].find("G"));
  }

  @Test
  void theMeterPutsTheMeanAtGrey() {
    // An environment of one brightness: its distance from 0.18 in stops, and however it is exposed.
    RenderScene bright =
        new RenderScene(
            new TestScenes()
                .camera(Vec3.ZERO, new Vec3(0, 0, -1), 40)
                .sky(Sky.constant(0.18f * 64))
                .scene(),
            Workers.CALLER);
    assertEquals(-6, meter(bright, RenderSettings.DEFAULT), 1e-9);
    assertEquals(-6, meter(bright, exposed(RenderSettings.DEFAULT, 5)), 1e-9);
    // A lamp in the lower half, 16 times as bright: the geometric mean is 4 times, two stops.
    Vec3[] below = {
      new Vec3(-9, 0, -1), new Vec3(-9, -9, -1), new Vec3(9, -9, -1), new Vec3(9, 0, -1)
    };
    RenderScene halves =
        new RenderScene(
            new TestScenes()
                .polygon(below, TestScenes.lamp(0.18 * 16))
                .camera(Vec3.ZERO, new Vec3(0, 0, -1), 40)
                .sky(Sky.constant(0.18f))
                .scene(),
            Workers.CALLER);
    assertEquals(-2, meter(halves, RenderSettings.DEFAULT), 0.15);
  }

  private static double meter(RenderScene s, RenderSettings settings) {
    List<Moment> three = List.of(Moment.at(0), Moment.at(1), Moment.at(2), Moment.at(3));
    return Meter.stops(s, "eye", three, 1920, 1080, settings, Workers.CALLER, Stop.NEVER);
  }

  @Test
  void whatCannotBeMeteredIsSaid() {
    RenderScene dark =
        new RenderScene(
            new TestScenes()
                .square(Vec3.ZERO, 1, false, TestScenes.diffuse(0.5))
                .camera(new Vec3(0, 1, 1), Vec3.ZERO, 40)
                .light(
                    new Light(
                        "off",
                        Light.Kind.POINT,
                        new float[3],
                        1,
                        Double.POSITIVE_INFINITY,
                        0,
                        1,
                        0),
                    new Vec3(0, 1, 0),
                    new Vec3(0, -1, 0))
                .scene(),
            Workers.CALLER);
    var e = assertThrows(IllegalArgumentException.class, () -> meter(dark, RenderSettings.DEFAULT));
    assertTrue(e.getMessage().contains("camera \"eye\" sees no light"), e.getMessage());
    assertEquals(1, Brightness.of(render(dark, RenderSettings.of(1, 0))).black());
    assertThrows(
        IllegalArgumentException.class, () -> RenderSettings.DEFAULT.lens().exposed(Track.of(33)));
  }
}
