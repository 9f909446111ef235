package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.plan.Finding.Rule;
import posada.core.plan.Finding.Severity;
import posada.core.settings.Denoising;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;

class PreflightTest {
  private static final FrameRange WHOLE = FrameRange.parse("1-96");
  private static final long PLENTY = 1L << 40;

  private static Preflight.Strand strand(String shot, String frames) {
    return new Preflight.Strand(
        shot,
        "main",
        FrameRange.parse(frames),
        WHOLE,
        true,
        true,
        List.of(),
        RenderSettings.DEFAULT,
        true,
        new NamePattern("{shot}.{frame:4}"),
        null,
        "p/" + shot,
        1_000_000_000,
        1_000_000,
        null);
  }

  /** The same strand with some of it changed. */
  private static Preflight.Strand with(
      Preflight.Strand s, boolean moves, List<String> missing, boolean linear, String pattern) {
    return new Preflight.Strand(
        s.shot(),
        s.layer(),
        s.frames(),
        s.animation(),
        moves,
        true,
        missing,
        s.settings(),
        linear,
        new NamePattern(pattern),
        pattern.contains("{frame") ? null : "no name",
        s.folder(),
        s.memoryBytes(),
        s.frameBytes(),
        s.notInScene());
  }

  private static Preflight.Strand with(Preflight.Strand s, UnaryOperator<RenderSettings> change) {
    return new Preflight.Strand(
        s.shot(),
        s.layer(),
        s.frames(),
        s.animation(),
        s.cameraMoves(),
        s.someCameraMoves(),
        s.missing(),
        change.apply(s.settings()),
        s.sceneLinear(),
        s.pattern(),
        s.fault(),
        s.folder(),
        s.memoryBytes(),
        s.frameBytes(),
        s.notInScene());
  }

  private static List<Rule> rules(Preflight.Strand... strands) {
    return Preflight.check(List.of(strands), PLENTY, PLENTY).stream().map(Finding::rule).toList();
  }

  @Test
  void aGoodBatchHasNothingToSay() {
    assertEquals(List.of(), rules(strand("a", "1-96"), strand("b", "1-96x4")));
  }

  @ParameterizedTest
  @CsvSource({
    "1-48, ANIMATION_CUT_OFF",
    "9-96, ANIMATION_CUT_OFF",
    "1-100, FRAMES_WITHOUT_ANIMATION",
    "'1-90x4', ANIMATION_CUT_OFF"
  })
  void aRangeIsHeldAgainstTheAnimation(String frames, Rule rule) {
    Finding f = Preflight.check(List.of(strand("a", frames)), PLENTY, PLENTY).get(0);
    assertEquals(rule, f.rule());
    assertEquals("1-96", f.frames());
    assertTrue(f.text().contains("1-96"), f.text());
    assertEquals(List.of(rule), rules(strand("a", frames)));
  }

  @Test
  void whatTheSceneAndTheFilesLackIsTold() {
    Preflight.Strand s = strand("a", "1-96");
    String name = "{shot}.{frame:4}";
    assertEquals(
        List.of(Rule.MISSING_FILES), rules(with(s, true, List.of("label.png"), true, name)));
    assertEquals(List.of(Rule.CAMERA_STANDS_STILL), rules(with(s, false, List.of(), true, name)));
    assertEquals(List.of(Rule.ONLY_DISPLAY_FILES), rules(with(s, true, List.of(), false, name)));
    Finding f =
        Preflight.check(List.of(with(s, true, List.of(), true, "{shot}")), PLENTY, PLENTY).get(0);
    assertEquals(Rule.NAME_WITHOUT_FRAME, f.rule());
    assertEquals(Severity.ERROR, f.severity());
  }

  @Test
  void blurNeedsSamplesOrDenoising() {
    Shutter open = new Shutter(true, 180, 0, true, true, true, 2);
    Preflight.Strand s = with(strand("a", "1-96"), r -> r.with(open).with(16, 0));
    assertEquals(List.of(Rule.NOISE_IN_BLUR), rules(s));
    assertEquals(List.of(), rules(with(s, r -> r.with(64, 0))));
    assertEquals(List.of(), rules(with(s, r -> r.with(new Denoising(true, 1)))));
  }

  @Test
  void roomInMemoryAndOnTheDiskIsCountedOverTheBatch() {
    List<Preflight.Strand> two = List.of(strand("a", "1-96"), strand("b", "1-96"));
    assertEquals(List.of(), Preflight.check(two, 1_000_000_000, 192_000_000));
    Finding disk = Preflight.check(two, PLENTY, 191_999_999).get(0);
    assertEquals(Rule.DISK, disk.rule());
    assertEquals(null, disk.shot());
    List<Finding> memory = Preflight.check(two, 999_999_999, PLENTY);
    assertEquals(2, memory.size());
    assertEquals(Rule.MEMORY, memory.get(0).rule());
  }

  @Test
  void errorsComeFirst() {
    List<Finding> all =
        Preflight.check(List.of(strand("a", "1-48"), strand("a", "1-96")), PLENTY, PLENTY);
    assertEquals(
        List.of(Rule.SAME_FOLDER, Rule.ANIMATION_CUT_OFF),
        all.stream().map(Finding::rule).toList());
  }
}
