package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import posada.core.assembly.Assembler.Result;
import posada.core.parallel.Workers;
import posada.core.scene.Track;

/** Stacks of footage that is made up here. */
class AssemblerTest {
  private static final int W = 8, H = 6;

  /** Footage in memory: a value for each channel of each pass, everywhere. */
  private static final class Made implements Shelf {
    private final Map<String, Facts> facts = new HashMap<>();
    private final Map<String, Loaded> pictures = new HashMap<>();
    private final Map<String, float[]> values = new HashMap<>();
    private final Map<String, List<String>> names = new HashMap<>();
    private int read;

    private Made footage(String key, int first, int last, Double rate, int w, int h) {
      List<Integer> frames = new ArrayList<>();
      for (int f = first; f <= last; f++) {
        frames.add(f);
      }
      facts.put(key, new Facts(key, frames, rate, w, h));
      return this;
    }

    private Made picture(String key, int frame, boolean alpha, float r, float g, float b, float a) {
      Facts f = facts.get(key);
      float[][] c = new float[4][f.width() * f.height()];
      float[] v = {r, g, b, a};
      for (int j = 0; j < 4; j++) {
        Arrays.fill(c[j], v[j]);
      }
      pictures.put(key + frame, new Loaded(new Picture(f.width(), f.height(), c), alpha));
      return this;
    }

    @Override
    public Facts facts(String footage) {
      if (!facts.containsKey(footage)) {
        throw new IllegalArgumentException("There is no " + footage + " any more.");
      }
      return facts.get(footage);
    }

    @Override
    public Loaded picture(String footage, String pass, int frame, Reading reading, int shrink)
        throws IOException {
      read++;
      Loaded l = pictures.get(footage + frame);
      if (l != null && !pass.equals("beauty")) {
        return new Loaded(l.picture(), false); // A part of its light.
      }
      if (l == null) {
        throw new Missing("no frame " + frame);
      }
      return l;
    }

    @Override
    public Plane values(String footage, String pass, int channel, int frame, int shrink) {
      float[] v = values.get(footage + pass);
      return v == null ? null : new Plane(W, H, v);
    }

    @Override
    public Plane coverage(String footage, String pass, List<String> some, int frame, int shrink) {
      float[] v = new float[W * H];
      for (int i = 0; i < v.length; i++) {
        v[i] = some.contains(i % W < W / 2 ? "left" : "right") ? 1 : 0;
      }
      return new Plane(W, H, v);
    }

    @Override
    public List<String> names(String footage, String pass, int frame) {
      return names.getOrDefault(footage, List.of());
    }

    @Override
    public String stamp(String footage, int frame) {
      Loaded l = pictures.get(footage + frame);
      return l == null ? "" : Integer.toString(System.identityHashCode(l));
    }
  }

  private final Made shelf =
      new Made().footage("a", 1, 4, 24.0, W, H).footage("b", 1, 4, 24.0, W, H);

  private Assembler assembler() {
    return new Assembler(shelf, Assembler.NOTHING, Workers.CALLER);
  }

  private static Stack stack(Input... topFirst) {
    return new Stack(W, H, 24, "1-4", List.of(topFirst));
  }

  private static Input input(String footage) {
    return Input.of(footage, footage, Source.of(footage, "beauty"));
  }

  private static float[] pixel(Result r, int i) {
    float[][] c = r.picture().c();
    return new float[] {c[0][i], c[1][i], c[2][i], c[3][i]};
  }

  private static List<String> texts(Result r) {
    return r.said().stream().map(Assembler.Said::text).toList();
  }

  @Test
  void lowestFirstEachWithItsStrength() {
    shelf.picture("a", 1, true, .4f, .2f, 0, 1).picture("b", 1, false, .5f, .5f, .5f, 1);
    Stack s = stack(input("b").with(Operator.MULTIPLY, 0.5), input("a"));
    Result r = assembler().frame(s, 1, W, H, null);
    assertArrayEquals(new float[] {.3f, .15f, 0, 1}, pixel(r, 3), 1e-6f);
    assertEquals(List.of(), texts(r));
    assertArrayEquals(
        new float[] {.4f, .2f, 0, 1}, pixel(assembler().frame(s, 1, W, H, "a"), 3), 1e-6f);
    List<Assembler.Step> steps = assembler().steps(s, 1, W, H, 2, 2);
    assertArrayEquals(new float[] {.4f, .2f, 0, 1}, steps.get(0).after(), 1e-6f);
    assertArrayEquals(new float[] {.3f, .15f, 0, 1}, steps.get(1).after(), 1e-6f);
  }

