package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.image.RgbImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Environment;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Sky;
import posada.core.scene.Track;
import posada.core.settings.RenderSettings;
import posada.core.trace.path.Strategy;

/** Irradiance on chalk against closed forms, and lights that agree however they are found. */
class LightTest {
  private static final Vec3 DOWN = new Vec3(0, -1, 0);

  private static TestScenes floor() {
    return new TestScenes()
        .square(Vec3.ZERO, 60, false, TestScenes.chalk())
        .camera(new Vec3(0.3, 0.15, 0), Vec3.ZERO, 0.05);
  }

  private static double irradiance(TestScenes s, int samples) {
    return Math.PI
        * TestScenes.mean(s.render(8, TestScenes.settings(samples, 1, 0, 5), Workers.CALLER), "G");
  }

  private static Light light(Light.Kind kind, double intensity, double size) {
    return new Light(
        "l",
        kind,
        new float[] {1, 1, 1},
        intensity,
        Double.POSITIVE_INFINITY,
        Math.toRadians(20),
        Math.toRadians(40),
        size);
  }

  @ParameterizedTest
  @CsvSource({"0, 0", "0.3, 0", "0.3, 50", "0.9, 0", "0.9, 70"})
  void aSphereGivesTheIrradianceOfItsCentre(double radius, double degrees) {
    double a = Math.toRadians(degrees);
    Vec3 at = new Vec3(2.9 * Math.sin(a), 2.9 * Math.cos(a), 0);
    double got = irradiance(floor().light(light(Light.Kind.POINT, 7, radius), at, DOWN), 1024);
    // E = I cos / d^2 holds for a whole sphere above the horizon.
    double want = 7 * Math.cos(a) / (2.9 * 2.9);
    assertEquals(want, got, 0.005 * want);
  }

  @ParameterizedTest
  @ValueSource(doubles = {0, 0.1})
  void aDirectionalLightGivesItsIlluminance(double halfAngle) {
    double got =
        irradiance(
            floor().light(light(Light.Kind.DIRECTIONAL, 3, halfAngle), Vec3.ZERO, DOWN), 256);
    assertEquals(3, got, 0.005 * 3);
  }

  @Test
  void aSpotOfAnySizeFadesAsTheStandardSays() {
    double tilt = Math.toRadians(30);
    Vec3 axis = new Vec3(Math.sin(tilt), -Math.cos(tilt), 0);
    for (double size : new double[] {0, 0.05}) {
      TestScenes s = floor().light(light(Light.Kind.SPOT, 6, size), new Vec3(0, 2, 0), axis);
      double inner = Math.cos(Math.toRadians(20)), outer = Math.cos(Math.toRadians(40));
      double fade = Math.pow((Math.cos(tilt) - outer) / (inner - outer), 2);
      assertEquals(6.0 / 4 * fade, irradiance(s, 256), 0.006);
    }
  }

  @ParameterizedTest
  @CsvSource({"0.2, 2", "1, 1.5", "3, 1"})
  void aDiscGivesItsFormFactor(double radius, double height) {
    int n = 256;
    Vec3[] p = new Vec3[n];
    for (int i = 0; i < n; i++) {
      double a = 2 * Math.PI * i / n;
      p[i] = new Vec3(radius * Math.cos(a), height, radius * Math.sin(a));
    }
    double got = irradiance(floor().polygon(p, TestScenes.lamp(2)), 1024);
    double want = Math.PI * 2 * radius * radius / (radius * radius + height * height);
    assertEquals(want, got, 0.01 * want);
  }

  /** J. Lambert, "Photometria", 1760: E = L / 2 times the sum of edge angles times edge normals. */
  private static double lambert(Vec3[] p, double radiance) {
    double sum = 0;
    for (int i = 0; i < p.length; i++) {
      Vec3 a = p[i].normalized(), b = p[(i + 1) % p.length].normalized();
      double angle = Math.acos(a.dot(b));
      sum += angle * a.cross(b).normalized().y();
    }
    return Math.abs(sum) / 2 * radiance;
  }

  @Test
  void aRectangleAndAPolygonGiveLambertsSum() {
    Vec3[] rectangle = {
      new Vec3(0.5, 1, -1), new Vec3(2.5, 1, -1), new Vec3(2.5, 1, 1.5), new Vec3(0.5, 1, 1.5)
    };
    Vec3[] pentagon = {
      new Vec3(-1, 0.6, -1),
      new Vec3(0.2, 1.6, -1.4),
      new Vec3(1.1, 2.1, -1.2),
      new Vec3(0.6, 1.3, -0.6),
      new Vec3(-0.6, 0.6, -0.6)
    };
    for (int k = 1; k < 5; k++) {
      // Made flat: all in the plane of the first corner with this normal.
      Vec3 n = new Vec3(-0.3, 1, 0.5).normalized();
      double off = pentagon[k].minus(pentagon[0]).dot(n);
      pentagon[k] = pentagon[k].minus(n.times(off));
    }
    for (Vec3[] p : new Vec3[][] {rectangle, pentagon}) {
      Material both =
          Material.named("lamp").base(0, 0, 0, 1).emission(4, 4, 4).doubleSided(true).build();
      double want = lambert(p, 4);
      assertEquals(want, irradiance(floor().polygon(p, both), 2048), 0.01 * want);
    }
  }

