package posada.core.rig;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/** Stops, turns, sway, speed and colours of the rig. */
class MovesTest {
  private static final RigKey POSE =
      RigKey.of(0, new Vec3(1, 2, 3), Quat.IDENTITY, null, Ease.EASED);

  private static Stops.CameraStop stop(double hold, double transition) {
    return new Stops.CameraStop(POSE, hold, transition);
  }

  @Test
  void stopsBecomeWholeFramesAndWords() {
    Stops.StopsMove m = Stops.keys(List.of(stop(0, 2), stop(0, 2), stop(0, 2)), 1, 30, Ease.EASED);
    assertEquals("3 stops, 2 transitions of 2 s at 30 fps: frames 1–121", m.sentence());
    assertEquals(
        List.of(1 / 30.0, 61 / 30.0, 121 / 30.0), m.keys().stream().map(RigKey::time).toList());
    Stops.StopsMove held = Stops.keys(List.of(stop(1, 0.5), stop(0, 1)), 10, 24, Ease.SMOOTH);
    assertEquals(46, held.last());
    assertEquals(
        "2 stops, 1 transition of 0.5 s, 1 s at stops at 24 fps: frames 10–46", held.sentence());
    assertEquals(Ease.STEP, held.keys().get(0).ease());
    assertThrows(
        IllegalArgumentException.class, () -> Stops.keys(List.of(stop(0, 1)), 1, 24, Ease.EASED));
  }

  @Test
  void aTurnEndsWhereItBeganAndNotBefore() {
    Orbit o = new Orbit(List.of(2.0, 0.0, -1.0), 0.5, 4, 1);
    Vec3 p = new Vec3(5, 1, -1);
    assertEquals(p, o.at(0.5).point(p));
    assertEquals(p, o.at(4.5).point(p));
    assertEquals(0, o.at(1.5).point(p).minus(new Vec3(2, 1, -4)).length(), 1e-12);
    // Of 96 frames none is like another.
    for (int f = 1; f < 96; f++) {
      assertTrue(o.at(0.5 + f / 24.0).point(p).minus(p).length() > 0.1, "frame " + f);
    }
  }

  /** Root mean square and the share of the power within a band of frequencies. */
  private static double[] spectrum(Sway s, int axis, double low, double high) {
    int n = 2048;
    double seconds = s.to() - s.from();
    double[] x = new double[n];
    for (int i = 0; i < n; i++) {
      x[i] = s.axis(axis, s.from() + seconds * i / n);
    }
    double all = 0;
    double inside = 0;
    for (int k = 1; k < n / 2; k++) {
      double re = 0;
      double im = 0;
      for (int i = 0; i < n; i++) {
        re += x[i] * Math.cos(2 * Math.PI * k * i / n);
        im += x[i] * Math.sin(2 * Math.PI * k * i / n);
      }
      double power = re * re + im * im;
      all += power;
      double f = k / seconds;
      inside += f >= low && f <= high ? power : 0;
    }
    return new double[] {Math.sqrt(2 * all) / n, inside / all};
  }

  @Test
  void swayHasItsFrequenciesAndItsStrength() {
    Sway s = new Sway(0.01, 0.3, 2, 7, 0, 64, false);
    for (int axis = 0; axis < 6; axis++) {
      double[] of = spectrum(s, axis, 0.9, 3.1);
      assertEquals(1, of[0], 0.1, "root mean square of axis " + axis);
      assertTrue(of[1] > 0.97, "share of the power " + of[1]);
    }
  }

  @Test
  void swayIsTheSameForASeedAndAnotherForAnother() {
    Sway a = new Sway(0.01, 0.3, 2, 7, 0, 10, false);
    assertEquals(a.moved(3.3), new Sway(0.01, 0.3, 2, 7, 0, 10, false).moved(3.3));
    assertNotEquals(a.moved(3.3), new Sway(0.01, 0.3, 2, 8, 0, 10, false).moved(3.3));
    assertEquals(a.moved(10), a.moved(99), "it is held at the end");
  }

  @Test
  void loopedSwayEndsAsItBegan() {
    Sway s = new Sway(0.1, 1, 1.3, 3, 2, 6, true);
    assertEquals(0, s.moved(2).minus(s.moved(6)).length(), 1e-9);
    String why =
        assertThrows(IllegalArgumentException.class, () -> new Sway(0.1, 1, 10_000, 3, 2, 6, true))
            .getMessage();
    assertEquals("frequency of the sway must be 0.02 .. 20 Hz (got 10000)", why);
  }

  @Test
  void jerksAreFoundWhereASpeedChangesAbruptly() {
    List<Affine> even = new ArrayList<>();
    List<Affine> jerky = new ArrayList<>();
    for (int f = 0; f < 60; f++) {
      double eased = KeyPath.eased(f / 59.0);
      even.add(Affine.of(new Vec3(10 * eased, 0, 0), Quat.IDENTITY, Vec3.ONE));
      double bent = f < 30 ? 0.1 * f : 3 + 0.5 * (f - 30);
      jerky.add(Affine.of(new Vec3(bent, 0, 0), Quat.IDENTITY, Vec3.ONE));
    }
    assertEquals(List.of(), PathSpeed.of(even, 24).jerks());
    PathSpeed.CameraSpeed s = PathSpeed.of(jerky, 24);
    assertEquals(List.of(30), s.jerks());
    assertEquals(2.4, s.metres().get(10), 1e-9);
    assertEquals(12, s.metres().get(40), 1e-9);
  }

  @Test
  void aBlackBodyOf6500KelvinIsAboutWhite() {
    // D65, the white of Rec. 709, lies close beside the Planckian locus at 6504 K.
    double[] white = BlackBody.rgb(6504);
    for (double c : white) {
      assertEquals(1, c, 0.06);
    }
    double[] candle = BlackBody.rgb(1900);
    assertTrue(candle[0] > 2 * candle[1] && candle[1] > 5 * candle[2]);
    assertEquals(1, 0.2126 * candle[0] + 0.7152 * candle[1] + 0.0722 * candle[2], 1e-9);
  }
}
