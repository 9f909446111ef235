package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotSame;
import static org.junit.jupiter.api.Assertions.assertSame;

import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.TriangleBvh;
import posada.core.parallel.Workers;

class OwnHierarchiesTest {
  @Test
  void threadsGetCopiesAsLongAsThereIsRoom() {
    float[] corners = {0, 0, 0, 1, 0, 0, 0, 1, 0};
    Bounds bounds = new Bounds();
    bounds.addAll(corners);
    TriangleBvh mesh = new TriangleBvh(corners, new int[] {0, 1, 2}, Workers.CALLER);
    InstanceBvh.Placed placed = new InstanceBvh.Placed(0, mesh, bounds, List.of(Affine.IDENTITY));
    InstanceBvh first = new InstanceBvh(List.of(placed), Workers.CALLER);
    long each = first.wholeBytes();
    OwnHierarchies own = new OwnHierarchies(first, 2 * each + each / 2);
    assertEquals(0, own.bytes());
    assertSame(first, own.borrow());
    InstanceBvh second = own.borrow();
    InstanceBvh third = own.borrow();
    assertNotSame(first, second);
    assertNotSame(second, third);
    assertNotSame(first, third);
    assertSame(first, own.borrow());
    assertEquals(2 * each, own.bytes());
    own.giveBack();
    assertSame(first, own.borrow());
    assertSame(second, own.borrow());
  }
}