  @Test
  void keysMoveNumbers() {
    shelf.picture("a", 1, true, 1, 1, 1, 1).picture("a", 3, true, 1, 1, 1, 1);
    Track rises = new Track(new double[] {1 / 24.0, 5 / 24.0}, new double[] {0, 1});
    Input keyed = input("a").with(Operator.ADD, rises);
    assertEquals(0, pixel(assembler().frame(stack(keyed), 1, W, H, null), 0)[0], 1e-6);
    assertEquals(.5, pixel(assembler().frame(stack(keyed), 3, W, H, null), 0)[0], 1e-6);
  }

  @Test
  void aMissingFrameLeavesItsInputOutAndTheRestIsMade() {
    shelf.picture("a", 2, true, .4f, .4f, .4f, 1);
    Result r = assembler().frame(stack(input("b"), input("a")), 2, W, H, null);
    assertArrayEquals(new float[] {.4f, .4f, .4f, 1}, pixel(r, 0), 0);
    assertTrue(texts(r).get(0).startsWith("Frame 2 of b is missing; it is left out there."));
  }

  @Test
  void footageThatIsGoneIsSaid() {
    shelf.picture("a", 1, true, .4f, .4f, .4f, 1);
    Result r = assembler().frame(stack(input("gone"), input("a")), 1, W, H, null);
    assertArrayEquals(new float[] {.4f, .4f, .4f, 1}, pixel(r, 0), 0);
    assertTrue(texts(r).get(0).contains("There is no gone any more."), texts(r).get(0));
    assertTrue(texts(r).get(0).contains("Choose another source"), texts(r).get(0));
  }

  @Test
  void whatIsNoNumberDoesNotSpread() {
    shelf.picture("a", 1, true, .4f, .4f, .4f, 1);
    float[] red = shelf.pictures.get("a1").picture().c()[0];
    red[7] = Float.NaN;
    red[9] = Float.POSITIVE_INFINITY;
    Corrections c = Corrections.NONE.blurred(2);
    Result r = assembler().frame(stack(input("a").with(c)), 1, W, H, null);
    for (float[] plane : r.picture().c()) {
      for (float v : plane) {
        assertTrue(Float.isFinite(v));
      }
    }
    assertTrue(
        texts(r).get(0).contains("2 values at frame 1 that are no numbers"), texts(r).get(0));
  }

  @Test
  void aStraightPictureReadAsPremultipliedIsSeen() {
    shelf.picture("a", 1, true, .5f, .5f, .5f, 1);
    float[] alpha = shelf.pictures.get("a1").picture().c()[3];
    for (int i = 0; i < 3 * W; i++) {
      alpha[i] = 0.1f;
    }
    Result r = assembler().frame(stack(input("a")), 1, W, H, null);
    assertTrue(texts(r).get(0).contains("looks straight"), texts(r).get(0));
    for (int j = 0; j < 3; j++) {
      float[] c = shelf.pictures.get("a1").picture().c()[j];
      for (int i = 0; i < 3 * W; i++) {
        c[i] = 0.05f;
      }
    }
    assertEquals(List.of(), texts(assembler().frame(stack(input("a")), 1, W, H, null)));
  }

  /** Light behind what is covered fades the other way: that is no sign of anything. */
  @Test
  void aSkyDoesNotMakeAPictureStraight() {
    shelf.picture("a", 1, true, .5f, .5f, .5f, 1);
    Picture p = shelf.pictures.get("a1").picture();
    for (int i = 0; i < 4 * W; i++) {
      float alpha = i < W ? 0 : 0.1f;
      p.c()[3][i] = alpha;
      for (int j = 0; j < 3; j++) {
        p.c()[j][i] = 0.5f * alpha + 0.8f * (1 - alpha);
      }
    }
    assertEquals(List.of(), texts(assembler().frame(stack(input("a")), 1, W, H, null)));
  }

