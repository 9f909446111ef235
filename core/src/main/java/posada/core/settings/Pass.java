package posada.core.settings;

import java.util.Arrays;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import posada.core.image.FrameImage.Precision;

/** What a picture can be taken apart into; the catalogue behind names, channels and the docs. */
public enum Pass {
  BEAUTY(
      "beauty",
      "RGBA",
      Precision.HALF,
      Use.PICTURE,
      true,
      "all light that reaches the camera; alpha is coverage, and colour is premultiplied by it",
      "scene-linear radiance, ITU-R BT.709 primaries",
      "nothing on top: it is always sampled"),
  DIFFUSE_DIRECT(
      "diffuse-direct",
      "light that comes straight from lights and is scattered evenly at the first surface"),
  DIFFUSE_INDIRECT(
      "diffuse-indirect", "the same for light that other surfaces have scattered before"),
  SPECULAR_DIRECT("specular-direct", "lights mirrored at the first surface"),
  SPECULAR_INDIRECT("specular-indirect", "everything else that is mirrored at the first surface"),
  TRANSMISSION_DIRECT("transmission-direct", "lights seen through the first surface"),
  TRANSMISSION_INDIRECT("transmission-indirect", "everything else seen through the first surface"),
  SHEEN("sheen", "light that the fibres of cloth send back, direct and indirect"),
  COAT("clearcoat", "what is mirrored by the clearcoat, direct and indirect"),
  EMISSION("emission", "light that the first surface gives off, and lights that the camera sees"),
  ENVIRONMENT("environment", "what is seen behind the objects, and haze in front of them"),
  LIGHT_GROUPS(
      "light-groups",
      "the beauty by where its light comes from: one picture for each group of lights, and one for"
          + " the rest"),
  DEPTH(
      "depth",
      "Z",
      Precision.FLOAT,
      Use.DATA,
      false,
      "distance of the surface at the pixel's centre",
      "metres along the view axis; infinite where there is no surface",
      "one more ray for each pixel"),
  DEPTH_FILTERED(
      "depth-filtered",
      "Z",
      Precision.FLOAT,
      Use.DATA,
      true,
      "mean distance of the surfaces in the pixel, for smooth fog",
      "metres along the view axis; infinite where there is no surface",
      Pass.FREE),
  POSITION(
      "position",
      "XYZ",
      Precision.FLOAT,
      Use.DATA,
      false,
      "place of the surface at the pixel's centre",
      "metres, world space; 0 where there is no surface",
      "one more ray for each pixel"),
  TEXTURE_COORDINATES(
      "texture-coordinates",
      "UV",
      Precision.FLOAT,
      Use.DATA,
      false,
      "first set of texture coordinates at the pixel's centre",
      "0 .. 1 across the texture, v down; 0 where there is none",
      "one more ray for each pixel"),
  NORMAL(
      "normal",
      "XYZ",
      Precision.HALF,
      Use.DATA,
      true,
      "which way the surface faces, bumps included",
      "unit vector, world space; 0 where there is no surface",
      Pass.FREE),
  NORMAL_CAMERA(
      "normal-camera",
      "XYZ",
      Precision.HALF,
      Use.DATA,
      true,
      "the same as the camera sees it",
      "unit vector: x right, y up, z towards the camera",
      Pass.FREE),
  FACING(
      "facing",
      "Y",
      Precision.HALF,
      Use.MULTIPLIES,
      true,
      "how much the surface faces the camera: 0 at the rim",
      "cosine of the angle between normal and view, times coverage",
      Pass.FREE),
  ALBEDO(
      "albedo",
      "RGB",
      Precision.HALF,
      Use.DATA,
      true,
      "base colour of the first surface; in smooth mirrors and through clear glass that of what is"
          + " seen there, tinted",
      "share of light that is sent back, 0 .. 1, times coverage; 1 where a mirror or a glass shows"
          + " the environment",
      "about 1 % of the frame's time; one more ray for each mirror and glass in the way"),
  MOTION_NEXT(
      "motion-next",
      "XY",
      Precision.FLOAT,
      Use.DATA,
      false,
      "how far the pixel's centre moves to the next frame",
      "pixels, right and down; 0 where it is behind the camera then",
      "one more ray for each pixel, and the meshes that bend in one more shape"),
  MOTION_PREVIOUS(
      "motion-previous",
      "XY",
      Precision.FLOAT,
      Use.DATA,
      false,
      "how far the pixel's centre has moved since the frame before",
      "pixels, right and down; 0 where it was behind the camera",
      "one more ray for each pixel, and the meshes that bend in one more shape"),
  MATTE_OBJECTS(
      "matte-objects",
      "RGBA",
      Precision.FLOAT,
      Use.MATTE,
      true,
      "which objects are in the pixel, most coverage first: name and coverage in turn",
      "hashes of nodes' names, read as floats; coverage 0 .. 1",
      Pass.FREE),
  MATTE_MATERIALS(
      "matte-materials",
      "RGBA",
      Precision.FLOAT,
      Use.MATTE,
      true,
      "the same for materials",
      "hashes of materials' names, read as floats; coverage 0 .. 1",
      Pass.FREE),
  MATTE_LAYERS(
      "matte-layers",
      "RGBA",
      Precision.FLOAT,
      Use.MATTE,
      true,
      "the same for the layer, so that it is known after layers are merged",
      "hash of the layer's name, read as a float; coverage 0 .. 1",
      Pass.FREE),
  OWN(
      "own",
      "RGB",
      Precision.HALF,
      Use.DATA,
      true,
      "passes of your own: facing, curvature, height or a number for each object, through a ramp",
      "colours of the ramp, times coverage",
      "about 1 % of the frame's time; curvature two short rays for each sample"),
  AMBIENT_OCCLUSION(
      "ambient-occlusion",
      "Y",
      Precision.HALF,
      Use.MULTIPLIES,
      true,
      "how open the space around the surface is, out to a radius",
      "1 open .. 0 shut in; 1 where there is no surface",
      "one short ray for each sample: about 8 % of the frame's time"),
  SHADOW(
      "shadow",
      "Y",
      Precision.HALF,
      Use.MULTIPLIES,
      true,
      "share of the direct light that is not blocked on its way to the first surface",
      "1 lit .. 0 in shadow; 1 where no light could come",
      Pass.FREE),
  GUIDES(
      "guides",
      "",
      Precision.HALF,
      Use.DATA,
      true,
      "what a picture can be denoised with later: light by kind, colours, normals and distances,"
          + " each with its standard error, and motion",
      "as the passes that hold the same; distances as 1/metres",
      "about 8 % of the frame's time, and 32 channels in the file"),
  SAMPLES(
      "samples",
      "Y",
      Precision.FLOAT,
      Use.DATA,
      false,
      "how many samples the pixel got",
      "a whole number",
      Pass.FREE),
  TIME(
      "time",
      "Y",
      Precision.FLOAT,
      Use.DATA,
      false,
      "how long the pixel took; differs from run to run",
      "microseconds on one thread",
      Pass.FREE);

