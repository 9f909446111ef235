package posada.core.irradiance;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import org.junit.jupiter.api.Test;

class LightLookupTest {
  private static final float ANY = Float.POSITIVE_INFINITY;

  /** Returns a point on the floor with grey light from above, and nothing in the way. */
  private static float[] point(double x, double z, double radius, double light) {
    float[] p = new float[LightPoints.STRIDE];
    p[0] = (float) x;
    p[2] = (float) z;
    p[4] = 1;
    for (int c = 0; c < 3; c++) {
      p[LightPoints.FLUX + 3 * c + 1] = (float) light;
    }
    p[LightPoints.RADIUS] = (float) radius;
    Arrays.fill(p, LightPoints.CLEARANCE, LightPoints.STRIDE, 1000);
    return p;
  }

  private static LightPoints points(float[]... all) {
    LightPoints p = new LightPoints();
    for (float[] one : all) {
      p.add(one);
    }
    return p;
  }

  /** Points in a square grid whose light rises by 0.5 for each metre along x. */
  private static LightPoints slope() {
    LightPoints p = new LightPoints();
    for (int x = -3; x <= 3; x++) {
      for (int z = -3; z <= 3; z++) {
        p.add(point(x, z, 1, 5 + 0.5 * x));
      }
    }
    return p;
  }

  private static LightLookup in(LightPoints p) {
    return new LightLookup(p, new PointIndex(p));
  }

  private static float look(LightLookup l, float x, float z, float coarsest) {
    return l.look(x, 0, z, 0, 1, 0, ANY, coarsest);
  }

  @Test
  void straightLinesAreKept() {
    LightLookup l = in(slope());
    float[] e = new float[3];
    for (float x : new float[] {-0.7f, 0, 0.3f, 1.2f}) {
      assertTrue(look(l, x, 0.4f, ANY) > LightLookup.PLENTY);
      LightFit fit = new LightFit();
      l.fit(false, 0, fit);
      fit.irradiance(0, 1, 0, e);
      assertEquals(5 + 0.5 * x, e[1], 0.02, "at " + x);
    }
  }

  @Test
  void lightRunsNoFurtherThanThePointsAround() {
    LightLookup l = in(points(point(0, 0, 1, 1), point(0.8, 0, 1, 2), point(0.4, 0.4, 1, 1.5)));
    look(l, 1.9f, 0, ANY);
    LightFit fit = new LightFit();
    l.fit(false, 0, fit);
    float[] e = new float[3];
    fit.irradiance(0, 1, 0, e);
    assertEquals(2, e[1], 1e-5);
  }

  /** 0.75 of light 4 from surfaces comes over one less, 0.5625 over two; 2 come from lamps. */
  @Test
  void lightOverFewerSurfacesIsToldApart() {
    float[] lit = point(0, 0, 1, 4);
    for (int c = 0; c < 3; c++) {
      lit[LightPoints.DIRECT + 3 * c + 1] = 2;
    }
    LightPoints p = points(lit);
    LightFit fit = new LightFit();
    LightLookup l = in(p);
    look(l, 0.1f, 0, ANY);
    l.fit(false, 1, fit);
    assertEquals(1, fit.shallow(), "nobody told");
    assertLight(4, fit);
    p.setShallow(0, 0.75f);
    l.fit(false, 1, fit);
    assertLight(3, fit);
    assertEquals(0.75, fit.shallow(), 1e-6);
    l.fit(true, 2, fit);
    assertLight(2 + 4 * 0.5625, fit);
    assertEquals((2 + 4 * 0.421875) / (2 + 4 * 0.5625), fit.shallow(), 1e-6);
    p.dim(0, 0.5f);
    l.fit(true, 0, fit);
    assertLight(2 + 2, fit);
    p.setLight(0, point(7, 7, 7, 5));
    l.fit(true, 0, fit);
    assertLight(5, fit);
    assertEquals(1, p.radius(0), "only its light changes");
  }