  @Test
  void otherSizesAndRatesAreFittedAndSaid() {
    shelf.footage("c", 1, 2, 12.0, 2 * W, 2 * W).picture("c", 1, true, 1, 1, 1, 1);
    Result r = assembler().frame(stack(input("c")), 3, W, H, null);
    assertTrue(texts(r).stream().anyMatch(t -> t.contains("12 frames a second")), texts(r) + "");
    assertTrue(texts(r).stream().anyMatch(t -> t.contains("16 x 16 pixels")), texts(r) + "");
    // Fitted in: bars at the sides.
    assertEquals(0, pixel(r, 0)[3], 0.03);
    assertEquals(1, pixel(r, W / 2)[3], 1e-6);
  }

  @Test
  void aMatteWhoseObjectIsGoneIsSaid() {
    shelf.picture("a", 1, true, 1, 1, 1, 1).names.put("a", List.of("left", "right"));
    Mask m =
        new Mask(
            Mask.Kind.MATTE,
            null,
            "matte-objects",
            List.of("left", "tower"),
            Track.of(0),
            Track.of(1),
            List.of(),
            Track.of(0),
            false);
    Result r = assembler().frame(stack(input("a").with(m)), 1, W, H, null);
    assertEquals(1, pixel(r, 0)[3]);
    assertEquals(0, pixel(r, W - 1)[3]);
    assertTrue(texts(r).get(0).contains("names tower, which matte-objects of a does not know"));
  }

  @Test
  void aPassMasksThroughItsRamp() {
    shelf.picture("a", 1, true, 1, 1, 1, 1);
    float[] depth = new float[W * H];
    for (int i = 0; i < depth.length; i++) {
      depth[i] = i % W == W - 1 ? Float.POSITIVE_INFINITY : i % W;
    }
    shelf.values.put("adepth", depth);
    Mask m =
        new Mask(
            Mask.Kind.PASS,
            null,
            "depth",
            List.of(),
            Track.of(2),
            Track.of(6),
            List.of(),
            Track.of(0),
            false);
    Result r = assembler().frame(stack(input("a").with(m)), 1, W, H, null);
    float[] is = {0, 0, 0, .25f, .5f, .75f, 1, 1};
    for (int x = 0; x < W; x++) {
      assertEquals(is[x], pixel(r, x)[3], 1e-6, "at " + x);
    }
  }

  @Test
  void whatAFilterNeedsAndIsNotThereIsSaid() {
    shelf.picture("a", 1, true, 1, 1, 1, 1);
    Corrections moving = Corrections.NONE.spread(Corrections.Defocus.USUAL, 0.5);
    Result r = assembler().frame(stack(input("a").with(moving)), 1, W, H, null);
    assertTrue(texts(r).get(0).contains("has no pass depth, which its defocus needs"));
    assertTrue(texts(r).get(1).contains("has no pass motion-next, which its motion blur needs"));
    assertEquals(1, pixel(r, 0)[0]);
  }

  @Test
  void onlyWhatChangedIsComputedAgain() {
    shelf.picture("a", 1, true, .4f, .4f, .4f, 1).picture("b", 1, true, .2f, .2f, .2f, 1);
    Map<Object, Object> kept = new HashMap<>();
    Assembler.Keep keep =
        (key, make) -> {
          Object known = kept.get(key);
          if (known == null) {
            known = make.get();
            kept.put(key, known);
          }
          return known;
        };
    Assembler a = new Assembler(shelf, keep, Workers.CALLER);
    a.frame(stack(input("b").with(Operator.ADD, 0.2), input("a")), 1, W, H, null);
    assertEquals(2, shelf.read);
    Result r = a.frame(stack(input("b").with(Operator.ADD, 0.5), input("a")), 1, W, H, null);
    assertEquals(2, shelf.read, "a fader reads nothing");
    assertEquals(.5, pixel(r, 0)[0], 1e-6);
    a.frame(stack(input("b").with(Corrections.NONE.blurred(1)), input("a")), 1, W, H, null);
    assertEquals(3, shelf.read, "another correction of one input reads that one");
  }

