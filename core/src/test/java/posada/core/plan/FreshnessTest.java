package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import posada.core.scene.Digest;
import posada.core.trace.FrameContent.Input;
import posada.core.trace.FrameContent.Part;
import posada.core.trace.FrameContent.Thing;

/** The rule by which a frame is fresh, on things made by hand. */
class FreshnessTest {
  private static final List<Thing> THINGS =
      List.of(
          new Thing("road", 1, 10L, 20, false),
          new Thing("car", 2, 11L, 21, false),
          new Thing("sign", 3, 12L, 22, true),
          new Thing("pine", 4, 13L, 23, false),
          new Thing("lamp", 5, 14L, 0, true));

  private static Map<Part, String> parts(List<Thing> things) {
    Map<Part, String> parts = new EnumMap<>(Part.class);
    for (Part p : Part.values()) {
      parts.put(p, "same");
    }
    List<Object> objects = new ArrayList<>(), materials = new ArrayList<>();
    List<Object> lights = new ArrayList<>();
    for (Thing t : things) {
      (t.material() == 0 ? lights : objects).add(List.of(t.shape(), t.place()));
      materials.add(t.material());
    }
    parts.put(Part.OBJECTS, Digest.of(objects));
    parts.put(Part.LIGHTS, Digest.of(lights));
    parts.put(Part.MATERIALS, Digest.of(materials));
    return parts;
  }

  private static Input input(List<Thing> things) {
    return new Input(parts(things), things, new long[0], new int[0]);
  }

  /** The frame as it was: rays met the road and the car. */
  private static Freshness.Made made() {
    BitSet met = new BitSet();
    met.set(0, 2);
    return new Freshness.Made(parts(THINGS), THINGS, met);
  }

  private static List<String> changes(String name, UnaryOperator<Thing> change) {
    List<Thing> now = new ArrayList<>(THINGS);
    now.replaceAll(t -> t.name().equals(name) ? change.apply(t) : t);
    now.removeIf(t -> t == null);
    return Freshness.changes(made(), input(now));
  }

  private static Thing painted(Thing t) {
    return new Thing(t.name(), t.shape(), t.place(), t.material() + 100, t.glows());
  }

  private static Thing moved(Thing t) {
    return new Thing(t.name(), t.shape(), t.place() + 100, t.material(), t.glows());
  }

  private static Thing bent(Thing t) {
    return new Thing(t.name(), t.shape() + 100, t.place(), t.material(), t.glows());
  }

  @Test
  void whatARayMetCounts() {
    assertEquals(List.of(), changes("car", t -> t));
    assertEquals(List.of("material of car"), changes("car", FreshnessTest::painted));
    assertEquals(List.of("car moved"), changes("car", FreshnessTest::moved));
    assertEquals(List.of("shape or role of car"), changes("car", FreshnessTest::bent));
    assertEquals(
        List.of("car is gone"), changes("car", t -> null), "told once, though it is two parts");
  }

  @Test
  void whatNoRayMetMayLookOtherwiseOrBeGone() {
    assertEquals(List.of(), changes("pine", FreshnessTest::painted));
    assertEquals(List.of(), changes("pine", t -> null));
    assertEquals(List.of("pine moved"), changes("pine", FreshnessTest::moved));
    assertEquals(List.of("shape or role of pine"), changes("pine", FreshnessTest::bent));
  }

  @Test
  void whatGivesOffLightCountsWhereverItIs() {
    assertEquals(List.of("material of sign"), changes("sign", FreshnessTest::painted));
    assertEquals(List.of("sign is gone"), changes("sign", t -> null));
    assertEquals(List.of("light lamp"), changes("lamp", FreshnessTest::bent));
    assertEquals(List.of("lamp moved"), changes("lamp", FreshnessTest::moved));
    assertEquals(
        List.of("material of pine"),
        changes("pine", t -> new Thing("pine", 4, 13L, 99, true)),
        "it begins to glow");
  }

  @Test
  void whatIsNewCounts() {
    List<Thing> now = new ArrayList<>(THINGS);
    now.add(new Thing("hare", 9, 9L, 9, false));
    assertEquals(List.of("hare is new"), Freshness.changes(made(), input(now)));
  }

  @Test
  void namesDoNotCountAndTheOrderDoes() {
    assertEquals(List.of(), changes("car", t -> new Thing("bus", 2, 11L, 21, false)));
    List<Thing> now = new ArrayList<>(THINGS);
    java.util.Collections.swap(now, 0, 1);
    assertEquals(List.of("order of the objects"), Freshness.changes(made(), input(now)));
  }

  @Test
  void otherPartsAreNamed() {
    Map<Part, String> parts = parts(THINGS);
    parts.put(Part.CAMERA, "other");
    parts.put(Part.BAKED_LIGHT, "other");
    assertEquals(
        List.of("camera", "baked light"),
        Freshness.changes(made(), new Input(parts, THINGS, new long[0], new int[0])));
  }

  /** The reason was a name, though names do not count, in place of what had changed. */
  @Test
  void anotherNameIsNoReason() {
    List<Thing> renamed = new ArrayList<>(THINGS);
    renamed.replaceAll(t -> t.name().equals("car") ? new Thing("bus", 2, 11L, 21, false) : t);
    Map<Part, String> parts = parts(THINGS);
    parts.put(Part.CAMERA, "other");
    assertEquals(
        List.of("camera"),
        Freshness.changes(made(), new Input(parts, renamed, new long[0], new int[0])));
    // With another material, too, it counts, since a ray met it.
    assertEquals(
        List.of("car is gone", "bus is new"),
        changes("car", t -> new Thing("bus", 2, 11L, 99, false)));
  }

  @Test
  void ofManyThingsSomeAreNamed() {
    List<Thing> was = new ArrayList<>(), now = new ArrayList<>();
    for (int i = 0; i < 7; i++) {
      was.add(new Thing("pine-" + i, 1, (long) i, 2, false));
      now.add(new Thing("pine-" + i, 1, i + 10L, 2, false));
    }
    assertEquals(
        List.of("pine-0 moved", "pine-1 moved", "pine-2 moved", "pine-3 moved", "3 more objects"),
        Freshness.changes(new Freshness.Made(parts(was), was, null), input(now)));
  }

  @Test
  void whatIsNotKnownIsStale() {
    assertEquals(
        List.of("what it was made from is not known"),
        Freshness.changes(new Freshness.Made(Map.of(), List.of(), null), input(THINGS)));
  }
}
