package posada.core.settings;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import posada.core.scene.NameMask;
import posada.core.settings.Layer.Rule;

/**
 * Changes the rules of a layer so that what is said last of an object counts: rules stay few, and
 * those that say nothing any more go.
 */
public final class RuleEdit {
  /** The things that a rule may say. */
  public enum Said {
    ROLE(Rule::role),
    CASTS_SHADOWS(Rule::castsShadows),
    REFLECTED(Rule::reflected),
    RECEIVES(Rule::receives);

    private final Function<Rule, Object> of;

    Said(Function<Rule, Object> of) {
      this.of = of;
    }
  }

  private RuleEdit() {}

  /**
   * Returns rules that say more of some objects.
   *
   * @param rules as they are
   * @param said of the objects that it matches
   */
  public static List<Rule> say(List<Rule> rules, Rule said) {
    List<Rule> all = rules;
    for (Said what : Said.values()) {
      if (what.of.apply(said) != null) {
        all = say(all, said, what);
      }
    }
    return all;
  }

  /**
   * Returns rules that say less of some objects, which then are as what is above them.
   *
   * @param match the patterns that no rule names any more where it says {@code what}
   */
  public static List<Rule> forget(List<Rule> rules, List<String> match, Set<Said> what) {
    List<Rule> all = rules;
    for (Said s : what) {
      all = without(all, match, s);
    }
    return all;
  }

  private static List<Rule> say(List<Rule> rules, Rule said, Said what) {
    List<Rule> all = new ArrayList<>(without(rules, said.match(), what));
    List<String> first = new ArrayList<>();
    for (String p : said.match()) {
      int at = NameMask.isMask(p) ? -1 : placeOf(all, p, said, what);
      if (at < 0) {
        first.add(p);
      } else {
        Rule r = all.get(at);
        List<String> more = new ArrayList<>(r.match());
        more.add(p);
        all.set(at, only(what, more, said));
      }
    }
    if (!first.isEmpty()) {
      all.add(0, only(what, first, said));
    }
    return all;
  }

  /**
   * The number of a rule that says just this, with none before it that says something else of that
   * name; -1 if there is none.
   */
  private static int placeOf(List<Rule> rules, String name, Rule said, Said what) {
    for (int i = 0; i < rules.size(); i++) {
      Rule r = rules.get(i);
      if (what.of.apply(r) == null) {
        continue;
      }
      if (r.equals(only(what, r.match(), said))) {
        return i;
      }
      if (r.match().stream().anyMatch(p -> NameMask.fits(p, name))) {
        return -1;
      }
    }
    return -1;
  }

  private static Rule only(Said what, List<String> match, Rule r) {
    return new Rule(
        match,
        what == Said.ROLE ? r.role() : null,
        what == Said.CASTS_SHADOWS ? r.castsShadows() : null,
        what == Said.REFLECTED ? r.reflected() : null,
        what == Said.RECEIVES ? r.receives() : null);
  }

  private static Rule less(Rule r, List<String> match, Said what) {
    return new Rule(
        match,
        what == Said.ROLE ? null : r.role(),
        what == Said.CASTS_SHADOWS ? null : r.castsShadows(),
        what == Said.REFLECTED ? null : r.reflected(),
        what == Said.RECEIVES ? null : r.receives());
  }

  private static boolean saysNothing(Rule r) {
    for (Said s : Said.values()) {
      if (s.of.apply(r) != null) {
        return false;
      }
    }
    return true;
  }

  /** A name goes with the patterns that are taken away if one of them fits it. */
  private static boolean covered(String pattern, List<String> by) {
    return by.stream()
        .anyMatch(
            b ->
                Objects.equals(b, pattern)
                    || !NameMask.isMask(pattern) && NameMask.fits(b, pattern));
  }

  private static List<Rule> without(List<Rule> rules, List<String> match, Said what) {
    List<Rule> all = new ArrayList<>();
    for (Rule r : rules) {
      if (what.of.apply(r) == null) {
        all.add(r);
        continue;
      }
      List<String> kept = new ArrayList<>(), gone = new ArrayList<>();
      r.match().forEach(p -> (covered(p, match) ? gone : kept).add(p));
      if (!kept.isEmpty()) {
        all.add(gone.isEmpty() ? r : rule(r, kept));
      }
      if (!gone.isEmpty()) {
        Rule rest = less(r, gone, what);
        if (!saysNothing(rest)) {
          all.add(rest);
        }
      }
    }
    return all;
  }

  private static Rule rule(Rule r, List<String> match) {
    return new Rule(match, r.role(), r.castsShadows(), r.reflected(), r.receives());
  }
}