  @Test
  void anEnvironmentPictureLightsFromWhereItIsBright() {
    int w = 64, h = 32;
    float[] rgb = new float[3 * w * h];
    double want = 0;
    Random random = new Random(2);
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        float v = random.nextInt(40) == 0 ? 50 : 0.5f;
        for (int k = 0; k < 3; k++) {
          rgb[(y * w + x) * 3 + k] = v;
        }
      }
    }
    RgbImage image = new RgbImage(w, h, rgb);
    // The same bilinear picture, integrated over the upper half by brute force.
    int fine = 512;
    for (int j = 0; j < fine / 2; j++) {
      double theta = Math.PI * (j + 0.5) / fine;
      for (int i = 0; i < 2 * fine; i++) {
        double u = (i + 0.5) / (2 * fine) * w - 0.5, v = (j + 0.5) / fine * h - 0.5;
        int x = (int) Math.floor(u), y = (int) Math.floor(v);
        double fu = u - x, fv = v - y;
        double l = 0;
        for (int k = 0; k < 4; k++) {
          int px = Math.floorMod(x + (k & 1), w), py = Math.max(0, Math.min(h - 1, y + (k >> 1)));
          l +=
              ((k & 1) == 0 ? 1 - fu : fu) * ((k >> 1) == 0 ? 1 - fv : fv) * rgb[(py * w + px) * 3];
        }
        double solid = Math.sin(theta) * Math.PI / fine * Math.PI / fine;
        want += l * Math.cos(theta) * solid;
      }
    }
    Environment e =
        new Environment(
            Sky.NONE,
            new Environment.Picture("p", image, Track.of(30), Track.of(1)),
            null,
            new float[3]);
    FrameImage got =
        new RenderScene(floor().scene().withEnvironment(e), Workers.CALLER)
            .frame("eye", 0, 8, 8, TestScenes.settings(4096, 1, 0, 1))
            .render(4096, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    assertEquals(want, Math.PI * TestScenes.mean(got, "G"), 0.01 * want);
  }

  @Test
  void aPictureIsSeenWhereItSaysItIs() {
    int w = 16, h = 8;
    float[] rgb = new float[3 * w * h];
    // Red straight ahead along -Z, green a quarter to the right along +X.
    rgb[(4 * w + 8) * 3] = 1;
    rgb[(4 * w + 12) * 3 + 1] = 1;
    Environment e =
        new Environment(
            Sky.NONE,
            new Environment.Picture("p", new RgbImage(w, h, rgb), Track.of(0), Track.of(1)),
            null,
            new float[3]);
    double up = Math.PI * 0.0625;
    Vec3 ahead = new Vec3(Math.sin(up) * Math.cos(up), -Math.sin(up), -Math.cos(up));
    TestScenes red = new TestScenes().camera(Vec3.ZERO, ahead, 2);
    TestScenes green =
        new TestScenes().camera(Vec3.ZERO, new Vec3(-ahead.z(), ahead.y(), ahead.x()), 2);
    assertTrue(seen(red, e, "R") > 0.7);
    assertTrue(seen(green, e, "G") > 0.7);
  }

  /** What does not change is made once for all frames; what is keyed must change all the same. */
  @Test
  void aKeyedEnvironmentChangesFromFrameToFrame() {
    int w = 16, h = 8;
    float[] rgb = new float[3 * w * h];
    java.util.Arrays.fill(rgb, 1);
    RgbImage even = new RgbImage(w, h, rgb);
    Track rising = new Track(new double[] {0, 2}, new double[] {1, 3});
    for (boolean keyed : new boolean[] {true, false}) {
      Track strength = keyed ? rising : Track.of(2);
      Environment e =
          new Environment(
              Sky.NONE,
              new Environment.Picture("p", even, Track.of(0), strength),
              null,
              new float[3]);
      TestScenes s =
          new TestScenes()
              .square(Vec3.ZERO, 1, false, TestScenes.chalk())
              .camera(new Vec3(0, 2, 0), Vec3.ZERO, 10);
      RenderScene ready = new RenderScene(s.scene().withEnvironment(e), Workers.CALLER);
      assertEquals(keyed ? 1 : 2, seen(ready, 0, "G"), 0.05);
      assertEquals(keyed ? 3 : 2, seen(ready, 2, "G"), 0.15);
      assertEquals(2, seen(ready, 1, "G"), 0.1);
    }
  }

  private static double seen(TestScenes s, Environment e, String channel) {
    return seen(new RenderScene(s.scene().withEnvironment(e), Workers.CALLER), 0, channel);
  }

  private static double seen(RenderScene s, double seconds, String channel) {
    return TestScenes.mean(
        s.frame("eye", seconds, 4, 4, RenderSettings.of(16, 0))
            .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE),
        channel);
  }

  /** A room with a lamp and a shiny box in it. */
  private static TestScenes room() {
    TestScenes s = new TestScenes();
    Material white = Material.plain("w", 0.7f, 0.7f, 0.7f, 0, 1);
    s.square(Vec3.ZERO, 2, false, white);
    s.square(new Vec3(0, 3, 0), 2, true, white);
    s.square(new Vec3(0, 2.99, 0), 0.6, true, TestScenes.lamp(6));
    s.box(
        new Vec3(0.4, 0.6, -0.3),
        new Vec3(0.5, 0.6, 0.5),
        Material.plain("shiny", 0.9f, 0.6f, 0.3f, 1, 0.25f));
    s.light(light(Light.Kind.POINT, 3, 0.25), new Vec3(-1, 2, 0.5), DOWN);
    return s.camera(new Vec3(0, 1.5, 6), new Vec3(0, 1.3, 0), 35);
  }

  @Test
  void samplingLightsAndSurfacesAndBothAgree() {
    double[] mean = new double[3];
    double[] error = new double[3];
    for (Strategy how : Strategy.values()) {
      FrameRenderer r =
          new RenderScene(room().scene(), Workers.CALLER)
              .frame("eye", 0, 24, 24, TestScenes.settings(1024, 3, 0, 9));
      r.use(how);
      FrameImage image = r.render(1024, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
      mean[how.ordinal()] = TestScenes.mean(image, "G");
      double variance = 0;
      for (int i = 0; i < 24 * 24; i++) {
        variance += r.film().variance(i);
      }
      error[how.ordinal()] = Math.sqrt(variance) / (24 * 24);
    }
    for (int k = 0; k < 2; k++) {
      double sigma = Math.hypot(error[k], error[2]);
      assertEquals(mean[2], mean[k], 3.5 * sigma, "strategy " + k + ", sigma " + sigma);
    }
    assertTrue(error[2] < error[0] && error[2] < error[1]);
  }

  @Test
  void aThousandLightsGiveTheSumOfTheirLight() {
    TestScenes s = floor();
    Random random = new Random(4);
    double want = 0;
    for (int i = 0; i < 1000; i++) {
      Vec3 at =
          new Vec3(
              20 * random.nextGaussian(),
              0.3 + 4 * random.nextDouble(),
              20 * random.nextGaussian());
      double d = at.length();
      double intensity = 2 * random.nextDouble();
      want += intensity * at.y() / (d * d * d);
      Light l = light(Light.Kind.POINT, intensity, 0);
      s.light(
          new Light("l" + i, l.kind(), l.color(), intensity, l.range(), 0, l.outerAngle(), 0),
          at,
          DOWN);
    }
    assertEquals(want, irradiance(s, 1024), 0.02 * want);
  }

  @Test
  void aLightsShapeIsSeenIfItSaysSoAndAlwaysInAMirror() {
    Light hidden = light(Light.Kind.POINT, 2, 0.4);
    Light seen =
        new Light("l", hidden.kind(), hidden.color(), 2, hidden.range(), 0, 1, hidden.size(), true);
    Vec3 at = new Vec3(0, 2, 0);
    TestScenes looking = new TestScenes().camera(new Vec3(0, 2, 4), at, 4);
    assertEquals(0, TestScenes.mean(looking.light(hidden, at, DOWN).render(4, few(), one()), "G"));
    TestScenes sees = new TestScenes().camera(new Vec3(0, 2, 4), at, 4).light(seen, at, DOWN);
    double radiance = 2 / (Math.PI * 0.16);
    assertEquals(radiance, TestScenes.mean(sees.render(4, few(), one()), "G"), 1e-3 * radiance);
    Material mirror = Material.plain("m", 1, 1, 1, 1, 0);
    TestScenes mirrored =
        new TestScenes()
            .square(Vec3.ZERO, 5, false, mirror)
            .light(hidden, at, DOWN)
            .camera(new Vec3(2, 2, 0), new Vec3(1, 0, 0), 1);
    assertEquals(
        radiance,
        TestScenes.mean(mirrored.render(4, TestScenes.settings(64, 2, 0, 0), one()), "G"),
        0.02 * radiance);
  }

  private static RenderSettings few() {
    return RenderSettings.of(4, 0);
  }

  private static Workers one() {
    return Workers.CALLER;
  }

  @Test
  void ambientLightReachesEveryDiffuseSurface() {
    TestScenes s = floor().square(new Vec3(0, 1, 0), 50, true, TestScenes.chalk());
    Environment e = new Environment(Sky.NONE, null, null, new float[] {0.25f, 0.25f, 0.25f});
    double got =
        TestScenes.mean(
            new RenderScene(s.scene().withEnvironment(e), one())
                .frame("eye", 0, 4, 4, TestScenes.settings(4, 1, 0, 0))
                .render(4, one(), Stop.NEVER, FrameRenderer.Progress.NONE),
            "G");
    assertEquals(0.25, got, 1e-4);
  }
}
