package posada.core.light;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whether lights are chosen as often as is said, and none is forgotten that gives light. */
class LightTreeTest {
  private static final int CHOICES = 20_000;

  /**
   * A lamp.
   *
   * @param edge angle around its axis up to which it shines: a quarter turn, or all around
   */
  private record Lamp(float[] at, float[] axis, double edge, float power) {
    float irradiance(float x, float y, float z, float nx, float ny, float nz) {
      float dx = at[0] - x, dy = at[1] - y, dz = at[2] - z;
      float d2 = dx * dx + dy * dy + dz * dz;
      float d = (float) Math.sqrt(d2);
      float out = -(dx * axis[0] + dy * axis[1] + dz * axis[2]) / d;
      float in = (dx * nx + dy * ny + dz * nz) / d;
      return out < Math.cos(edge) ? 0 : power * Math.max(0, in) / d2;
    }
  }

  private static Lamp lamp(SplittableRandom r) {
    float[] axis = direction(r);
    float[] at = {8 * (float) r.nextDouble(), 3 * (float) r.nextDouble(), (float) r.nextDouble()};
    double edge = r.nextInt(3) == 0 ? Math.PI : r.nextDouble(0.2, Math.PI / 2);
    return new Lamp(at, axis, edge, (float) Math.exp(4 * r.nextDouble()));
  }

  private static float[] direction(SplittableRandom r) {
    double z = r.nextDouble(-1, 1), turn = r.nextDouble(2 * Math.PI), s = Math.sqrt(1 - z * z);
    return new float[] {(float) (s * Math.cos(turn)), (float) (s * Math.sin(turn)), (float) z};
  }

  private static LightTree tree(Lamp[] lamps) {
    float[] own = LightTreeBuilder.room(lamps.length);
    for (int i = 0; i < lamps.length; i++) {
      Lamp l = lamps[i];
      // As if normals pointed everywhere, if it shines all around.
      double beyond = Math.min(l.edge, Math.PI / 2);
      LightTreeBuilder.describe(
          own, i, l.at, l.at, l.axis, l.edge > beyond ? Math.PI : 0, beyond, l.power, false);
    }
    return new LightTree(
        new LightTreeBuilder(own),
        (i, x, y, z, nx, ny, nz) -> lamps[i].irradiance(x, y, z, nx, ny, nz));
  }

  @ParameterizedTest
  @CsvSource({"1, 1", "2, 1", "7, 16", "300, 1", "300, 5", "300, 16"})
  void lampsAreChosenAsOftenAsIsSaidAndNoneIsForgotten(int count, int cut) {
    SplittableRandom r = new SplittableRandom(count + cut);
    Lamp[] lamps = new Lamp[count];
    for (int i = 0; i < count; i++) {
      lamps[i] = lamp(r);
    }
    LightTree tree = tree(lamps);
    LightTree.Cut c = new LightTree.Cut();
    int lit = 0;
    for (int place = 0; place < 20; place++) {
      float x = 10 * (float) r.nextDouble() - 1;
      float y = 5 * (float) r.nextDouble() - 1;
      float z = 3 * (float) r.nextDouble() - 1;
      float[] n = direction(r);
      tree.cut(x, y, z, n[0], n[1], n[2], cut, c);
      double[] odds = new double[count];
      double all = 0;
      for (int i = 0; i < count; i++) {
        odds[i] = c.sum > 0 ? tree.odds(c, i, x, y, z, n[0], n[1], n[2]) : 0;
        all += odds[i];
        if (lamps[i].irradiance(x, y, z, n[0], n[1], n[2]) > 0) {
          assertTrue(odds[i] > 0, "lamp " + i + " is never chosen");
          lit++;
        }
      }
      // Branches whose bounds promise light that no lamp in them gives end with no choice.
      assertTrue(all < 1 + 1e-4, "odds of " + all);
      double[] share = new double[count];
      float[] one = new float[1];
      double none = 0;
      for (int k = 0; k < CHOICES; k++) {
        float u = (k + 0.5f) / CHOICES;
        int i = tree.choose(c, x, y, z, n[0], n[1], n[2], u, one);
        if (i < 0) {
          none += 1.0 / CHOICES;
        } else {
          share[i] += 1.0 / CHOICES;
          assertEquals(odds[i], one[0], 1e-5 + 1e-3 * odds[i]);
        }
      }
      assertEquals(1, all + none, 2e-3);
      for (int i = 0; i < count; i++) {
        assertEquals(odds[i], share[i], 2e-3, "lamp " + i);
      }
    }
    assertTrue(lit > 0, "no place is lit");
  }
}
