package posada.core.rig;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

class KeyPathTest {
  private static final Vec3 UP = new Vec3(0, 1, 0);

  private static RigKey key(double t, double x, double degrees, Ease ease) {
    Quat q = Quat.axisAngle(UP, Math.toRadians(degrees));
    return RigKey.of(t, new Vec3(x, 0, 0), q, null, ease);
  }

  private static KeyPath path(RigKey... keys) {
    return new KeyPath(List.of(keys), Vec3.ZERO);
  }

  private static double degrees(Quat q) {
    return Math.toDegrees(2 * Math.atan2(q.y(), q.w()));
  }

  @ParameterizedTest
  @ValueSource(doubles = {0, 0.1, 0.25, 0.5, 0.9, 1})
  void easedAndLinearFollowTheirFormulas(double f) {
    double smooth = 3 * f * f - 2 * f * f * f;
    double t = 2 + 4 * f;
    KeyPath eased = path(key(2, 1, 0, Ease.EASED), key(6, 5, 90, Ease.EASED));
    assertEquals(1 + 4 * smooth, eased.place(t).x(), 1e-12);
    assertEquals(90 * smooth, degrees(eased.turn(t)), 1e-9);
    KeyPath linear = path(key(2, 1, 0, Ease.LINEAR), key(6, 5, 90, Ease.LINEAR));
    assertEquals(1 + 4 * f, linear.place(t).x(), 1e-12);
    assertEquals(90 * f, degrees(linear.turn(t)), 1e-9);
  }

  @Test
  void stepsAreHeldUntilTheNextKey() {
    KeyPath p = path(key(1, 3, 10, Ease.STEP), key(2, 7, 50, Ease.STEP));
    assertEquals(3, p.place(0).x());
    assertEquals(3, p.place(1.999).x());
    assertEquals(7, p.place(2).x());
    assertEquals(50, degrees(p.turn(9)), 1e-9);
  }

  @Test
  void smoothKeysArePassedAtTheSpeedOfTheirNeighbours() {
    KeyPath p =
        path(key(0, 0, 0, Ease.SMOOTH), key(1, 3, 20, Ease.SMOOTH), key(3, 9, 60, Ease.SMOOTH));
    double h = 1e-5;
    double before = (p.place(1).x() - p.place(1 - h).x()) / h;
    double after = (p.place(1 + h).x() - p.place(1).x()) / h;
    assertEquals(9.0 / 3, before, 1e-3);
    assertEquals(9.0 / 3, after, 1e-3);
    assertEquals(0, (p.place(h).x() - p.place(0).x()) / h, 1e-3);
    assertEquals(20, degrees(p.turn(1)), 1e-9);
  }

  @Test
  void aPivotStaysWhereItIsWhileTheCameraTurnsAboutIt() {
    // A camera 5 m before the origin that looks at it, and one 5 m beside that does.
    RigKey a = RigKey.of(0, new Vec3(0, 0, 5), Quat.IDENTITY, null, Ease.LINEAR);
    RigKey b = RigKey.of(1, new Vec3(5, 0, 0), Quat.axisAngle(UP, Math.PI / 2), null, Ease.LINEAR);
    KeyPath p = new KeyPath(List.of(a, b), new Vec3(0, 0, -5));
    for (double t = 0; t <= 1; t += 0.125) {
      assertEquals(5, p.place(t).length(), 1e-9, "at " + t);
    }
  }

  @Test
  void longWaysAroundAreNotTaken() {
    Quat back = Quat.axisAngle(UP, Math.toRadians(20));
    Quat other = new Quat(-back.x(), -back.y(), -back.z(), -back.w());
    RigKey a = RigKey.of(0, Vec3.ZERO, Quat.IDENTITY, null, Ease.SMOOTH);
    KeyPath p = path(a, RigKey.of(1, Vec3.ZERO, other, null, Ease.SMOOTH));
    assertEquals(10, degrees(p.turn(0.5)), 1e-6);
  }

  @Test
  void twoKeysAtATimeAreRefused() {
    RigKey k = key(1.5, 0, 0, Ease.EASED);
    String why =
        assertThrows(
                IllegalArgumentException.class,
                () -> new RigCamera("low", false, 40, List.of(k, k)))
            .getMessage();
    assertTrue(why.contains("\"low\"") && why.contains("two keys at 1.5 s"), why);
  }
}
