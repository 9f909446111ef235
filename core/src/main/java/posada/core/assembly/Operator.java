package posada.core.assembly;

import posada.core.parallel.Workers;

/**
 * How a picture is put onto what is below it. With <i>c</i> premultiplied colour, <i>C = c / a</i>
 * straight colour, <i>a</i> alpha, <i>b</i> below and <i>s</i> above. A picture without alpha of
 * its own acts on what is below it, whose alpha stays (the lowest gets that of its frame's beauty);
 * over and under take it as opaque.
 *
 * <p>Sources: T. Porter and T. Duff, "Compositing digital images" (1984) for over and under; W3C,
 * "Compositing and Blending Level 1", sections 9 and 10, for the blend formulas. Those are made for
 * values 0 .. 1: what the lower value has beyond that is added to their result.
 */
public enum Operator {
  OVER("over", Family.COVER, "c = cs + (1 - as) cb"),
  UNDER("under", Family.COVER, "c = cb + (1 - ab) cs"),
  ADD("add", Family.PLAIN, "c = cb + cs"),
  SUBTRACT("subtract", Family.PLAIN, "c = cb - cs"),
  MULTIPLY("multiply", Family.PLAIN, "B = Cb Cs"),
  DIVIDE("divide", Family.PLAIN, "c = cb / Cs where it covers; 0 where Cs is 0"),
  SCREEN("screen", Family.PLAIN, "B = Cb + Cs - Cb Cs"),
  MINIMUM("minimum", Family.PLAIN, "c = min(cb, cs), alpha too"),
  MAXIMUM("maximum", Family.PLAIN, "c = max(cb, cs), alpha too"),
  OVERLAY("overlay", Family.BLEND, "B = hard light with above and below exchanged"),
  DARKEN("darken", Family.BLEND, "B = min(Cb, Cs)"),
  LIGHTEN("lighten", Family.BLEND, "B = max(Cb, Cs)"),
  DODGE("color dodge", Family.BLEND, "B = min(1, Cb / (1 - Cs))"),
  BURN("color burn", Family.BLEND, "B = 1 - min(1, (1 - Cb) / Cs)"),
  HARD_LIGHT(
      "hard light", Family.BLEND, "B = 2 Cb Cs up to Cs = 1/2, from there screen of Cb, 2 Cs - 1"),
  SOFT_LIGHT(
      "soft light",
      Family.BLEND,
      "B = Cb - (1 - 2 Cs) Cb (1 - Cb) up to Cs = 1/2, from there Cb + (2 Cs - 1) (D(Cb) - Cb)"),
  DIFFERENCE("difference", Family.BLEND, "B = |Cb - Cs|"),
  EXCLUSION("exclusion", Family.BLEND, "B = Cb + Cs - 2 Cb Cs"),
  LIGHTER_OR_DARKER(
      "lighter or darker",
      Family.BLEND,
      "B = min(Cb, 2 Cs) up to Cs = 1/2, from there max(Cb, 2 Cs - 1)"),
  HUE("hue", Family.WHOLE, "B = hue of Cs, saturation and luminosity of Cb"),
  SATURATION("saturation", Family.WHOLE, "B = saturation of Cs, hue and luminosity of Cb"),
  COLOR("color", Family.WHOLE, "B = hue and saturation of Cs, luminosity of Cb"),
  LUMINOSITY("luminosity", Family.WHOLE, "B = luminosity of Cs, hue and saturation of Cb");

  private enum Family {
    COVER,
    PLAIN,
    /** A formula for each channel. */
    BLEND,
    /** A formula for the three channels together. */
    WHOLE
  }

  private final String label;
  private final Family family;
  private final String formula;

  Operator(String label, Family family, String formula) {
    this.label = label;
    this.family = family;
    this.formula = formula;
  }

  public String label() {
    return label;
  }

  /** Returns what it computes; B is a blend formula, which stands in the blend equation. */
  public String formula() {
    return formula;
  }

  /** Returns true if a strength above 1 means something: light that is added or taken away. */
  public boolean beyondOne() {
    return this == ADD || this == SUBTRACT;
  }

  /** Returns true if a picture without alpha leaves that of what is below. */
  boolean leavesAlpha() {
    return family != Family.COVER;
  }

