package posada.core.rig;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Vec3;

class ThreePanelsTest {
  /** Points of a panel in each direction, over which its light is summed. */
  private static final int STEPS = 40;

  /** Irradiance at a point that faces the panel, by adding up its parts (Lambert's cosine law). */
  private static double irradiance(RigLight l, Vec3 at) {
    Vec3 place = l.keys().get(0).place();
    Affine turn = Affine.of(Vec3.ZERO, l.keys().get(0).turn(), Vec3.ONE);
    Vec3 right = turn.point(new Vec3(1, 0, 0));
    Vec3 up = turn.point(new Vec3(0, 1, 0));
    Vec3 ahead = turn.point(new Vec3(0, 0, -1));
    double part = l.size() * l.depth() / (STEPS * STEPS);
    double sum = 0;
    for (int i = 0; i < STEPS * STEPS; i++) {
      double x = (i % STEPS + 0.5) / STEPS - 0.5, y = (i / STEPS + 0.5) / STEPS - 0.5;
      Vec3 d = at.minus(place.plus(right.times(x * l.size())).plus(up.times(y * l.depth())));
      double cos = d.dot(ahead) / d.length();
      sum += l.strength() * part * cos * cos / d.dot(d);
    }
    return sum;
  }

  @Test
  void theMiddleGetsTheSameLightAtAnySize() {
    for (double size : new double[] {0.02, 1, 4000}) {
      Vec3 low = new Vec3(3, 1, 2), high = low.plus(new Vec3(size, size / 2, size));
      List<RigLight> all = ThreePanels.around(low, high, "car-");
      assertEquals(
          List.of("car-key", "car-fill", "car-back"), all.stream().map(RigLight::name).toList());
      Vec3 middle = low.plus(high).times(0.5);
      double key = irradiance(all.get(0), middle), fill = irradiance(all.get(1), middle);
      // A panel of half its distance gives 8 % less than a point would.
      assertEquals(3, key, 0.3);
      assertEquals(0.8, fill, 0.08);
      for (RigLight l : all) {
        assertTrue(l.keys().get(0).place().y() > middle.y() && !l.seen(), l.toString());
      }
    }
  }
}
