package posada.core.settings;

import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import posada.core.scene.NameMask;
import posada.core.scene.Scene;

/**
 * Which objects take part in a picture and how, with overrides. Patterns are of node names: {@code
 * *} stands for any letters, {@code ?} for one; what a rule says holds for everything below the
 * node too, until another rule names it. Of several rules that name a node the first one counts,
 * for each thing that it says.
 *
 * @param name small letters, digits, dashes and underscores
 * @param otherwise role of what no rule names
 * @param material plain material for everything; null for the scene's own
 * @param lights factors on lights and on surfaces that give off light
 * @param environment factor on the environment and its sun: red, green, blue
 * @param textures false to leave out all textures but the cut-outs of alpha
 * @param under true if the layer will lie under those that are held out of it: pixels at the edges
 *     of holdouts then keep their full strength, so that "over" gives the picture rendered at once;
 *     false for holes with soft edges, to be added
 * @param region null for the whole picture
 */
public record Layer(
    String name,
    Role otherwise,
    List<Rule> objects,
    Plain material,
    List<Gain> lights,
    List<Float> environment,
    boolean textures,
    boolean under,
    Region region) {
  private static final Pattern NAME = Pattern.compile("[a-z0-9][a-z0-9_-]{0,39}");

  /** Everything as the scene has it. */
  public static final Layer MAIN =
      new Layer(
          "main", Role.SEEN, List.of(), null, List.of(), List.of(1f, 1f, 1f), true, false, null);

  /** What an object is in a layer. */
  public enum Role {
    /** It is in the picture. */
    SEEN,
    /** The camera looks through it; it still lights, shadows and reflects. */
    UNSEEN,
    /** It cuts a hole; it still lights, shadows and reflects. */
    HOLDOUT,
    /** Only the shadows on it are in the picture, as black with alpha. */
    SHADOW_CATCHER,
    /** It is not there at all. */
    LEFT_OUT
  }

  /**
   * What holds for some objects.
   *
   * @param match patterns
   * @param role null if the rule does not say; likewise the others
   * @param castsShadows false if light from lamps and environment passes it
   * @param reflected false if mirrors do not show it
   * @param receives names of the light groups that light it
   */
  public record Rule(
      List<String> match,
      Role role,
      Boolean castsShadows,
      Boolean reflected,
      List<String> receives) {
    public Rule {
      if (match == null || match.isEmpty()) {
        throw new IllegalArgumentException("a rule needs at least one pattern to match");
      }
      match = List.copyOf(match);
      receives = receives == null ? null : List.copyOf(receives);
    }
  }

  /**
   * A plain material for everything.
   *
   * @param grey reflectance, 0 .. 1
   * @param except patterns of objects that keep their own
   */
  public record Plain(Kind kind, double grey, List<String> except) {
    /** Matt, glossy or mirroring. */
    public enum Kind {
      CLAY,
      PLASTIC,
      METAL
    }

    /** A matt grey, in the middle of what surfaces reflect. */
    public static final Plain CLAY = new Plain(Kind.CLAY, 0.5, List.of());

    public Plain {
      Limits.within("grey", grey, 0, 1);
      except = List.copyOf(except);
    }
  }

  /**
   * A factor on some lights.
   *
   * @param color factor for red, green and blue
   */
  public record Gain(List<String> match, List<Float> color) {
    public Gain {
      if (match == null || match.isEmpty()) {
        throw new IllegalArgumentException(
            "a factor on lights needs at least one pattern to match");
      }
      match = List.copyOf(match);
      color = List.copyOf(color);
      factors("light factor", color);
    }
  }

  /**
   * Where a part of the picture is at a moment: shares of its width and height from the top left
   * corner, 0 .. 1, so that it stays what it is at any size.
   */
  public record Key(double seconds, double x, double y, double width, double height) {
    /** What sums may be off by. */
    private static final double ROUNDING = 1e-6;

    public Key {
      Limits.within("region x", x, 0, 1);
      Limits.within("region y", y, 0, 1);
      inside("x + width", x + width);
      inside("y + height", y + height);
      if (!(width > 0 && height > 0)) {
        throw new IllegalArgumentException(
            "region width and height must be above 0 (got " + width + " x " + height + ")");
      }
    }

    private static void inside(String what, double v) {
      if (!(v <= 1 + ROUNDING)) {
        throw new IllegalArgumentException(
            "the region reaches outside the picture: "
                + what
                + " must be at most 1 (got "
                + v
                + ")");
      }
    }
  }

  /**
   * The part of the picture that is rendered: one of three.
   *
   * @param fixed in pixels; null if it is none of these
   * @param follow patterns of objects that it is the bounds of; empty likewise
   * @param drawn where it is at some moments, in order; straight lines lie between; empty likewise
   * @param pad pixels around the bounds of objects, 0 .. 4096
   * @param snap corners lie at multiples of this many pixels, 1 .. 512
   * @param constantSize true if all frames get the size of the largest
   */
  public record Region(
      Crop fixed, List<String> follow, List<Key> drawn, int pad, int snap, boolean constantSize) {
    public Region {
      follow = List.copyOf(follow);
      drawn = List.copyOf(drawn);
      int said = (fixed == null ? 0 : 1) + (follow.isEmpty() ? 0 : 1) + (drawn.isEmpty() ? 0 : 1);
      if (said != 1) {
        throw new IllegalArgumentException(
            "a region is either fixed, or drawn, or follows objects");
      }
      for (int k = 1; k < drawn.size(); k++) {
        if (!(drawn.get(k).seconds > drawn.get(k - 1).seconds)) {
          throw new IllegalArgumentException(
              "the keys of a region must be in the order of their seconds (got "
                  + drawn.get(k - 1).seconds
                  + " before "
                  + drawn.get(k).seconds
                  + ")");
        }
      }
      Limits.whole("region pad", pad, 0, 4096);
      Limits.whole("region snap", snap, 1, 512);
    }

    /** One that is fixed or follows objects. */
    public Region(Crop fixed, List<String> follow, int pad, int snap, boolean constantSize) {
      this(fixed, follow, List.of(), pad, snap, constantSize);
    }

    /** Returns where a drawn one is at a moment. */
    public Key drawnAt(double seconds) {
      Key before = drawn.get(0), after = drawn.get(drawn.size() - 1);
      for (Key k : drawn) {
        if (k.seconds <= seconds) {
          before = k;
        }
      }
      for (int i = drawn.size() - 1; i >= 0; i--) {
        if (drawn.get(i).seconds >= seconds) {
          after = drawn.get(i);
        }
      }
      double span = after.seconds - before.seconds;
      double f = span > 0 ? Math.max(0, Math.min(1, (seconds - before.seconds) / span)) : 0;
      return new Key(
          seconds,
          before.x + f * (after.x - before.x),
          before.y + f * (after.y - before.y),
          before.width + f * (after.width - before.width),
          before.height + f * (after.height - before.height));
    }
  }

  public Layer {
    if (!NAME.matcher(name).matches()) {
      throw new IllegalArgumentException(
          "a layer's name must be small letters, digits, dashes and underscores (got \""
              + name
              + "\")");
    }
    objects = List.copyOf(objects);
    lights = List.copyOf(lights);
    environment = List.copyOf(environment);
    factors("environment factor", environment);
  }

  /** Returns the same layer under a plain material. */
  public Layer of(Plain m) {
    return new Layer(name, otherwise, objects, m, lights, environment, textures, under, region);
  }

  /** Returns the role of each node of a scene. */
  public List<Role> roles(Scene scene) {
    List<Rule> rules = objects.stream().filter(r -> r.role != null).toList();
    int[] of = NameMask.inherited(scene.nodes(), rules.stream().map(Rule::match).toList());
    return Arrays.stream(of).mapToObj(k -> k < 0 ? otherwise : rules.get(k).role).toList();
  }

  /** Returns the same of another region; null for the whole picture. */
  public Layer of(Region r) {
    return new Layer(name, otherwise, objects, material, lights, environment, textures, under, r);
  }

  /** Returns the same with other rules. */
  public Layer with(List<Rule> rules) {
    return new Layer(
        name, otherwise, rules, material, lights, environment, textures, under, region);
  }

  /**
   * Returns the same where objects are called otherwise; patterns that are no whole name stay.
   *
   * @param names old names to new ones
   * @param both true if the old names go on being meant, too
   */
  public Layer renamed(Map<String, String> names, boolean both) {
    UnaryOperator<List<String>> all =
        patterns ->
            patterns.stream()
                .flatMap(
                    p ->
                        !names.containsKey(p)
                            ? Stream.of(p)
                            : both ? Stream.of(p, names.get(p)) : Stream.of(names.get(p)))
                .distinct()
                .toList();
    Region r = region;
    if (r != null && !r.follow.isEmpty()) {
      r = new Region(r.fixed, all.apply(r.follow), r.drawn, r.pad, r.snap, r.constantSize);
    }
    return new Layer(
        name,
        otherwise,
        objects.stream()
            .map(o -> new Rule(all.apply(o.match), o.role, o.castsShadows, o.reflected, o.receives))
            .toList(),
        material == null
            ? null
            : new Plain(material.kind, material.grey, all.apply(material.except)),
        lights.stream().map(g -> new Gain(all.apply(g.match), g.color)).toList(),
        environment,
        textures,
        under,
        r);
  }

  /** Returns true if anything may catch shadows. */
  public boolean catches() {
    return otherwise == Role.SHADOW_CATCHER
        || objects.stream().anyMatch(r -> r.role == Role.SHADOW_CATCHER);
  }

  private static void factors(String what, List<Float> f) {
    if (f.size() != 3) {
      throw new IllegalArgumentException(what + " must be three numbers (got " + f + ")");
    }
    f.forEach(v -> Limits.within(what, v, 0, 1e6));
  }

  /** Returns the same layer under another name. */
  public Layer named(String other) {
    return new Layer(
        other, otherwise, objects, material, lights, environment, textures, under, region);
  }
}