  /** What is kept depends on the files of a mask, too, and on when keys are. */
  @Test
  void anotherMaskAndAnotherRateAreSeen() {
    Map<Object, Object> kept = new HashMap<>();
    Assembler a =
        new Assembler(
            shelf, (key, make) -> kept.computeIfAbsent(key, k -> make.get()), Workers.CALLER);
    shelf.picture("a", 2, true, 1, 1, 1, 1).picture("b", 2, true, 1, 1, 1, 1);
    Mask ofOther =
        new Mask(
            Mask.Kind.ALPHA,
            "b",
            "beauty",
            List.of(),
            Track.of(0),
            Track.of(1),
            List.of(),
            Track.of(0),
            false);
    Stack s = stack(input("a").with(ofOther));
    assertEquals(1, pixel(a.frame(s, 2, W, H, null), 0)[3]);
    shelf.picture("b", 2, true, 0, 0, 0, 0);
    assertEquals(0, pixel(a.frame(s, 2, W, H, null), 0)[3]);

    Track rises = new Track(new double[] {0, 1}, new double[] {0, 1});
    Mask ramp =
        new Mask(
            Mask.Kind.PASS,
            null,
            "depth",
            List.of(),
            Track.of(0),
            rises,
            List.of(),
            Track.of(0),
            false);
    float[] depth = new float[W * H];
    Arrays.fill(depth, 0.25f);
    shelf.values.put("adepth", depth);
    // The ramp ends at 1 after two frames of 2 a second, at 0.5 after two of 4.
    Input keyed = input("a").with(ramp);
    shelf.footage("a", 1, 4, null, W, H);
    float slow = pixel(a.frame(new Stack(W, H, 2, "1-4", List.of(keyed)), 2, W, H, null), 0)[0];
    float fast = pixel(a.frame(new Stack(W, H, 4, "1-4", List.of(keyed)), 2, W, H, null), 0)[0];
    assertEquals(.25, slow, 1e-6);
    assertEquals(.5, fast, 1e-6);
  }

  @Test
  void stampsFollowTheFilesOfAFrame() {
    shelf.picture("a", 1, true, 1, 1, 1, 1);
    Stack s = stack(input("a"));
    List<String> first = assembler().stamps(s, 1);
    assertNotEquals(first, assembler().stamps(s, 2));
    assertEquals(first, assembler().stamps(s, 1));
  }

  @Test
  void mutedAndSoloInputs() {
    Input a = input("a"), b = input("b");
    Input muted = b.with(true, false), solo = b.with(false, true);
    assertEquals(List.of("a"), ids(stack(muted, a)));
    assertEquals(List.of("b"), ids(stack(solo, a)));
    assertEquals(List.of("a", "b"), ids(stack(b, a)));
  }

  private static List<String> ids(Stack s) {
    return Stream.of(s).flatMap(x -> x.taking().stream()).map(Input::id).toList();
  }

  /** Light that is put together from its parts covers what the beauty covers. */
  @Test
  void partsHaveTheAlphaOfTheirBeauty() {
    shelf.picture("a", 1, true, 0.2f, 0.2f, 0.2f, 0.4f);
    List<Input> parts =
        List.of("diffuse", "specular").stream()
            .map(p -> Input.of(p, p, Source.of("a", p)).with(Operator.ADD, 1))
            .toList();
    float[] sum = pixel(assembler().frame(stack(parts.get(0), parts.get(1)), 1, W, H, null), 0);
    assertEquals(0.4f, sum[0], 1e-6f);
    assertEquals(0.4f, sum[3], 1e-6f);
    // With less of it, too; and where the beauty has none it is opaque.
    Stack half = stack(parts.get(0).with(Operator.ADD, 0.5));
    assertEquals(0.4f, pixel(assembler().frame(half, 1, W, H, null), 0)[3], 1e-6f);
    shelf.picture("a", 1, false, 0.2f, 0.2f, 0.2f, 1);
    assertEquals(1, pixel(assembler().frame(half, 1, W, H, null), 0)[3]);
  }
}
