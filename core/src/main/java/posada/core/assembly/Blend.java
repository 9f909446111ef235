package posada.core.assembly;

/**
 * Blend formulas for straight colours. Source: W3C, "Compositing and Blending Level 1", sections
 * 10.1 (separable) and 10.2 (non-separable).
 */
final class Blend {
  private Blend() {}

  /** Returns a channel by a formula that looks at each channel alone. */
  static float each(Operator o, float below, float above) {
    switch (o) {
      case DARKEN:
        return Math.min(below, above);
      case LIGHTEN:
        return Math.max(below, above);
      case DIFFERENCE:
        return Math.abs(below - above);
      default:
        float b = unit(below), s = unit(above);
        return inside(o, b, s) + below - b;
    }
  }

  private static float inside(Operator o, float b, float s) {
    return switch (o) {
      case OVERLAY -> hard(s, b);
      case DODGE -> b == 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s));
      case BURN -> b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s);
      case HARD_LIGHT -> hard(b, s);
      case SOFT_LIGHT -> soft(b, s);
      case EXCLUSION -> b + s - 2 * b * s;
      case LIGHTER_OR_DARKER -> s <= 0.5f ? Math.min(b, 2 * s) : Math.max(b, 2 * s - 1);
      default -> throw new IllegalArgumentException(o + " looks at all channels");
    };
  }

  private static float hard(float b, float s) {
    if (s <= 0.5f) {
      return b * 2 * s;
    }
    float t = 2 * s - 1;
    return b + t - b * t;
  }

  private static float soft(float b, float s) {
    if (s <= 0.5f) {
      return b - (1 - 2 * s) * b * (1 - b);
    }
    float d = b <= 0.25f ? ((16 * b - 12) * b + 4) * b : (float) Math.sqrt(b);
    return b + (2 * s - 1) * (d - b);
  }

  /** Computes a colour by a formula that looks at all three channels. */
  static void whole(Operator o, float[] below, float[] above, float[] out) {
    float[] b = {unit(below[0]), unit(below[1]), unit(below[2])};
    float[] s = {unit(above[0]), unit(above[1]), unit(above[2])};
    float[] r =
        switch (o) {
          case HUE -> light(saturated(s, range(b)), lum(b));
          case SATURATION -> light(saturated(b, range(s)), lum(b));
          case COLOR -> light(s, lum(b));
          default -> light(b, lum(s));
        };
    for (int j = 0; j < 3; j++) {
      out[j] = r[j] + below[j] - b[j];
    }
  }

  /** Lum of the standard. */
  private static float lum(float[] c) {
    return 0.3f * c[0] + 0.59f * c[1] + 0.11f * c[2];
  }

  /** Sat of the standard. */
  private static float range(float[] c) {
    return Math.max(c[0], Math.max(c[1], c[2])) - Math.min(c[0], Math.min(c[1], c[2]));
  }

  /** SetSat of the standard. */
  private static float[] saturated(float[] c, float range) {
    float least = Math.min(c[0], Math.min(c[1], c[2])), now = range(c);
    float[] out = new float[3];
    for (int j = 0; j < 3 && now > 0; j++) {
      out[j] = (c[j] - least) * range / now;
    }
    return out;
  }

  /** SetLum and ClipColor of the standard. */
  private static float[] light(float[] c, float lum) {
    float d = lum - lum(c);
    float[] out = {c[0] + d, c[1] + d, c[2] + d};
    float l = lum(out);
    float least = Math.min(out[0], Math.min(out[1], out[2]));
    float most = Math.max(out[0], Math.max(out[1], out[2]));
    for (int j = 0; j < 3; j++) {
      if (least < 0) {
        out[j] = l + (out[j] - l) * l / (l - least);
      }
    }
    for (int j = 0; j < 3; j++) {
      if (most > 1) {
        out[j] = l + (out[j] - l) * (1 - l) / (most - l);
      }
    }
    return out;
  }

  private static float unit(float v) {
    return v <= 0 ? 0 : Math.min(1, v);
  }
}