  /** How a compositor combines a pass. */
  public enum Use {
    /** It is the picture. */
    PICTURE("is the picture"),
    /** Together with its likes it adds up to the beauty. */
    ADDS("adds up to the beauty"),
    /** It darkens or shapes by being multiplied. */
    MULTIPLIES("multiply"),
    /** Names and coverages that a matte is picked from. */
    MATTE("pick a matte"),
    /** Numbers that are not to be looked at or filtered. */
    DATA("data");

    private final String label;

    Use(String label) {
      this.label = label;
    }

    public String label() {
      return label;
    }
  }

  private static final String FREE = "about 1 % of the frame's time";

  /** The light parts; they add up to the beauty. */
  public static final Set<Pass> LIGHT_PARTS =
      java.util.Collections.unmodifiableSet(EnumSet.range(DIFFUSE_DIRECT, ENVIRONMENT));

  /** The names of all passes. */
  static final Set<String> CATALOGUE =
      Arrays.stream(values()).map(Pass::label).collect(Collectors.toUnmodifiableSet());

  private final String label;
  private final String parts;
  private final Precision precision;
  private final Use use;
  private final boolean filtered;
  private final String holds;
  private final String units;
  private final String cost;

  Pass(String label, String holds) {
    this(
        label,
        "RGB",
        Precision.HALF,
        Use.ADDS,
        true,
        holds,
        "scene-linear radiance, as the beauty",
        "about 5 % of the frame's time for all light parts and groups together");
  }

