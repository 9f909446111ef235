package posada.core.settings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.scene.Environment;
import posada.core.scene.NameMask;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer.Role;
import posada.core.settings.Layer.Rule;
import posada.core.settings.RuleEdit.Said;

class RuleEditTest {
  private static Rule role(Role r, String... match) {
    return new Rule(List.of(match), r, null, null, null);
  }

  private static Rule shadows(boolean s, String... match) {
    return new Rule(List.of(match), null, s, null, null);
  }

  @Test
  void whatIsSaidLastCounts() {
    List<Rule> rules = RuleEdit.say(List.of(), role(Role.HOLDOUT, "pine-*"));
    rules = RuleEdit.say(rules, role(Role.SEEN, "pine-7"));
    assertEquals(List.of(role(Role.SEEN, "pine-7"), role(Role.HOLDOUT, "pine-*")), rules);
    // A pattern takes the names that it fits along.
    assertEquals(
        List.of(role(Role.UNSEEN, "pine-*")), RuleEdit.say(rules, role(Role.UNSEEN, "pine-*")));
  }

  @Test
  void namesGatherInOneRule() {
    List<Rule> rules = List.of();
    for (String name : List.of("a", "b", "c")) {
      rules = RuleEdit.say(rules, role(Role.HOLDOUT, name));
    }
    assertEquals(List.of(role(Role.HOLDOUT, "a", "b", "c")), rules);
    assertEquals(
        List.of(role(Role.SEEN, "b"), role(Role.HOLDOUT, "a", "c")),
        RuleEdit.say(rules, role(Role.SEEN, "b")));
  }

  @Test
  void otherThingsThatARuleSaysStay() {
    Rule both = new Rule(List.of("car", "cable"), Role.UNSEEN, false, null, null);
    List<Rule> rules = RuleEdit.say(List.of(both), role(Role.SEEN, "car"));
    assertEquals(
        List.of(
            role(Role.SEEN, "car"),
            new Rule(List.of("cable"), Role.UNSEEN, false, null, null),
            shadows(false, "car")),
        rules);
    assertEquals(
        List.of(shadows(false, "car", "cable")),
        RuleEdit.forget(List.of(both), List.of("car", "cable"), Set.of(Said.ROLE)));
    assertEquals(
        List.of(),
        RuleEdit.forget(List.of(shadows(true, "x")), List.of("x"), Set.of(Said.values())));
  }

  /** Whatever is said in whatever order, each object is what was said of it last. */
  @Test
  void manyChangesEndAsSaid() {
    List<Node> nodes = new ArrayList<>();
    for (int i = 0; i < 12; i++) {
      nodes.add(new Node((i < 6 ? "a" : "b") + i, -1, null, Affine.IDENTITY, 0, -1, -1));
    }
    Scene scene =
        new Scene(
            "s",
            nodes,
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            List.of(),
            Environment.NONE);
    Random random = new Random(7);
    for (int trial = 0; trial < 50; trial++) {
      List<Rule> rules = List.of();
      Map<String, Role> wanted = new HashMap<>();
      for (int k = 0; k < 30; k++) {
        String match =
            random.nextInt(4) == 0
                ? List.of("a*", "b*", "*").get(random.nextInt(3))
                : nodes.get(random.nextInt(12)).name();
        Role r = Role.values()[random.nextInt(5)];
        boolean forget = random.nextInt(5) == 0 && !NameMask.isMask(match);
        // Of a name that a pattern fits too, that would leave the pattern's.
        if (forget && rules.stream().anyMatch(x -> x.match().stream().anyMatch(NameMask::isMask))) {
          continue;
        }
        rules =
            forget
                ? RuleEdit.forget(rules, List.of(match), Set.of(Said.ROLE))
                : RuleEdit.say(rules, role(r, match));
        for (Node n : nodes) {
          if (NameMask.fits(match, n.name())) {
            wanted.put(n.name(), forget ? Role.SEEN : r);
          }
        }
      }
      List<Role> roles = Layer.MAIN.with(rules).roles(scene);
      for (int i = 0; i < 12; i++) {
        assertEquals(wanted.getOrDefault(nodes.get(i).name(), Role.SEEN), roles.get(i));
      }
      assertTrue(rules.size() <= 30, "rules: " + rules.size());
    }
  }
}
