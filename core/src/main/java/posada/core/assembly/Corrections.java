package posada.core.assembly;

import java.util.List;
import posada.core.scene.Track;
import posada.core.settings.Limits;

/**
 * What is changed about an input before it is put onto what is below it, in this order. Numbers may
 * have keys. Lengths are in pixels of the stack's full size.
 *
 * @param exposure stops, -16 .. 16
 * @param gain factors, 0 .. 100
 * @param offset added to straight colour, -10 .. 10
 * @param gamma straight colour is raised to 1 / gamma, 0.1 .. 10
 * @param levels what becomes 0 and what becomes 1
 * @param saturation 0 grey .. 1 as it is .. 4
 * @param tint luminance in a colour, mixed in
 * @param denoise how much of the noise is taken out, 0 .. 1
 * @param blur standard deviation of a Gaussian, 0 .. 500
 * @param glow of what is bright
 * @param defocus by the depth of the same footage; null for none
 * @param motionBlur share of a frame's motion along which pixels are spread, 0 .. 4; by the motion
 *     vectors of the same footage
 * @param wrap light of what is below on the edges
 * @param vignette by how much the corners are darkened, 0 .. 1
 * @param flip mirrored
 * @param crop shares that are cut off at the edges
 * @param move where it is put
 * @param time which of its frames is shown when
 */
