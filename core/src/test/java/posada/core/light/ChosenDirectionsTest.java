package posada.core.light;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.geometry.Vec3;
import posada.core.image.RgbImage;
import posada.core.parallel.Workers;
import posada.core.scene.Environment;
import posada.core.scene.Sky;
import posada.core.scene.Track;

/**
 * Directions that are chosen towards windows, glowing triangles and the sky: the mean of one over
 * the density is the solid angle, and the density that is told for any direction is that with which
 * it is chosen.
 */
class ChosenDirectionsTest {
  private static final int TRIES = 200_000;
  private static final float[] PANE = {-1, 1, -2, 1, 1, -2, -1, 3, -2};
  private static final float[] OTHER = {2, 0, 1, 2, 0, -1, 2.5f, 2, 0};
  private final SplittableRandom r = new SplittableRandom(3);

  /**
   * Solid angle of a triangle as seen from the origin.
   *
   * <p>Source: A. van Oosterom and J. Strackee, "The Solid Angle of a Plane Triangle", 1983.
   */
  private static double solidAngle(float[] t) {
    Vec3 a = new Vec3(t[0], t[1], t[2]).normalized();
    Vec3 b = new Vec3(t[3], t[4], t[5]).normalized();
    Vec3 c = new Vec3(t[6], t[7], t[8]).normalized();
    double up = Math.abs(a.dot(b.cross(c)));
    return 2 * Math.atan2(up, 1 + a.dot(b) + b.dot(c) + c.dot(a));
  }

  private float next() {
    return (float) r.nextDouble(0, 0.9999999);
  }

  private static float[] both() {
    float[] all = new float[18];
    System.arraycopy(PANE, 0, all, 0, 9);
    System.arraycopy(OTHER, 0, all, 9, 9);
    return all;
  }

  @Test
  void panesAreSeenUnderTheirSolidAngle() {
    Portals.From from = new Portals(both()).new From();
    from.at(0, 0, 0, 0, 0, 0);
    assertTrue(from.share > 0.5, "large panes get most of the directions");
    double solid = 0;
    for (int k = 0; k < TRIES; k++) {
      from.sample(next(), next());
      solid += 1 / from.density(from.dx, from.dy, from.dz) / TRIES;
    }
    assertEquals(solidAngle(PANE) + solidAngle(OTHER), solid, 0.01 * solid);
  }

  /** A direction is as likely as its density tells, and none is told to be likely that is not. */
  @Test
  void panesAreChosenAsOftenAsTheirDensityTells() {
    Portals.From from = new Portals(both()).new From();
    from.at(0, 0, 0, 0.6f, 0.8f, 0);
    double inPane = 0, told = 0;
    for (int k = 0; k < TRIES; k++) {
      from.sample(next(), next());
      inPane += from.dz < -0.65f ? 1.0 / TRIES : 0;
      double z = r.nextDouble(-1, 1), turn = r.nextDouble(2 * Math.PI), s = Math.sqrt(1 - z * z);
      float density =
          from.density((float) (s * Math.cos(turn)), (float) (s * Math.sin(turn)), (float) z);
      told += z < -0.65f ? density * 4 * Math.PI / TRIES : 0;
    }
    assertEquals(inPane, told, 0.02);
    assertTrue(inPane > 0.05 && inPane < 0.95, "both panes are chosen");
  }

  @Test
  void panesBehindASurfaceOrFarAwayAreLeftOut() {
    Portals.From from = new Portals(PANE).new From();
    from.at(0, 0, 0, 0, 0, 1);
    assertEquals(0, from.share);
    from.at(0, 0, 500, 0, 0, -1);
    assertEquals(0, from.share);
    from = Portals.NONE.new From();
    from.at(0, 0, 0, 0, 0, 0);
    assertEquals(0, from.share);
  }

  /** Seen from its back a one-sided triangle gives nothing; a two-sided one the same as before. */
  @ParameterizedTest
  @CsvSource({"false, false", "true, false", "true, true"})
  void glowingTrianglesAreSeenUnderTheirSolidAngle(boolean twoSided, boolean turned) {
    float[] t = PANE.clone();
    if (turned) {
      System.arraycopy(PANE, 3, t, 6, 3);
      System.arraycopy(PANE, 6, t, 3, 3);
    }
    EmissiveTriangles e = new EmissiveTriangles(1, false);
    e.add(t, t, 2, twoSided, 0, 0, 0);
    LightSample s = new LightSample();
    double solid = 0;
    for (int k = 0; k < TRIES; k++) {
      if (e.sample(0, 0, 0, 0, 0, next(), next(), s)) {
        assertEquals(1, s.r * s.density, 1e-5);
        solid += s.r / TRIES;
      }
    }
    assertEquals(solidAngle(PANE), solid, 0.01 * solid);
    assertEquals(2 * 2, e.power(0, new float[3]), 1e-5, "luminance times area");
  }

