package posada.core.trace.stage;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.RenderSettings;

/** Sizes and places of regions, from bounds that were found; bounds are checked in LayerTest. */
class RegionPlanTest {
  /** Neither is a multiple of the steps that corners lie at. */
  private static final int WIDTH = 203, HEIGHT = 101;

  private static RegionPlan plan(int snap, boolean constantSize) {
    return new RegionPlan(
        new Layer.Region(null, List.of("car"), 0, snap, constantSize),
        WIDTH,
        HEIGHT,
        RenderSettings.DEFAULT);
  }

  /** Returns a span whose ends are snapped, or end with the picture. */
  private static int[] span(Random random, int snap, int most) {
    int steps = (most + snap - 1) / snap;
    int from = random.nextInt(steps), to = from + 1 + random.nextInt(steps - from);
    return new int[] {from * snap, Math.min(most, to * snap)};
  }

  private static List<int[]> bounds(Random random, int snap) {
    List<int[]> all = new ArrayList<>();
    for (int i = 0; i < 6; i++) {
      int[] x = span(random, snap, WIDTH), y = span(random, snap, HEIGHT);
      all.add(random.nextInt(5) == 0 ? null : new int[] {x[0], y[0], x[1], y[1]});
    }
    return all;
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 8, 16, 64})
  void regionsOfOneSizeHoldWhatIsFollowed(int snap) {
    Random random = new Random(snap);
    for (int n = 0; n < 500; n++) {
      List<int[]> all = bounds(random, snap);
      List<Crop> crops = plan(snap, true).crops(all);
      assertEquals(1, crops.stream().map(c -> c.width() * 1000 + c.height()).distinct().count());
      for (int i = 0; i < all.size(); i++) {
        assertHolds(crops.get(i), all.get(i));
      }
      int widest = all.stream().mapToInt(b -> b == null ? 1 : b[2] - b[0]).max().orElseThrow();
      assertTrue(crops.get(0).width() <= Math.max(snap, widest), "no larger than it must be");
    }
  }

  @Test
  void otherRegionsAreTheBounds() {
    Random random = new Random(3);
    for (int n = 0; n < 100; n++) {
      List<int[]> all = bounds(random, 8);
      List<Crop> crops = plan(8, false).crops(all);
      for (int i = 0; i < all.size(); i++) {
        int[] b = all.get(i);
        Crop want =
            b == null
                ? new Crop(0, 0, 8, 8, false)
                : new Crop(b[0], b[1], b[2] - b[0], b[3] - b[1], false);
        assertEquals(want, crops.get(i));
      }
    }
  }

  private static void assertHolds(Crop c, int[] b) {
    assertTrue(c.x() + c.width() <= WIDTH && c.y() + c.height() <= HEIGHT, "outside: " + c);
    if (b != null) {
      assertTrue(c.x() <= b[0] && c.y() <= b[1], c + " begins after " + b[0] + " " + b[1]);
      assertTrue(
          c.x() + c.width() >= b[2] && c.y() + c.height() >= b[3],
          c + " ends before " + b[2] + " " + b[3]);
    }
  }

  private static Layer.Region drawn(int snap, Layer.Key... keys) {
    return new Layer.Region(null, List.of(), List.of(keys), 0, snap, false);
  }

  /** The same share of the picture at any size; in straight lines from key to key. */
  @Test
  void aDrawnRegionMovesFromKeyToKey() {
    Layer.Region r =
        drawn(1, new Layer.Key(1, 0, 0, 0.25, 0.5), new Layer.Key(3, 0.5, 0.25, 0.5, 0.5));
    for (int side : new int[] {100, 200}) {
      RegionPlan p = new RegionPlan(r, side, side, RenderSettings.DEFAULT);
      double k = side / 100.0;
      assertArrayEquals(box(k, 0, 0, 25, 50), p.drawn(0), "before the first key");
      assertArrayEquals(box(k, 25, 12.5, 62.5, 62.5), p.drawn(2), "half-way");
      assertArrayEquals(box(k, 50, 25, 100, 75), p.drawn(9), "behind the last");
    }
    int[] snapped =
        new RegionPlan(drawn(16, r.drawn().get(1)), 100, 100, RenderSettings.DEFAULT).drawn(3);
    assertArrayEquals(
        new int[] {48, 16, 100, 80}, snapped, "outwards, and no further than the picture");
  }

  private static int[] box(double k, double x0, double y0, double x1, double y1) {
    return new int[] {
      (int) Math.floor(k * x0),
      (int) Math.floor(k * y0),
      (int) Math.ceil(k * x1),
      (int) Math.ceil(k * y1)
    };
  }

  @Test
  void aRegionOutsideThePictureIsRefused() {
    String why =
        assertThrows(IllegalArgumentException.class, () -> new Layer.Key(0, 0.6, 0, 0.5, 1))
            .getMessage();
    assertEquals(
        "the region reaches outside the picture: x + width must be at most 1 (got 1.1)", why);
    assertThrows(IllegalArgumentException.class, () -> new Layer.Key(0, 0, 0, 0, 1));
    assertThrows(
        IllegalArgumentException.class,
        () -> drawn(1, new Layer.Key(1, 0, 0, 1, 1), new Layer.Key(1, 0, 0, 1, 1)));
  }
}
