package posada.core.light;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.scene.DaySky;
import posada.core.scene.Skies;

/** Sun and sky against published positions and luminances. */
class DayTest {
  private static double days(String date, double hoursUtc) {
    return ChronoUnit.DAYS.between(LocalDate.of(2000, 1, 1), LocalDate.parse(date)) + hoursUtc / 24;
  }

  /** I. Reda and A. Andreas, "Solar Position Algorithm", NREL/TP-560-34302, table A5.1. */
  @Test
  void theSunStandsWhereThePublishedExampleSays() {
    SunPosition s = SunPosition.of(39.742476, -105.1786, days("2003-10-17", 19 + 30.5 / 60));
    assertEquals(90 - 50.11162, s.altitude(), 0.1);
    assertEquals(194.34024, s.azimuth(), 0.1);
  }

  /** J. Meeus, "Astronomical Algorithms", example 25.a: at the pole the altitude is declination. */
  @Test
  void theSunsDeclinationIsThatOfTheAlmanac() {
    assertEquals(-7.78507, SunPosition.of(90, 0, days("1992-10-13", 0)).altitude(), 0.02);
  }

  @Test
  void theSunRisesInTheEastAndSetsInTheWest() {
    assertEquals(90, SunPosition.of(0, 0, days("2026-03-20", 6.5)).azimuth(), 1);
    assertEquals(270, SunPosition.of(0, 0, days("2026-03-20", 17.5)).azimuth(), 1);
  }

  /** Worked out by hand from the paper's appendix for turbidity 3 and the sun 30 degrees high. */
  @ParameterizedTest
  @CsvSource({
    "0, 60, 5.139156",
    "30, 30, 9.972651",
    "60, 0, 30.766941",
    "80, 20, 22.542183",
    "45, 90, 4.683739"
  })
  void theClearSkyHasThePapersLuminance(double theta, double gamma, double kilocandela) {
    ClearSky s = new ClearSky(3, 30);
    double l = s.luminance(Math.cos(Math.toRadians(theta)), Math.toRadians(gamma));
    assertEquals(kilocandela, l, 1e-5 * kilocandela);
    double[] rgb = new double[3];
    s.color(Math.cos(Math.toRadians(theta)), Math.toRadians(gamma), rgb);
    assertEquals(l, 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2], 0.002 * l);
  }

  @Test
  void aClearSkyIsBlueAndALowSunIsRed() {
    double[] c = new double[3];
    new ClearSky(2.5, 40).color(1, Math.toRadians(50), c);
    assertTrue(c[2] > 1.5 * c[0], c[0] + " " + c[2]);
    double[] high = new double[3];
    double[] low = new double[3];
    new ClearSky(2.5, 60).sun(high);
    new ClearSky(2.5, 3).sun(low);
    assertTrue(low[0] / low[2] > 3 * high[0] / high[2]);
    // IES gives 127.5 exp(-0.21 / sin h) klx for a clear day.
    double y = 0.2126 * high[0] + 0.7152 * high[1] + 0.0722 * high[2];
    assertEquals(127.5 * Math.exp(-0.21 / Math.sin(Math.toRadians(60))), y, 0.1 * y);
  }

  @Test
  void theNightFallsSmoothly() {
    double before = Double.POSITIVE_INFINITY;
    for (double h = 2; h > -20; h -= 0.25) {
      double l = new ClearSky(3, h).luminance(0.7, 1);
      assertTrue(l <= before * 1.02 && l > 0, h + ": " + l);
      before = l;
    }
    assertTrue(before < 1e-4);
  }

  /** ISO 15469: type 1 is the overcast sky, type 5 the uniform one, type 12 the clear one. */
  @Test
  void theStandardSkiesAreThoseOfTheStandard() {
    assertEquals(1 / (1 + 4 * Math.exp(-0.7)), new StandardSky(1, 30).relative(0, 1.2), 1e-9);
    for (double c : new double[] {0, 0.3, 1}) {
      assertEquals(1, new StandardSky(5, 50).relative(c, 1), 1e-9);
    }
    double gamma = Math.toRadians(25), theta = Math.toRadians(35), sun = Math.toRadians(60);
    double f = 1 + 10 * (Math.exp(-3 * gamma) - Math.exp(-1.5 * Math.PI));
    f += 0.45 * Math.cos(gamma) * Math.cos(gamma);
    double f0 = 1 + 10 * (Math.exp(-3 * sun) - Math.exp(-1.5 * Math.PI)) + 0.45 * 0.25;
    double phi = 1 - Math.exp(-0.32 / Math.cos(theta));
    double want = f * phi / (f0 * (1 - Math.exp(-0.32)));
    assertEquals(want, new StandardSky(12, 30).relative(Math.cos(theta), gamma), 1e-6);
  }

  private static DaySky sky(DaySky.Model model, double hours) {
    return Skies.of(model, 46.5, 9.8, LocalDate.of(2026, 6, 21), hours, 2);
  }

  @Test
  void theTableReadsLikeTheModel() {
    DayLight d = new DayLight(sky(DaySky.Model.PHYSICAL, 15), 0);
    ClearSky model = new ClearSky(3, d.position().altitude());
    double[] want = new double[3];
    float[] got = new float[3];
    for (double up = 0.05; up < 1; up += 0.093) {
      for (double a = 0; a < 6.2; a += 0.37) {
        double flat = Math.sqrt(1 - up * up);
        double x = flat * Math.cos(a), z = flat * Math.sin(a);
        double dot = x * d.sun().x() + up * d.sun().y() + z * d.sun().z();
        model.color(up, Math.acos(dot), want);
        java.util.Arrays.fill(got, 0);
        d.add((float) x, (float) up, (float) z, got);
        for (int k = 0; k < 3; k++) {
          assertEquals(want[k] / 10, got[k], 0.01 * want[k] / 10 + 1e-4);
        }
      }
    }
  }

  @Test
  void aStandardSkyGivesTheIlluminanceOfItsKind() {
    DaySky s = sky(new DaySky.Model(1), 13);
    DayLight d = new DayLight(s, 0);
    double sum = 0;
    float[] rgb = new float[3];
    int n = 200;
    for (int i = 0; i < n; i++) {
      for (int j = 0; j < n; j++) {
        double up = Math.sqrt((i + 0.5) / n), a = 2 * Math.PI * (j + 0.5) / n;
        double flat = Math.sqrt(1 - up * up);
        java.util.Arrays.fill(rgb, 0);
        d.add((float) (flat * Math.cos(a)), (float) up, (float) (flat * Math.sin(a)), rgb);
        sum += rgb[1] * Math.PI / (n * n);
      }
    }
    double kilolux = 0.3 + 21 * Math.sin(Math.toRadians(d.position().altitude()));
    assertEquals(kilolux, 10 * sum, 0.01 * kilolux);
  }
}
