package posada.core.geometry;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;

/** Rotations against Rodrigues' formula, transforms against what they are put together from. */
class TransformsTest {
  private static final SplittableRandom R = new SplittableRandom(11);

  private Vec3 any() {
    return new Vec3(R.nextDouble(-2, 2), R.nextDouble(-2, 2), R.nextDouble(-2, 2));
  }

  private static void near(Vec3 want, Vec3 got) {
    assertEquals(0, want.minus(got).length(), 1e-9, got + ", not " + want);
  }

  /** Rodrigues: v cos a + (k x v) sin a + k (k . v) (1 - cos a). */
  private static Vec3 turned(Vec3 v, Vec3 axis, double a) {
    Vec3 k = axis.normalized();
    return v.times(Math.cos(a))
        .plus(k.cross(v).times(Math.sin(a)))
        .plus(k.times(k.dot(v) * (1 - Math.cos(a))));
  }

  private static Vec3 rotate(Quat q, Vec3 v) {
    return Affine.of(Vec3.ZERO, q, Vec3.ONE).vector(v);
  }

  @RepeatedTest(20)
  void rotationsTurnAboutTheirAxis() {
    Vec3 axis = any(), v = any(), b = any();
    double a = R.nextDouble(-7, 7), c = R.nextDouble(-7, 7);
    Quat q = Quat.axisAngle(axis, a), p = Quat.axisAngle(b, c);
    near(turned(v, axis, a), rotate(q, v));
    near(turned(v, axis, a), rotate(new Quat(3 * q.x(), 3 * q.y(), 3 * q.z(), 3 * q.w()), v));
    near(turned(turned(v, axis, a), b, c), rotate(p.times(q), v));
  }

  @RepeatedTest(20)
  void theWayBetweenRotationsIsTheShorterOneAtEvenSpeed() {
    Vec3 axis = any(), v = any();
    double from = R.nextDouble(-3, 3), by = R.nextDouble(-3.1, 3.1), f = R.nextDouble();
    Quat a = Quat.axisAngle(axis, from), b = Quat.axisAngle(axis, from + by);
    Quat other = new Quat(-b.x(), -b.y(), -b.z(), -b.w());
    near(turned(v, axis, from + f * by), rotate(a.slerp(b, f), v));
    near(turned(v, axis, from + f * by), rotate(a.slerp(other, f), v));
    near(turned(v, axis, from), rotate(a.slerp(a, f), v));
  }

  @RepeatedTest(20)
  void camerasLookWhereTheyAreTold() {
    Vec3 ahead = any(), up = any();
    Quat q = Quat.looking(ahead, up);
    near(ahead.normalized(), rotate(q, new Vec3(0, 0, -1)));
    Vec3 top = rotate(q, new Vec3(0, 1, 0));
    assertEquals(0, top.dot(ahead), 1e-9);
    assertTrue(top.dot(up) > 0);
    // Straight up there is no way that is right; any that looks there will do.
    near(up.normalized(), rotate(Quat.looking(up, up), new Vec3(0, 0, -1)));
  }

  @RepeatedTest(20)
  void scaleThenRotationThenTranslation() {
    Vec3 t = any(), axis = any(), s = any(), p = any();
    double a = R.nextDouble(7);
    Affine m = Affine.of(t, Quat.axisAngle(axis, a), s);
    Vec3 scaled = new Vec3(p.x() * s.x(), p.y() * s.y(), p.z() * s.z());
    near(turned(scaled, axis, a).plus(t), m.point(p));
    near(turned(scaled, axis, a), m.vector(p));
    assertEquals(s.x() * s.y() * s.z(), m.determinant(), 1e-9);
    near(t, m.translation());
    if (Math.abs(m.determinant()) > 0.05) {
      near(p, m.inverse().point(m.point(p)));
      near(p, m.times(m.inverse()).point(p));
    }
  }

  @Test
  void matricesOfFilesGoColumnByColumn() {
    double[] columns = {1, 2, 3, 0, 4, 5, 6, 0, 7, 8, 10, 0, -1, -2, -3, 1};
    Affine m = Affine.ofColumns(columns);
    near(new Vec3(1 + 4 - 7 - 1, 2 + 5 - 8 - 2, 3 + 6 - 10 - 3), m.point(new Vec3(1, 1, -1)));
    assertEquals(-3, m.determinant(), 1e-12);
    assertArrayEquals(new float[] {1, 4, 7, -1, 2, 5, 8, -2, 3, 6, 10, -3}, m.toFloats());
  }

  @Test
  void whatCannotBeUndoneIsTold() {
    assertTrue(Affine.IDENTITY.invertible());
    assertFalse(Affine.of(Vec3.ZERO, Quat.IDENTITY, new Vec3(1, 0, 1)).invertible());
    assertFalse(Affine.of(Vec3.ZERO, Quat.IDENTITY, new Vec3(1, Double.NaN, 1)).invertible());
    assertEquals(Quat.IDENTITY, new Quat(0, 0, 0, 0).normalized());
    assertThrows(IllegalArgumentException.class, () -> new Affine(new double[16]));
  }
}
