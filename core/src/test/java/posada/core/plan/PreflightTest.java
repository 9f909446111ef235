package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.plan.Finding.Remedy;
import posada.core.plan.Finding.Rule;
import posada.core.plan.Finding.Severity;
import posada.core.plan.Preflight.Batch;
import posada.core.plan.Preflight.Files;
import posada.core.plan.Preflight.InScene;
import posada.core.plan.Preflight.Proof;
import posada.core.plan.Preflight.Strand;
import posada.core.settings.Denoising;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.SceneLook;

class PreflightTest {
  private static final long PLENTY = 1L << 40;
  private static final Batch ROOM = new Batch(PLENTY, PLENTY);
  private static final SceneLook NOTHING_ODD =
      new SceneLook(List.of(1, 96), List.of(), Map.of(), Map.of(), false, List.of(), 24.0);

  /** A strand of which each test changes a little. */
  private static final class Changed {
    private String shot = "a";
    private String frames = "1-96";
    private RenderSettings settings = RenderSettings.DEFAULT;
    private boolean moves = true;
    private List<String> missing = List.of();
    private String notThere;
    private SceneLook look = NOTHING_ODD;
    private double near;
    private boolean linear = true;
    private boolean shown;
    private String pattern = "{shot}.{frame:4}";
    private String fault;
    private String taken;
    private Proof proof;

    private Strand strand() {
      return new Strand(
          shot,
          "main",
          "wide",
          FrameRange.parse(frames),
          24,
          settings,
          new InScene(
              FrameRange.parse("1-96"),
              moves,
              List.of("ride"),
              near,
              missing,
              notThere,
              List.of(),
              look),
          new Files(linear, shown, new NamePattern(pattern), fault, "p/" + shot, taken, 1_000_000),
          1_000_000_000,
          proof);
    }
  }

  private interface Change {
    void to(Changed c);
  }

  private static Strand strand(Change change) {
    Changed c = new Changed();
    change.to(c);
    return c.strand();
  }

  private static List<Rule> rules(Strand... strands) {
    return Preflight.check(List.of(strands), ROOM).stream().map(Finding::rule).toList();
  }

  private static Finding only(Strand s) {
    List<Finding> all = Preflight.check(List.of(s), ROOM);
    assertEquals(1, all.size(), all.toString());
    return all.get(0);
  }

  private static Remedy remedy(Remedy.Kind kind, String value) {
    return new Remedy(kind, value);
  }

  @Test
  void aGoodBatchHasNothingToSay() {
    Strand other =
        strand(
            c -> {
              c.shot = "b";
              c.frames = "1-96x4";
            });
    Strand few =
        strand(
            c -> {
              c.shot = "c";
              c.frames = "1,48,96";
            });
    assertEquals(List.of(), rules(strand(c -> {}), other, few));
  }

  @ParameterizedTest
  @CsvSource({
    "1-48, ANIMATION_CUT_OFF",
    "9-96, ANIMATION_CUT_OFF",
    "1-100, FRAMES_WITHOUT_ANIMATION",
    "'1-90x4', ANIMATION_CUT_OFF",
    "'1-50,61-96', ANIMATION_CUT_OFF"
  })
  void aRangeIsHeldAgainstTheAnimation(String frames, Rule rule) {
    Finding f = only(strand(c -> c.frames = frames));
    assertEquals(rule, f.rule());
    assertEquals(remedy(Remedy.Kind.FRAMES, "1-96"), f.remedy());
    assertTrue(f.text().contains("1-96"), f.text());
  }