  Pass(
      String label,
      String parts,
      Precision precision,
      Use use,
      boolean filtered,
      String holds,
      String units,
      String cost) {
    this.label = label;
    this.parts = parts;
    this.precision = precision;
    this.use = use;
    this.filtered = filtered;
    this.holds = holds;
    this.units = units;
    this.cost = cost;
  }

  public String label() {
    return label;
  }

  /** Returns true if it holds light or colours of surfaces, whose numbers hang on primaries. */
  public boolean color() {
    return use == Use.PICTURE || use == Use.ADDS || this == ALBEDO;
  }

  /** Returns true if it holds names and coverages by rank. */
  public boolean matte() {
    return use == Use.MATTE;
  }

  /**
   * Returns the names of its channels with these settings: all groups of lights, all ranks of a
   * matte, all passes of the user's own.
   */
  public List<String> channels(PassSettings s) {
    if (this == GUIDES) {
      return ChannelNames.guides();
    }
    return sets(s).stream().flatMap(set -> channels(set).stream()).toList();
  }

  /** Returns the names before the dot of its channels. */
  private List<String> sets(PassSettings s) {
    if (this == LIGHT_GROUPS) {
      return Stream.concat(s.lightGroups().keySet().stream(), Stream.of(ChannelNames.REST))
          .map(ChannelNames::ofLightGroup)
          .toList();
    }
    if (this == OWN) {
      return List.copyOf(s.own().keySet());
    }
    if (matte()) {
      return IntStream.range(0, s.matteRanks() / 2)
          .mapToObj(i -> String.format("%s%02d", label, i))
          .toList();
    }
    return List.of(label);
  }

  private List<String> channels(String set) {
    return parts
        .chars()
        .mapToObj(c -> this == BEAUTY ? "" + (char) c : set + "." + (char) c)
        .toList();
  }

  /**
   * Returns true if its values are means over a pixel's samples: those of two pictures can be
   * joined by how many samples they have.
   */
  public boolean mean() {
    return switch (this) {
      case NORMAL, NORMAL_CAMERA, DEPTH_FILTERED, SHADOW, GUIDES -> false;
      default -> filtered && !matte();
    };
  }

  /** Returns how many numbers a pixel has. */
  int size() {
    return parts.length();
  }

  public Precision precision() {
    return precision;
  }

  /** Returns how exactly one of its channels is kept: motion and distances need more. */
  public Precision precision(String channel) {
    return this == GUIDES ? ChannelNames.ofGuide(channel) : precision;
  }

  public Use use() {
    return use;
  }

  /** Returns true if it is the mean over the pixel's filter, false if it is taken at its centre. */
  public boolean filtered() {
    return filtered;
  }

  public String holds() {
    return holds;
  }

  public String units() {
    return units;
  }

  public String cost() {
    return cost;
  }

  /** Returns the names of all passes, comma-separated. */
  public static String names() {
    return Arrays.stream(values()).map(Pass::label).collect(Collectors.joining(", "));
  }

  /** Returns the pass of this name; the error lists those that exist. */
  public static Pass named(String name) {
    for (Pass p : values()) {
      if (p.label.equals(name)) {
        return p;
      }
    }
    throw new IllegalArgumentException("there is no pass \"" + name + "\"; there are " + names());
  }
}