  private static void assertLight(double irradiance, LightFit fit) {
    float[] e = new float[3];
    fit.irradiance(0, 1, 0, e);
    assertEquals(irradiance, e[1], 1e-5);
  }

  @Test
  void coarsePointsCountForNothingWherePixelsAreFine() {
    LightLookup l = in(points(point(0, 0, 1, 3)));
    assertTrue(look(l, 0.5f, 0, 1.01f) > 0);
    assertEquals(0, look(l, 0.5f, 0, 0.99f));
  }

  @Test
  void whatFacesElsewhereOrStandsBehindSomethingCountsForNothing() {
    float[] behind = point(0, 0, 1, 3);
    // Sector 0 looks along the first axis of the frame, and its neighbours beside it.
    Arrays.fill(behind, LightPoints.CLEARANCE, LightPoints.STRIDE, 0.3f);
    LightLookup l = in(points(behind));
    assertTrue(look(l, 0.2f, 0.1f, ANY) > 0);
    assertEquals(0, look(l, 0.3f, 0.2f, ANY));
    assertTrue(l.look(0, 0, 0, 0.3f, 0.954f, 0, ANY, ANY) > 0);
    assertEquals(0, l.look(0, 0, 0, 0.6f, 0.8f, 0, ANY, ANY));
  }

  @Test
  void onePointThatDiffersSurprises() {
    LightPoints p = slope();
    assertEquals(0, in(p).surprise(24, false, LightPoints.DARK), 0.01);
    float[] odd = p.numbers();
    for (int c = 0; c < 3; c++) {
      odd[24 * LightPoints.STRIDE + LightPoints.FLUX + 3 * c + 1] = 8;
    }
    assertEquals(3 / 8.15, in(new LightPoints(odd)).surprise(24, false, LightPoints.DARK), 0.01);
  }

  @Test
  void radiiGrowSlowlyFromSmallPoints() {
    LightPoints p = points(point(0, 0, 0.1, 1), point(5, 0, 3, 1));
    assertEquals(0.1 + 0.2 * 2, p.fitting(new float[] {2, 0, 0, 0, 1, 0}), 1e-5);
    assertEquals(ANY, p.fitting(new float[] {2, 0, 0, 0, 0, 1}), "no point faces there");
  }

  /** Beside a wall it is dark; the point that stands there must not darken what is around. */
  @Test
  void pointsInCrevicesReachLessFar() {
    float[] crevice = point(0, 0, 1, 1), corner = point(0, 0.6, 1, 1), free = point(0.3, 0, 1, 5);
    Arrays.fill(crevice, LightPoints.CLEARANCE, LightPoints.CLEARANCE + 7, 0.1f);
    Arrays.fill(corner, LightPoints.CLEARANCE, LightPoints.CLEARANCE + 7, 0.6f);
    LightPoints p = points(crevice, corner, free);
    p.narrow();
    assertEquals(0.35f, p.radius(0));
    assertEquals(1, p.radius(1));
    assertEquals(1, p.radius(2));
  }

  @Test
  void aPointThatIsLeftOutCountsForNothing() {
    LightLookup l = in(points(point(-0.5, 0, 1, 1), point(0.5, 0, 1, 1)));
    float both = look(l, 0, 0, ANY);
    l.leaveOut(1);
    assertEquals(both / 2, look(l, 0, 0, ANY), 1e-6);
    l.leaveOut(-1);
    assertEquals(both, look(l, 0, 0, ANY));
  }

  @Test
  void errorsAreShared() {
    float[] one = point(-0.5, 0, 1, 1), two = point(0.5, 0, 1, 1);
    one[LightPoints.ERROR] = 0.3f;
    two[LightPoints.ERROR] = 0.4f;
    LightLookup l = in(points(one, two));
    look(l, 0, 0, ANY);
    assertEquals(Math.sqrt((0.09 + 0.16) / 2), l.error(), 1e-6);
  }
}
