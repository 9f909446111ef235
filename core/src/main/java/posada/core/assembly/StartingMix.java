package posada.core.assembly;

import java.util.ArrayList;
import java.util.List;
import posada.core.scene.Track;
import posada.core.settings.ChannelNames;
import posada.core.settings.Pass;

/** Stacks to begin with, made from what was rendered. */
public final class StartingMix {
  /** What a mix does. */
  public enum Kind {
    PARTS("The beauty from its parts", false),
    LIGHT_GROUPS("A fader for each light group", false),
    LAYERS("Layers in their order", false),
    ENVIRONMENT("The environment blurred behind", false),
    OCCLUSION("Occlusion multiplied in", true),
    GLOW("Glow from emission", true);

    private final String label;
    private final boolean added;

    Kind(String label, boolean added) {
      this.label = label;
      this.added = added;
    }

    public String label() {
      return label;
    }

    /** Returns true if it is laid on a stack that is there. */
    public boolean added() {
      return added;
    }
  }

  /**
   * What was rendered of a shot.
   *
   * @param footage of the newest version, as in {@link Source}
   * @param layer its name
   * @param passes of its files
   * @param dark those of them in which no light is, as far as somebody has looked
   * @param how it is put onto those below it
   */
  public record Rendered(
      String footage, String layer, List<String> passes, List<String> dark, LayerMerge.How how) {
    boolean has(String pass) {
      return passes.contains(pass);
    }
  }

  /**
   * Inputs, the topmost first, and why they are there, a sentence for each thing that was done.
   *
   * @param inputs with ids from 1 on
   */
  public record Mix(Kind kind, List<Input> inputs, List<String> why) {}

  private static final String GROUPS = Pass.LIGHT_GROUPS.label();

  /** Radii of a glow as shares of the picture's width, and how strong each is. */
  private static final double[][] RINGS = {{0.004, 0.5}, {0.014, 0.35}, {0.045, 0.2}};

  private static final double OCCLUSION = 0.5, GLOW = 0.6, BEHIND = 0.008;

  private StartingMix() {}

  /**
   * Returns the mixes that can be made.
   *
   * @param layers of a shot, the lowest first; the first is what passes are taken from
   * @param chosen the one whose passes are taken apart
   * @param width of the picture, pixels
   */
  public static List<Mix> all(List<Rendered> layers, Rendered chosen, int width) {
    List<Mix> mixes = new ArrayList<>();
    List<String> parts =
        Pass.LIGHT_PARTS.stream()
            .map(Pass::label)
            .filter(p -> chosen.has(p) && !chosen.dark.contains(p))
            .toList();
    String environment = Pass.ENVIRONMENT.label();
    if (parts.size() > 1) {
      mixes.add(parts(chosen, parts));
    }
    List<String> groups =
        chosen.passes.stream()
            .filter(p -> p.startsWith(ChannelNames.LIGHT) && !p.equals(GROUPS))
            .toList();
    if (!groups.isEmpty()) {
      mixes.add(groups(chosen, groups));
    }
    if (layers.size() > 1) {
      mixes.add(layers(layers));
    }
    if (chosen.has(environment) && parts.size() > 1) {
      mixes.add(behind(chosen, parts, width));
    }
    if (chosen.has(Pass.AMBIENT_OCCLUSION.label())) {
      Input in =
          Input.of("1", "occlusion", Source.of(chosen.footage, Pass.AMBIENT_OCCLUSION.label()))
              .with(Operator.MULTIPLY, OCCLUSION);
      mixes.add(
          new Mix(
              Kind.OCCLUSION,
              List.of(in),
              List.of(
                  "Occlusion is 1 where a surface is open and falls towards 0 where it is shut in: it is multiplied, at half strength, since the beauty has shadows of its own.")));
    }
    if (chosen.has(Pass.EMISSION.label())) {
      mixes.add(glow(chosen, width));
    }
    return mixes;
  }

