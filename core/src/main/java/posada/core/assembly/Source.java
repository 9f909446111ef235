package posada.core.assembly;

import java.util.List;

/**
 * Where an input comes from.
 *
 * @param footage of {@code FOOTAGE}: {@code shot-3.layer-7} for the newest version of a strand,
 *     {@code strand-12} for one version, {@code sequence-3} for one from elsewhere; else null
 * @param pass of it, such as {@code beauty}
 * @param still the one frame that is shown at all times; null for all frames
 * @param colour scene-linear red, green, blue and straight alpha, of a solid and of the beginning
 *     of a gradient
 * @param second of the end of a gradient
 * @param angle of a gradient in degrees: 0 from left to right, 90 from top to bottom
 */
public record Source(
    Kind kind,
    String footage,
    String pass,
    Integer still,
    List<Float> colour,
    List<Float> second,
    double angle) {
  /** Kinds of inputs. */
  public enum Kind {
    FOOTAGE,
    SOLID,
    GRADIENT
  }

  private static final float MOST = 1e4f;

  public Source {
    if (kind == Kind.FOOTAGE && (footage == null || footage.isBlank())) {
      throw new IllegalArgumentException("footage must be named");
    }
    if (pass == null || pass.isBlank() || pass.length() > 200) {
      throw new IllegalArgumentException("a pass must be named, such as beauty");
    }
    colour = checked(colour);
    second = checked(second);
    if (!(Math.abs(angle) <= 3600)) {
      throw new IllegalArgumentException(
          "the angle must be -3600 .. 3600 degrees (got %s)".formatted(angle));
    }
  }

  private static List<Float> checked(List<Float> c) {
    boolean good = c != null && c.size() == 4;
    for (int i = 0; good && i < 4; i++) {
      good = c.get(i) != null && c.get(i) >= 0 && c.get(i) <= (i == 3 ? 1 : MOST);
    }
    if (!good) {
      throw new IllegalArgumentException(
          "a colour must be red, green, blue of 0 .. 10000 and alpha of 0 .. 1 (got " + c + ")");
    }
    return List.copyOf(c);
  }

  /** Returns a pass of footage. */
  public static Source of(String footage, String pass) {
    List<Float> white = List.of(1f, 1f, 1f, 1f);
    return new Source(Kind.FOOTAGE, footage, pass, null, white, white, 0);
  }

  /** Returns one colour everywhere. */
  public static Source solid(float r, float g, float b, float a) {
    List<Float> c = List.of(r, g, b, a);
    return new Source(Kind.SOLID, null, "beauty", null, c, c, 0);
  }

  /** Returns the picture of a solid or a gradient. */
  Picture drawn(int w, int h) {
    Picture p = new Picture(w, h);
    double dx = Math.cos(Math.toRadians(angle)), dy = Math.sin(Math.toRadians(angle));
    double half = (Math.abs(dx) * w + Math.abs(dy) * h) / 2;
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        double along = (x + 0.5 - w / 2.0) * dx + (y + 0.5 - h / 2.0) * dy;
        float f = kind == Kind.SOLID ? 0 : (float) (0.5 + along / (2 * half));
        float a = colour.get(3) + f * (second.get(3) - colour.get(3));
        int i = y * w + x;
        for (int j = 0; j < 3; j++) {
          p.c()[j][i] = a * (colour.get(j) + f * (second.get(j) - colour.get(j)));
        }
        p.c()[3][i] = a;
      }
    }
    return p;
  }
}