  @Test
  void aNameNeedsTheFrameAndRoomForItsDigits() {
    Finding without = only(strand(c -> c.pattern = "{shot}"));
    assertEquals(Rule.NAME_WITHOUT_FRAME, without.rule());
    assertEquals(Severity.ERROR, without.severity());
    assertEquals(remedy(Remedy.Kind.PATTERN, "{shot}.{frame:4}"), without.remedy());
    Finding narrow = only(strand(c -> c.pattern = "{shot}.{frame:1}"));
    assertEquals(Rule.PADDING, narrow.rule());
    assertEquals(remedy(Remedy.Kind.PATTERN, "{shot}.{frame:2}"), narrow.remedy());
    assertEquals(List.of(Rule.PADDING), rules(strand(c -> c.pattern = "{shot}.{frame}")));
    assertEquals(List.of(), rules(strand(c -> c.pattern = "{shot}.{frame:2}")));
  }

  @Test
  void filesAreHeldAgainstWhatTheyAreFor() {
    assertEquals(Rule.FILE_NAMES, only(strand(c -> c.fault = "png cannot hold depth")).rule());
    Finding only = only(strand(c -> c.linear = false));
    assertEquals(Rule.ONLY_DISPLAY_FILES, only.rule());
    assertEquals(Remedy.Kind.ADD_EXR, only.remedy().kind());
    Finding shown =
        only(
            strand(
                c -> {
                  c.linear = false;
                  c.shown = true;
                }));
    assertEquals(Rule.DISPLAY_IN_EXR, shown.rule());
    assertEquals(Remedy.Kind.SCENE_LINEAR, shown.remedy().kind());
    assertEquals(Rule.VERSION_TAKEN, only(strand(c -> c.taken = "v001")).rule());
  }

  @Test
  void whatTheSceneLacksIsTold() {
    assertEquals(Rule.MISSING_FILES, only(strand(c -> c.missing = List.of("label.png"))).rule());
    assertEquals(Rule.NOT_IN_SCENE, only(strand(c -> c.notThere = "No camera.")).rule());
    Finding still = only(strand(c -> c.moves = false));
    assertEquals(Rule.CAMERA_STANDS_STILL, still.rule());
    assertEquals(remedy(Remedy.Kind.CAMERA, "ride"), still.remedy());
  }

  private static Finding looked(
      List<Integer> empty,
      Map<Integer, String> inside,
      boolean dark,
      List<String> changes,
      Double rate) {
    SceneLook l = new SceneLook(List.of(1, 48, 96), empty, inside, Map.of(), dark, changes, rate);
    return only(strand(c -> c.look = l));
  }

  @Test
  void whatALookAtFramesFindsIsTold() {
    Finding empty = looked(List.of(48, 96), Map.of(), false, List.of(), null);
    assertEquals(Rule.NOTHING_VISIBLE, empty.rule());
    assertTrue(empty.text().contains("48"), empty.text());
    Finding inside = looked(List.of(), Map.of(48, "rock"), false, List.of(), null);
    assertEquals(Rule.CAMERA_INSIDE, inside.rule());
    assertTrue(inside.text().contains("rock"), inside.text());
    assertEquals(Rule.NO_LIGHT, looked(List.of(), Map.of(), true, List.of(), null).rule());
    Finding moves = looked(List.of(), Map.of(), false, List.of("car moves"), null);
    assertEquals(Rule.BAKED_LIGHT_MOVES, moves.rule());
    assertEquals(Severity.ERROR, moves.severity());
    assertTrue(moves.text().contains("car moves"), moves.text());
    assertEquals(Rule.FRAME_RATE, looked(List.of(), Map.of(), false, List.of(), 25.0).rule());
  }

  @Test
  void whatItsNearPlaneWouldCutOffIsTold() {
    Map<Integer, SceneLook.Near> nearest =
        Map.of(1, new SceneLook.Near(5, "rock"), 48, new SceneLook.Near(0.06, "twig"));
    SceneLook l =
        new SceneLook(List.of(1, 48, 96), List.of(), Map.of(), nearest, false, List.of(), 24.0);
    Finding near =
        only(
            strand(
                c -> {
                  c.look = l;
                  c.near = 0.1;
                }));
    assertEquals(Rule.NEAR_PLANE, near.rule());
    assertTrue(near.text().contains("twig is 0.0600 m") && near.text().contains("frame 48"));
    assertEquals(List.of(), rules(strand(c -> c.look = l)));
  }

