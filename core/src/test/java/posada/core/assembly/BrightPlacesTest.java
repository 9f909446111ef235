package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import org.junit.jupiter.api.Test;

class BrightPlacesTest {
  private static final int W = 64, H = 32;

  /** Object 1 left, object 2 right, nothing in the last row; a bright spot on the right. */
  @Test
  void theObjectWithMostOfItComesFirstWithThePlaceWhereItIs() {
    float[] map = new float[W * H];
    int[] nodes = new int[W * H];
    for (int i = 0; i < map.length; i++) {
      map[i] = 1;
      nodes[i] = i / W == H - 1 ? -1 : i % W < W / 2 ? 1 : 2;
    }
    for (int y = 20; y < 24; y++) {
      for (int x = 50; x < 54; x++) {
        map[y * W + x] = 1000;
      }
    }
    map[0] = Float.NaN;
    List<BrightPlaces.Place> all = BrightPlaces.of(map, nodes, W, H, 2);
    assertEquals(2, all.size());
    BrightPlaces.Place first = all.get(0);
    assertEquals(2, first.node());
    double sum = W * H - 1 - 16 + 16_000;
    assertEquals((16_000 + 31 * 32 - 16) / sum, first.share(), 1e-9);
    assertEquals(31 * 32 / (double) (W * H), first.pixels(), 1e-9);
    assertTrue(first.x() <= 50 && first.x() + first.width() >= 54, "across: " + first);
    assertTrue(first.y() <= 20 && first.y() + first.height() >= 24, "down: " + first);
    assertEquals(1, all.get(1).node());
  }

  @Test
  void whatSinglePixelsStandOutByIsCalmed() {
    float[] map = new float[25];
    map[12] = 1000;
    assertArrayEquals(new float[25], MapOver.calm(map, 5, 5));
  }
}
