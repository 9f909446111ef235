package posada.core.trace.film;

import java.util.Arrays;
import posada.core.material.Surface;
import posada.core.material.SurfaceValues;

/**
 * Where the light of one sample went at the first surface, and which group of lights it came from.
 * Scratch of one worker thread.
 */
public final class LightParts {
  /** Where each lobe of a surface puts direct light, and where indirect light. */
  private static final int[] DIRECT = {0, 2, 4, 6, 7};

  private static final int[] INDIRECT = {1, 3, 5, 6, 7};
  private static final int EMISSION = 8;
  private static final int ENVIRONMENT = 9;
  private static final int LOBES = DIRECT.length;

  /** Red, green and blue of each light part, in the order of the catalogue. */
  final float[] sums = new float[3 * (ENVIRONMENT + 1)];

  /** Red, green and blue of each group. */
  final float[] groups;

  /** Colour of the first surface for evenly scattered light. */
  final float[] tint = new float[3];

  /** Likewise for what it mirrors or lets pass. */
  final float[] mirrorTint = new float[3];

  /** Light that came along the branch that is being followed: direct and indirect. */
  private final float[] branch = new float[6];

  /** Which part of it each lobe of the first surface sent there: of direct and indirect light. */
  private final float[] shares = new float[3 * LOBES], indirect = new float[3 * LOBES];

  public LightParts(int groups) {
    this.groups = new float[3 * groups];
  }

  public void begin() {
    Arrays.fill(sums, 0);
    Arrays.fill(groups, 0);
    Arrays.fill(branch, 0);
    Arrays.fill(tint, 0);
    Arrays.fill(mirrorTint, 0);
  }

  /** Remembers the colours of the first surface. */
  public void tint(SurfaceValues v) {
    float opaque = (1 - v.metallic) * (1 - v.transmission);
    for (int k = 0; k < 3; k++) {
      tint[k] = v.base[k] * opaque;
      mirrorTint[k] = v.base[k] * (1 - opaque) + v.f0[k] * opaque;
    }
  }

  /**
   * Goes on with a ray that the first surface has scattered.
   *
   * @param baked true if indirect light that is scattered evenly does not come this way
   * @param full true if direct light does not either
   */
  public void branch(Surface s, boolean baked, boolean full) {
    end();
    share(s, shares, full);
    share(s, indirect, baked);
  }

  private static void share(Surface s, float[] shares, boolean baked) {
    for (int k = 0; k < 3; k++) {
      float all = baked ? s.sum(k) - s.out[0][k] : s.sum(k);
      for (int l = 0; l < LOBES; l++) {
        shares[3 * l + k] = all > 0 && (l > 0 || !baked) ? s.out[l][k] / all : 0;
      }
    }
  }

  /** Puts what the branch has found where it belongs. */
  public void end() {
    for (int l = 0; l < LOBES; l++) {
      for (int k = 0; k < 3; k++) {
        sums[3 * DIRECT[l] + k] += shares[3 * l + k] * branch[k];
        sums[3 * INDIRECT[l] + k] += indirect[3 * l + k] * branch[3 + k];
      }
    }
    Arrays.fill(branch, 0);
  }

  /** Light that the camera sees without any scattering. */
  public void seen(boolean emitted, int group, float r, float g, float b) {
    add(sums, 3 * (emitted ? EMISSION : ENVIRONMENT), r, g, b);
    add(groups, 3 * group, r, g, b);
  }

  /** Light that came along the branch. */
  public void followed(boolean direct, int group, float r, float g, float b) {
    add(branch, direct ? 0 : 3, r, g, b);
    add(groups, 3 * group, r, g, b);
  }

  /** Returns the group of what no other one names. */
  public int rest() {
    return groups.length / 3 - 1;
  }

  /** Light that other surfaces have sent to the first one, which scatters it evenly. */
  public void baked(float r, float g, float b) {
    add(sums, 3 * INDIRECT[0], r, g, b);
  }

  /**
   * Light that a lamp sends to the first surface.
   *
   * @param s as it scatters there; null for evenly scattered light
   */
  public void lit(Surface s, int group, float r, float g, float b) {
    add(groups, 3 * group, r, g, b);
    if (s == null) {
      add(sums, 3 * DIRECT[0], r, g, b);
      return;
    }
    float x = part(r, s.sum(0)), y = part(g, s.sum(1)), z = part(b, s.sum(2));
    for (int l = 0; l < LOBES; l++) {
      float[] out = s.out[l];
      add(sums, 3 * DIRECT[l], out[0] * x, out[1] * y, out[2] * z);
    }
  }

  private static float part(float light, float all) {
    return all > 0 ? light / all : 0;
  }

  private static void add(float[] to, int at, float r, float g, float b) {
    to[at] += r;
    to[at + 1] += g;
    to[at + 2] += b;
  }
}