  @Test
  void proofsAreHeldAgainstTheShot() {
    Strand good = strand(c -> c.proof = new Proof(true, false, "wide"));
    assertEquals(List.of(), rules(good));
    Strand none =
        strand(
            c -> {
              c.shot = "b";
              c.proof = new Proof(false, false, null);
            });
    Finding missing = Preflight.check(List.of(good, none), ROOM).get(0);
    assertEquals(Rule.NO_PROOF, missing.rule());
    assertTrue(missing.text().startsWith("1 of 2"), missing.text());
    assertEquals(
        List.of(Rule.PROOF_REJECTED, Rule.NO_PROOF),
        rules(strand(c -> c.proof = new Proof(false, true, "wide"))));
    assertEquals(
        List.of(Rule.CAMERA_NOT_PROOFED),
        rules(strand(c -> c.proof = new Proof(true, false, "summit"))));
  }

  @Test
  void blurNeedsSamplesOrDenoising() {
    Shutter open = new Shutter(true, 180, 0, true, true, true, 2);
    UnaryOperator<RenderSettings> few = r -> r.with(open).with(16, 0);
    Finding f = only(strand(c -> c.settings = few.apply(c.settings)));
    assertEquals(Rule.NOISE_IN_BLUR, f.rule());
    assertEquals(remedy(Remedy.Kind.SAMPLES, "64"), f.remedy());
    assertEquals(List.of(), rules(strand(c -> c.settings = c.settings.with(open).with(64, 0))));
    Denoising clean = new Denoising(true, 1);
    assertEquals(List.of(), rules(strand(c -> c.settings = few.apply(c.settings).with(clean))));
  }

  private static final List<Strand> TWO = List.of(strand(c -> {}), strand(c -> c.shot = "b"));

  @Test
  void roomInMemoryAndOnTheDiskIsCountedOverTheBatch() {
    assertEquals(List.of(), Preflight.check(TWO, new Batch(1_000_000_000, 192_000_000)));
    Finding disk = Preflight.check(TWO, new Batch(PLENTY, 191_999_999)).get(0);
    assertEquals(Rule.DISK, disk.rule());
    assertNull(disk.shot());
    List<Finding> memory = Preflight.check(TWO, new Batch(999_999_999, PLENTY));
    assertEquals(2, memory.size());
    assertEquals(Rule.MEMORY, memory.get(0).rule());
  }

  private static List<Finding> estimated(double bytes, double seconds, Double until, long disk) {
    Estimate.Figure b = new Estimate.Figure(bytes, bytes, bytes * 1.1);
    Estimate.Figure s = new Estimate.Figure(seconds, seconds, seconds * 1.1);
    return Preflight.check(TWO, new Batch(PLENTY, disk, b, s, until, List.of("layer clay")));
  }

  @Test
  void theEstimateIsHeldAgainstDeadlineAndDisk() {
    List<Finding> fine = estimated(1e6, 3600, 3961.0, 1_200_000);
    assertEquals(List.of(Rule.NOT_USED), fine.stream().map(Finding::rule).toList());
    assertEquals(Severity.NOTE, fine.get(0).severity());
    assertEquals(Rule.DISK, estimated(1e6, 3600, null, 1_000_000).get(0).rule());
    Finding late = estimated(1e6, 3600, 3900.0, PLENTY).get(0);
    assertEquals(Rule.DEADLINE, late.rule());
    assertEquals(Remedy.Kind.FIT, late.remedy().kind());
    assertTrue(late.text().contains("1 h 5 min"), late.text());
    assertEquals("The deadline is over.", estimated(1, 9, -1.0, PLENTY).get(0).text());
  }

  @Test
  void errorsComeFirst() {
    assertEquals(
        List.of(Rule.SAME_FOLDER, Rule.ANIMATION_CUT_OFF),
        rules(strand(c -> c.frames = "1-48"), strand(c -> {})));
  }
}