  private static Mix parts(Rendered r, List<String> parts) {
    List<Input> inputs = new ArrayList<>();
    for (String p : parts) {
      inputs.add(
          0,
          Input.of(Integer.toString(inputs.size() + 1), p, Source.of(r.footage, p))
              .with(Operator.ADD, 1));
    }
    List<String> why = new ArrayList<>();
    why.add(
        "%d passes of %s hold light that adds up to the beauty, so each is added at full strength: with all of them as they are the sum is the beauty."
            .formatted(parts.size(), r.layer));
    List<String> dark =
        Pass.LIGHT_PARTS.stream().map(Pass::label).filter(r.dark::contains).toList();
    if (!dark.isEmpty()) {
      why.add(
          "No light was found in %s at the beginning, in the middle and at the end: left out."
              .formatted(String.join(", ", dark)));
    }
    return new Mix(Kind.PARTS, inputs, why);
  }

  private static Mix groups(Rendered r, List<String> groups) {
    List<Input> inputs = new ArrayList<>();
    for (String g : groups) {
      inputs.add(
          Input.of(Integer.toString(inputs.size() + 1), g, Source.of(r.footage, g))
              .with(Operator.ADD, 1));
    }
    return new Mix(
        Kind.LIGHT_GROUPS,
        inputs,
        List.of(
            "%d passes of %s hold the light of one group each. Light adds up, so the strength of each is a fader: at 1.00 they are the beauty, and a scene is lit anew without rendering."
                .formatted(groups.size(), r.layer)));
  }

  private static Mix layers(List<Rendered> layers) {
    List<Input> inputs = new ArrayList<>();
    List<String> why = new ArrayList<>();
    for (Rendered l : layers) {
      boolean add = !inputs.isEmpty() && l.how == LayerMerge.How.ADD;
      String id = Integer.toString(inputs.size() + 1);
      inputs.add(
          0,
          Input.of(id, l.layer, Source.of(l.footage, "beauty"))
              .with(add ? Operator.ADD : Operator.OVER, 1));
      why.add(
          inputs.size() == 1
              ? l.layer + " lies lowest."
              : add
                  ? l.layer
                      + " is added: the layers below hold out what it shows, so that each pixel is shared out between them."
                  : l.layer + " lies over what is below, by its alpha.");
    }
    return new Mix(Kind.LAYERS, inputs, why);
  }

  private static Mix behind(Rendered r, List<String> parts, int width) {
    String environment = Pass.ENVIRONMENT.label();
    List<Input> inputs = new ArrayList<>();
    Mask outside =
        new Mask(
            Mask.Kind.ALPHA,
            r.footage,
            "beauty",
            List.of(),
            Track.of(0),
            Track.of(1),
            List.of(),
            Track.of(0),
            true);
    inputs.add(
        Input.of("1", environment, Source.of(r.footage, environment))
            .with(Operator.ADD, 1)
            .with(Corrections.NONE.blurred(rounded(Math.max(1, BEHIND * width))))
            .with(outside));
    for (String p : parts) {
      if (!p.equals(environment)) {
        inputs.add(
            0,
            Input.of(Integer.toString(inputs.size() + 1), p, Source.of(r.footage, p))
                .with(Operator.ADD, 1));
      }
    }
    return new Mix(
        Kind.ENVIRONMENT,
        inputs,
        List.of(
            "What is seen behind the objects is a pass of its own: it is blurred, kept off the objects by the beauty's alpha, and the other %d parts are added to it as they are."
                .formatted(inputs.size() - 1)));
  }

  private static double rounded(double v) {
    return Math.round(v * 10) / 10.0;
  }

  private static Mix glow(Rendered r, int width) {
    List<Corrections.Ring> rings = new ArrayList<>();
    for (double[] ring : RINGS) {
      rings.add(
          new Corrections.Ring(
              Track.of(rounded(Math.max(0.5, ring[0] * width))), Track.of(ring[1])));
    }
    Input in =
        Input.of("1", "glow", Source.of(r.footage, Pass.EMISSION.label()))
            .with(Operator.ADD, GLOW)
            .with(Corrections.NONE.glowing(new Corrections.Halo(Track.of(1), rings, true)));
    return new Mix(
        Kind.GLOW,
        List.of(in),
        List.of(
            "What gives off light is a pass of its own: what is brighter than 1 in it is blurred three times, narrow to wide, and added. Lower its strength if lamps should only shimmer."));
  }
}