  @Test
  void glowingTrianglesThatAreTurnedAwayGiveNothing() {
    float[] back = {-1, 1, -2, -1, 3, -2, 1, 1, -2};
    EmissiveTriangles e = new EmissiveTriangles(1, false);
    e.add(back, back, 2, false, 0, 0, 0);
    assertFalse(e.sample(0, 0, 0, 0, 0, 0.3f, 0.6f, new LightSample()));
    assertEquals(0, e.guess(0, 0, 0, 0, 0, 0, -1));
    assertEquals(0, e.guess(0, 0, 0, -5, 0, 0, -1), "the surface is turned away");
  }

  @Test
  void movingTrianglesAreWhereTheyAreAtTheTime() {
    float[] later = PANE.clone();
    for (int c = 2; c < 9; c += 3) {
      later[c] -= 2;
    }
    EmissiveTriangles e = new EmissiveTriangles(1, true);
    e.add(PANE, later, 1, false, 0, 0, 0);
    LightSample s = new LightSample();
    for (float time : new float[] {0, 0.25f, 1}) {
      assertTrue(e.sample(0, 0, 0, 0, time, next(), next(), s));
      assertEquals(-2 - 2 * time, s.z * s.distance, 1e-5);
    }
    assertEquals(0, e.turn(0), "it keeps its direction");
  }

  /** A picture with one bright pixel, turned, before a gradient. */
  @Test
  void theSkyIsChosenByItsBrightness() {
    float[] rgb = new float[64 * 32 * 3];
    for (int k = 0; k < 3; k++) {
      rgb[(9 * 64 + 20) * 3 + k] = 400;
    }
    Environment.Picture picture =
        new Environment.Picture("spot", new RgbImage(64, 32, rgb), Track.of(70), Track.of(1.5));
    EnvironmentLight all =
        new EnvironmentLight(
            new Environment(Sky.PLAIN, picture, null, new float[3]), 0, Workers.CALLER);
    float[] d = new float[3], c = new float[3];
    double chosen = 0, even = 0, density = 0;
    int other = 0;
    for (int k = 0; k < TRIES; k++) {
      float p = all.sample(next(), next(), d);
      other += Math.abs(p - all.density(d[0], d[1], d[2])) > 1e-4f * p ? 1 : 0;
      all.radiance(d[0], d[1], d[2], c);
      chosen += Luminance.of(c) / p / TRIES;
      double z = r.nextDouble(-1, 1), turn = r.nextDouble(2 * Math.PI), s = Math.sqrt(1 - z * z);
      float x = (float) (s * Math.cos(turn)), y = (float) z, w = (float) (s * Math.sin(turn));
      all.radiance(x, y, w, c);
      even += Luminance.of(c) * 4 * Math.PI / TRIES;
      density += all.density(x, y, w) * 4 * Math.PI / TRIES;
    }
    assertEquals(even, chosen, 0.05 * chosen);
    assertEquals(1, density, 0.05);
    assertTrue(other < TRIES / 1000, other + " are of another cell, which rounding may do");
  }

  /**
   * A sun of one pixel in a picture finer than the table that directions are chosen by: a few
   * samples find what it gives, which is its radiance times the solid angle of a pixel.
   */
  @ParameterizedTest
  @CsvSource({"4096, 501", "4096, 1023", "4096, 1800", "2048, 300", "2048, 513", "2048, 701"})
  void noPixelOfALargePictureIsSteppedOver(int w, int row) {
    int h = w / 2;
    for (int column : new int[] {w / 3, w / 2 - 1, w - 1}) {
      float[] rgb = new float[w * h * 3];
      Arrays.fill(rgb, (row * w + column) * 3, (row * w + column) * 3 + 3, 1e6f);
      Environment.Picture picture =
          new Environment.Picture("sun", new RgbImage(w, h, rgb), Track.of(0), Track.of(1));
      EnvironmentLight all =
          new EnvironmentLight(
              new Environment(Sky.NONE, picture, null, new float[3]), 0, Workers.CALLER);
      float[] d = new float[3], c = new float[3];
      int n = 20_000;
      double found = 0;
      for (int k = 0; k < n; k++) {
        float p = all.sample(next(), next(), d);
        all.radiance(d[0], d[1], d[2], c);
        found += Luminance.of(c) / p / n;
      }
      double solid = 2 * Math.PI / w * Math.PI / h * Math.sin(Math.PI * (row + 0.5) / h);
      assertEquals(1e6 * solid, found, 0.06 * 1e6 * solid, "column " + column);
    }
  }
}
