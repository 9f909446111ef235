package posada.core.plan;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import java.util.function.IntUnaryOperator;
import java.util.stream.IntStream;
import posada.core.scene.NameMask;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Rule;

/**
 * What a layer makes of each node of a scene, and where it says so; for a table, so patterns that
 * fit nothing are told and not refused.
 *
 * @param roles a letter for each node: S seen, U unseen, H holdout, C catches shadows, L left out
 * @param from for each node the number of the node whose name a rule fits, itself or one above it;
 *     -1 where none does
 * @param rules for each node the pattern that fits, by its number in {@code patterns}; -1 likewise
 * @param patterns that decide roles
 * @param shadows for each node 1 if it casts shadows, otherwise 0
 * @param reflected likewise, if mirrors show it
 * @param receives for each node the number of the light groups that light it; -1 for all
 * @param groups light groups by these numbers
 * @param unfit patterns that fit no node
 */
public record LayerRoles(
    String roles,
    int[] from,
    int[] rules,
    List<String> patterns,
    String shadows,
    String reflected,
    int[] receives,
    List<List<String>> groups,
    List<String> unfit) {
  private static final String LETTERS = "SUHCL";

  /** Returns what a layer makes of a scene. */
  public static LayerRoles of(Scene scene, Layer layer) {
    Said role = new Said(scene, layer, Rule::role);
    Said shadow = new Said(scene, layer, Rule::castsShadows);
    Said mirror = new Said(scene, layer, Rule::reflected);
    Said lit = new Said(scene, layer, Rule::receives);
    List<String> patterns = new ArrayList<>();
    int n = scene.nodes().size();
    int[] rules = new int[n];
    for (int i = 0; i < n; i++) {
      int from = role.fit.from()[i];
      rules[i] = from < 0 ? -1 : from < i ? rules[from] : number(patterns, role.pattern(i));
    }
    return new LayerRoles(
        letters(n, i -> LETTERS.charAt(role.at(i, Rule::role, layer.otherwise()).ordinal())),
        role.fit.from(),
        rules,
        patterns,
        letters(n, i -> shadow.at(i, Rule::castsShadows, true) ? '1' : '0'),
        letters(n, i -> mirror.at(i, Rule::reflected, true) ? '1' : '0'),
        lit.fit.list(),
        lit.rules.stream().map(Rule::receives).toList(),
        unfit(scene, layer));
  }

  private static int number(List<String> patterns, String p) {
    int at = patterns.indexOf(p);
    if (at < 0) {
      patterns.add(p);
    }
    return at < 0 ? patterns.size() - 1 : at;
  }

  private static String letters(int n, IntUnaryOperator of) {
    StringBuilder b = new StringBuilder(n);
    IntStream.range(0, n).forEach(i -> b.append((char) of.applyAsInt(i)));
    return b.toString();
  }

  /** Returns the patterns of a layer that fit no node. */
  public static List<String> unfit(Scene scene, Layer layer) {
    List<String> all = new ArrayList<>();
    layer.objects().forEach(r -> all.addAll(r.match()));
    layer.lights().forEach(g -> all.addAll(g.match()));
    if (layer.material() != null) {
      all.addAll(layer.material().except());
    }
    if (layer.region() != null) {
      all.addAll(layer.region().follow());
    }
    List<String> names = scene.nodes().stream().map(Node::name).toList();
    Set<String> known = new HashSet<>(names);
    return all.stream()
        .distinct()
        .filter(
            p ->
                NameMask.isMask(p)
                    ? names.stream().noneMatch(x -> NameMask.fits(p, x))
                    : !known.contains(p))
        .toList();
  }

  /** Rules that say something of a kind, and which of them counts for which node. */
  private static final class Said {
    private final List<Node> nodes;
    private final List<Rule> rules;
    private final NameMask.Fitting fit;

    private Said(Scene scene, Layer layer, Function<Rule, Object> what) {
      nodes = scene.nodes();
      rules = layer.objects().stream().filter(r -> what.apply(r) != null).toList();
      fit = NameMask.fitting(nodes, rules.stream().map(Rule::match).toList());
    }

    private <T> T at(int node, Function<Rule, T> of, T otherwise) {
      int rule = fit.list()[node];
      return rule < 0 ? otherwise : of.apply(rules.get(rule));
    }

    /** The pattern that fits a node's own name. */
    private String pattern(int node) {
      String name = nodes.get(node).name();
      return rules.get(fit.list()[node]).match().stream()
          .filter(p -> NameMask.fits(p, name))
          .findFirst()
          .orElseThrow();
    }
  }
}
