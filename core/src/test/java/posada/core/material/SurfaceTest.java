package posada.core.material;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Random;
import java.util.function.Consumer;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;

/** Each lobe by itself: energy, reciprocity, and densities that are those of the samples. */
@org.junit.jupiter.api.parallel.Execution(org.junit.jupiter.api.parallel.ExecutionMode.CONCURRENT)
class SurfaceTest {
  private static final float[] ROUGHNESSES = {0.05f, 0.1f, 0.25f, 0.5f, 0.75f, 1};
  private static final double[] ANGLES = {0, 20, 40, 60, 75, 85, 88};

  /** A white lobe that keeps all light. */
  private record Lobe(String name, boolean front, Consumer<SurfaceValues> look, Fix roughness) {
    @Override
    public String toString() {
      return name;
    }
  }

  private interface Fix {
    void set(SurfaceValues v, float roughness);
  }

  private static Lobe lobe(String name, boolean front, Consumer<SurfaceValues> look, Fix fix) {
    return new Lobe(name, front, look, fix);
  }

  private static final Fix BASE = (v, r) -> v.roughness = r;

  private static void metal(SurfaceValues v) {
    v.metallic = 1;
  }

  /** Varnish on chalk: a base without a reflection of its own. */
  private static void varnish(SurfaceValues v) {
    v.coat = 1;
    v.f0[0] = v.f0[1] = v.f0[2] = v.f90 = 0;
  }

  private static void sheen(SurfaceValues v) {
    v.sheen[0] = v.sheen[1] = v.sheen[2] = 1;
    v.f0[0] = v.f0[1] = v.f0[2] = v.f90 = 0;
  }

  private static void glass(SurfaceValues v, boolean thin, float ior) {
    v.transmission = 1;
    v.thin = thin;
    v.ior = ior;
  }

  private static final List<Lobe> WHITE =
      List.of(
          lobe("diffuse under dielectric", true, v -> {}, BASE),
          lobe("metal", true, SurfaceTest::metal, BASE),
          lobe("half metal", true, v -> v.metallic = 0.5f, BASE),
          lobe(
              "brushed metal",
              true,
              v -> {
                v.metallic = 1;
                v.brushed = 0.7f;
              },
              BASE),
          lobe("pane", true, v -> glass(v, true, 1.5f), BASE),
          lobe("glass from outside", true, v -> glass(v, false, 1.5f), BASE),
          lobe("glass from inside", false, v -> glass(v, false, 1.5f), BASE),
          lobe("water from outside", true, v -> glass(v, false, 1.33f), BASE),
          lobe("varnish", true, SurfaceTest::varnish, (v, r) -> v.coatRoughness = r),
          lobe("sheen", true, SurfaceTest::sheen, (v, r) -> v.sheenRoughness = r));

  private static Surface surface(Lobe l, float roughness, double degrees, double azimuth) {
    SurfaceValues v = values(l, roughness);
    return view(v, l.front(), degrees, azimuth);
  }

  private static SurfaceValues values(Lobe l, float roughness) {
    SurfaceValues v = new SurfaceValues();
    v.plain();
    v.base[0] = v.base[1] = v.base[2] = 1;
    l.look().accept(v);
    l.roughness().set(v, roughness);
    return v;
  }

  private static Surface view(SurfaceValues v, boolean front, double degrees, double azimuth) {
    Surface s = new Surface();
    double a = Math.toRadians(degrees);
    s.set(
        v,
        front,
        0,
        new Surface.Allowed(),
        (float) (Math.sin(a) * Math.cos(azimuth)),
        (float) (Math.sin(a) * Math.sin(azimuth)),
        (float) Math.cos(a));
    return s;
  }

  private static float sum(Surface s, int k) {
    return s.sum(k);
  }

  private static final int POINTS = 17711;
  private static final int LOBES = 20;
  private static final int SAMPLES = POINTS * LOBES;

  /**
   * A point of Fibonacci's lattice with one of a few choices of the lobe, shifted from point to
   * point.
   */
  private static boolean sample(Surface s, int i) {
    int p = i / LOBES;
    double w = (i % LOBES + p * 0.41421356237309503 % 1) / LOBES;
    float v = ((long) p * 10946 % POINTS + 0.5f) / POINTS;
    return s.sample((p + 0.5f) / POINTS, v, (float) Math.min(w, 0.9999999));
  }