  /**
   * Puts a picture onto another, in place: <i>below + strength mask (result - below)</i>.
   *
   * @param alpha false if {@code above} has none of its own
   * @param strength 0 or more
   * @param mask 0 .. 1 for each pixel; null for 1 everywhere
   */
  public void apply(
      Picture below, Picture above, boolean alpha, float strength, float[] mask, Workers workers) {
    workers.ranges(
        below.pixels(), (from, to) -> part(below.c(), above.c(), alpha, strength, mask, from, to));
  }

  private void part(
      float[][] b, float[][] s, boolean alpha, float strength, float[] mask, int from, int to) {
    float[] x = new float[4], cb = new float[3], cs = new float[3], out = new float[3];
    for (int i = from; i < to; i++) {
      float k = mask == null ? strength : strength * mask[i];
      if (k == 0) {
        continue;
      }
      float ab = b[3][i], as = alpha ? s[3][i] : 1;
      switch (family) {
        case COVER -> cover(b, s, i, ab, as, x);
        case PLAIN -> plain(b, s, i, ab, as, alpha, x);
        default -> blend(b, s, i, ab, as, alpha, x, cb, cs, out);
      }
      for (int j = 0; j < 4; j++) {
        b[j][i] += k * (x[j] - b[j][i]);
      }
    }
  }

  private void cover(float[][] b, float[][] s, int i, float ab, float as, float[] x) {
    boolean over = this == OVER;
    float hidden = over ? 1 - as : 1 - ab;
    for (int j = 0; j < 3; j++) {
      x[j] = over ? s[j][i] + hidden * b[j][i] : b[j][i] + hidden * s[j][i];
    }
    x[3] = over ? as + hidden * ab : ab + hidden * as;
  }

  private void plain(
      float[][] b, float[][] s, int i, float ab, float as, boolean alpha, float[] x) {
    for (int j = 0; j < 3; j++) {
      float cb = b[j][i], cs = s[j][i];
      x[j] =
          switch (this) {
            case ADD -> cb + cs;
            case SUBTRACT -> cb - cs;
            case MULTIPLY -> alpha ? cs * (1 - ab) + cb * (1 - as) + cb * cs : cb * cs;
            case DIVIDE -> cs == 0 ? cb * (1 - as) : cb * (1 - as) + as * (cb / cs * as);
            case SCREEN -> cb + (alpha ? cs : cs * ab) - unit(cb) * unit(cs);
            case MINIMUM -> Math.min(cb, cs);
            default -> Math.max(cb, cs);
          };
    }
    x[3] =
        !alpha || this == SUBTRACT || this == DIVIDE
            ? ab
            : switch (this) {
              case ADD -> Math.max(ab, Math.min(1, ab + as));
              case MINIMUM -> Math.min(ab, as);
              case MAXIMUM -> Math.max(ab, as);
              default -> ab + as - ab * as;
            };
  }

  /** The blend equation: co = cs (1 - ab) + cb (1 - as) + as ab B(Cb, Cs). */
  private void blend(
      float[][] b,
      float[][] s,
      int i,
      float ab,
      float as,
      boolean alpha,
      float[] x,
      float[] cb,
      float[] cs,
      float[] out) {
    x[3] = alpha ? ab + as - ab * as : ab;
    if (ab <= 0 || as <= 0) {
      for (int j = 0; j < 3; j++) {
        x[j] = alpha ? s[j][i] * (1 - ab) + b[j][i] * (1 - as) : b[j][i];
      }
      return;
    }
    for (int j = 0; j < 3; j++) {
      cb[j] = b[j][i] / ab;
      cs[j] = s[j][i] / as;
    }
    if (family == Family.WHOLE) {
      Blend.whole(this, cb, cs, out);
    } else {
      for (int j = 0; j < 3; j++) {
        out[j] = Blend.each(this, cb[j], cs[j]);
      }
    }
    for (int j = 0; j < 3; j++) {
      x[j] = alpha ? s[j][i] * (1 - ab) + b[j][i] * (1 - as) + as * ab * out[j] : ab * out[j];
    }
  }

  private static float unit(float v) {
    return v <= 0 ? 0 : Math.min(1, v);
  }
}