public record Corrections(
    Track exposure,
    Colour gain,
    Colour offset,
    Track gamma,
    Levels levels,
    Track saturation,
    Tint tint,
    Track denoise,
    Track blur,
    Halo glow,
    Defocus defocus,
    Track motionBlur,
    Wrap wrap,
    Track vignette,
    Flip flip,
    Edges crop,
    Move move,
    When time) {
  private static final Track ZERO = Track.of(0), ONE = Track.of(1);

  /** Nothing is changed. */
  public static final Corrections NONE =
      new Corrections(
          ZERO,
          Colour.ONE,
          Colour.ZERO,
          ONE,
          Levels.NONE,
          ONE,
          Tint.NONE,
          ZERO,
          ZERO,
          Halo.NONE,
          null,
          ZERO,
          Wrap.NONE,
          ZERO,
          Flip.NONE,
          Edges.NONE,
          Move.NONE,
          When.NONE);

  public Corrections {
    exposure.within("exposure", -16, 16);
    gain.within("gain", 0, 100);
    offset.within("offset", -10, 10);
    gamma.within("gamma", 0.1, 10);
    saturation.within("saturation", 0, 4);
    denoise.within("denoise", 0, 1);
    blur.within("blur", 0, 500);
    motionBlur.within("motion blur", 0, 4);
    vignette.within("vignette", 0, 1);
  }

  /** Returns the same with another blur. */
  public Corrections blurred(double sigma) {
    return with(Track.of(sigma), glow, defocus, motionBlur, move, flip);
  }

  /** Returns the same with another glow. */
  public Corrections glowing(Halo other) {
    return with(blur, other, defocus, motionBlur, move, flip);
  }

  /** Returns the same spread by depth, null for not, and by a share of a frame's motion. */
  public Corrections spread(Defocus d, double motion) {
    return with(blur, glow, d, Track.of(motion), move, flip);
  }

  /** Returns the same put elsewhere. */
  public Corrections put(Move m, Flip f) {
    return with(blur, glow, defocus, motionBlur, m, f);
  }

  private Corrections with(
      Track newBlur, Halo newGlow, Defocus newDefocus, Track motion, Move newMove, Flip newFlip) {
    return new Corrections(
        exposure,
        gain,
        offset,
        gamma,
        levels,
        saturation,
        tint,
        denoise,
        newBlur,
        newGlow,
        newDefocus,
        motion,
        wrap,
        vignette,
        newFlip,
        crop,
        newMove,
        time);
  }

  /** Three numbers over time. */
  public record Colour(Track red, Track green, Track blue) {
    public static final Colour ONE = new Colour(Corrections.ONE, Corrections.ONE, Corrections.ONE);
    public static final Colour ZERO =
        new Colour(Corrections.ZERO, Corrections.ZERO, Corrections.ZERO);

    private void within(String what, double least, double most) {
      red.within(what + " of red", least, most);
      green.within(what + " of green", least, most);
      blue.within(what + " of blue", least, most);
    }

    float[] at(double t) {
      return new float[] {(float) red.at(t), (float) green.at(t), (float) blue.at(t)};
    }
  }

  /** What becomes black and white: <i>(C - black) / (white - black)</i>. */
  public record Levels(Track black, Track white) {
    public static final Levels NONE = new Levels(ZERO, ONE);

    public Levels {
      black.within("black level", -10, 10);
      white.within("white level", -10, 100);
      if (!(white.least() > black.most())) {
        throw new IllegalArgumentException(
            "the white level must be above the black level (got %s below %s)"
                .formatted(white.least(), black.most()));
      }
    }
  }

  /**
   * Luminance in a colour.
   *
   * @param colour red, green, blue, 0 .. 100
   * @param amount 0 as it is .. 1
   */
  public record Tint(Colour colour, Track amount) {
    public static final Tint NONE = new Tint(Colour.ONE, ZERO);

    public Tint {
      colour.within("tint", 0, 100);
      amount.within("amount of tint", 0, 1);
    }
  }

  /**
   * Light that what is bright throws around it.
   *
   * @param threshold light from which it glows, 0 .. 1000
   * @param rings blurs that are added
   * @param alone true to leave out what glows itself
   */
  public record Halo(Track threshold, List<Ring> rings, boolean alone) {
    /** Most rings. */
    private static final int MOST = 8;

    public static final Halo NONE = new Halo(ZERO, List.of(), false);

    public Halo {
      threshold.within("threshold of glow", 0, 1000);
      rings = List.copyOf(rings);
      Limits.whole("rings of glow", rings.size(), 0, MOST);
    }
  }

  /**
   * A blur of what glows.
   *
   * @param radius standard deviation, pixels, 0 .. 500
   * @param strength 0 .. 100
   */
  public record Ring(Track radius, Track strength) {
    public Ring {
      radius.within("radius of glow", 0, 500);
      strength.within("strength of glow", 0, 100);
    }
  }

  /**
   * Blur by depth: the circle of confusion of a thin lens is <i>f² |d - s| / (N d (s - f))</i>.
   *
   * @param fStop N, 0.1 .. 1000
   * @param focus distance s in metres
   * @param focalLength f in millimetres
   * @param filmWidth of the film back in millimetres
   */
  public record Defocus(Track fStop, Track focus, double focalLength, double filmWidth) {
    public static final Defocus USUAL = new Defocus(Track.of(2.8), Track.of(10), 50, 36);

    public Defocus {
      fStop.within("f-stop", 0.1, 1000);
      focus.within("focus distance", 0.05, 1e6);
      Limits.within("focal length", focalLength, 1, 10_000);
      Limits.within("film back width", filmWidth, 1, 1000);
      if (!(focus.least() * 1000 > focalLength)) {
        throw new IllegalArgumentException(
            "the focus distance must be longer than the focal length of %s mm (got %s m)"
                .formatted(focalLength, focus.least()));
      }
    }

    /**
     * Returns the diameter of the circle of confusion.
     *
     * @param depth metres; may be infinite
     * @param width of the picture, pixels
     * @param t seconds
     * @return pixels; below 0 for what is nearer than the focus
     */
    public double circle(double depth, int width, double t) {
      double f = focalLength / 1000, s = focus.at(t);
      double share = Double.isInfinite(depth) ? 1 : (depth - s) / depth;
      return f * f * share / (fStop.at(t) * (s - f)) / (filmWidth / 1000) * width;
    }
  }

  /**
   * Light of what is below, on the edges of what is above.
   *
   * @param radius pixels, 0 .. 500
   * @param strength 0 .. 4
   */
  public record Wrap(Track radius, Track strength) {
    public static final Wrap NONE = new Wrap(Track.of(12), ZERO);

    public Wrap {
      radius.within("radius of light wrap", 0, 500);
      strength.within("strength of light wrap", 0, 4);
    }
  }

  /** Mirrored. */
  public record Flip(boolean across, boolean down) {
    public static final Flip NONE = new Flip(false, false);
  }

  /** Shares of the width and height that are cut off, 0 .. 1. */
  public record Edges(Track left, Track top, Track right, Track bottom) {
    public static final Edges NONE = new Edges(ZERO, ZERO, ZERO, ZERO);

    public Edges {
      left.within("crop at the left", 0, 1);
      top.within("crop at the top", 0, 1);
      right.within("crop at the right", 0, 1);
      bottom.within("crop at the bottom", 0, 1);
    }
  }

  /**
   * Where it is put.
   *
   * @param x pixels to the right, -32768 .. 32768
   * @param y pixels down, likewise
   * @param scale about the middle, 0.01 .. 100
   */
  public record Move(Track x, Track y, Track scale) {
    public static final Move NONE = new Move(ZERO, ZERO, ONE);

    public Move {
      x.within("move to the right", -32768, 32768);
      y.within("move down", -32768, 32768);
      scale.within("scale", 0.01, 100);
    }
  }

  /**
   * When it is shown.
   *
   * @param shift frames of the stack by which it comes later
   * @param repeat what is shown before its first and after its last frame
   */
  public record When(int shift, Repeat repeat) {
    public static final When NONE = new When(0, Repeat.NOTHING);

    public When {
      Limits.whole("time shift", shift, -1_000_000, 1_000_000);
    }
  }

  /** What is shown where there are no frames. */
  public enum Repeat {
    NOTHING,
    /** The first or the last frame. */
    HOLD,
    /** All frames again from the first. */
    LOOP,
    /** All frames forward and back. */
    BOUNCE
  }
}