  @ParameterizedTest
  @FieldSource("WHITE")
  void keepsAllLight(Lobe l) {
    StringBuilder wrong = new StringBuilder();
    for (float r : ROUGHNESSES) {
      for (double angle : ANGLES) {
        Surface s = surface(l, r, angle, 0.3);
        double total = 0;
        for (int i = 0; i < SAMPLES; i++) {
          if (sample(s, i)) {
            total += sum(s, 1) / s.density / SAMPLES;
          }
        }
        if (!(Math.abs(total - 1) <= 0.005)) {
          wrong.append(String.format("roughness %.2f at %.0f: %.4f%n", r, angle, total));
        }
      }
    }
    assertEquals("", wrong.toString());
  }

  @ParameterizedTest
  @FieldSource("WHITE")
  void isReciprocal(Lobe l) {
    Random random = new Random(3);
    for (int i = 0; i < 4000; i++) {
      SurfaceValues v = values(l, 0.05f + 0.95f * random.nextFloat());
      double a = Math.toDegrees(Math.acos(0.05 + 0.95 * random.nextDouble()));
      double b = Math.toDegrees(Math.acos(0.05 + 0.95 * random.nextDouble()));
      double p = random.nextDouble() * 6.28, q = random.nextDouble() * 6.28;
      boolean through = v.transmission > 0 && i % 2 == 0;
      double there = towards(v, l.front(), a, p, b, q, through);
      // Seen from the other side of the surface, if the light comes from there.
      boolean otherSide = through && !v.thin ? !l.front() : l.front();
      double back = towards(v, otherSide, b, q, a, p, through);
      if (through && !v.thin) {
        float eta = l.front() ? v.ior : 1 / v.ior;
        there /= eta * eta;
      }
      assertEquals(there, back, 2e-3 * Math.max(1e-2, Math.abs(there)), "sample " + i);
    }
  }

  /** Scattering without the cosine, from a view to a light, both by angle and azimuth. */
  private static double towards(
      SurfaceValues v,
      boolean front,
      double view,
      double azimuth,
      double light,
      double lightAzimuth,
      boolean through) {
    Surface s = view(v, front, view, azimuth);
    double b = Math.toRadians(light);
    double z = through ? -Math.cos(b) : Math.cos(b);
    s.evaluate(
        (float) (Math.sin(b) * Math.cos(lightAzimuth)),
        (float) (Math.sin(b) * Math.sin(lightAzimuth)),
        (float) z);
    return sum(s, 1) / Math.abs(z);
  }

  @ParameterizedTest
  @FieldSource("WHITE")
  void choosesDirectionsWithTheDensityItSays(Lobe l) {
    for (float r : new float[] {0.3f, 0.6f, 1}) {
      Surface s = surface(l, r, 50, 0.4);
      int rows = 8, columns = 8;
      double[] chosen = new double[2 * rows * columns];
      double[] said = new double[chosen.length];
      for (int i = 0; i < SAMPLES; i++) {
        if (sample(s, i)) {
          chosen[cell(s.ix, s.iy, s.iz, rows, columns)] += 1.0 / SAMPLES;
        }
      }
      int fine = 40;
      for (int c = 0; c < said.length; c++) {
        for (int k = 0; k < fine * fine; k++) {
          double z = -1 + 2 * (c / columns + (k / fine + 0.5) / fine) / (2 * rows);
          double t = 2 * Math.PI * (c % columns + (k % fine + 0.5) / fine) / columns;
          double flat = Math.sqrt(1 - z * z);
          s.evaluate((float) (flat * Math.cos(t)), (float) (flat * Math.sin(t)), (float) z);
          said[c] += s.density / (fine * fine) * 4 * Math.PI / said.length;
        }
      }
      for (int c = 0; c < said.length; c++) {
        assertEquals(said[c], chosen[c], 0.002 + 0.02 * said[c], "cell " + c + " at " + r);
      }
    }
  }

  private static int cell(float x, float y, float z, int rows, int columns) {
    int row = Math.min(2 * rows - 1, (int) ((z + 1) * rows));
    double t = Math.atan2(y, x) / (2 * Math.PI);
    return row * columns + Math.min(columns - 1, (int) ((t - Math.floor(t)) * columns));
  }
}
