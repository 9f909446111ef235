package posada.core.light;

import java.util.ArrayList;
import java.util.List;
import posada.core.geometry.Ray;
import posada.core.geometry.SphereBvh;
import posada.core.geometry.Vec3;

/**
 * All lights of a stage. For a point first a group is chosen (the near lights together, each
 * directional light, the environment), then one of the near lights by a {@link LightTree}.
 * Immutable.
 */
public final class LightSet {
  /** Nodes of a cut where light is only passed on: a finer one costs more than it gains. */
  private static final int COARSE_CUT = 5;

  /** Least share of the choices for a group that may give light: guesses know no shadows. */
  private static final float LEAST_SHARE = 0.1f;

  /** Room for rounding at the border of a spot's cone, radians. */
  private static final double SPOT_EDGE = 0.02;

  private final PunctualLight[] near;
  private final PunctualLight[] far;
  private final EmissiveTriangles triangles;
  private final EnvironmentLight environmentLight;
  private final Portals portals;
  private final LightTree tree;

  /** Shapes of the near lights that have one, and which those are; null if there are none. */
  private final SphereBvh spheres;

  private final int[] sphereAt;

  /** What is known at a point about how lights are chosen there: scratch of one thread. */
  public final class Choice {
    private final float[] odds = new float[far.length + 2];
    private final LightTree.Cut cut = new LightTree.Cut();
    private final float[] one = new float[1];
    private final float[] scratch = new float[3];
    private final Portals.From panes = portals.new From();
    private float x, y, z, nx, ny, nz;

    /** Returns whether there are window panes that directions may be chosen through. */
    public boolean hasPanes() {
      return panes.share > 0;
    }

    /** Chooses a direction through a pane by two numbers in [0, 1). */
    public void paneDirection(float u, float v, float[] out) {
      panes.sample(u, v);
      out[0] = panes.dx;
      out[1] = panes.dy;
      out[2] = panes.dz;
    }

    /** Returns the density per steradian with which panes choose a unit direction. */
    public float paneDensity(float dx, float dy, float dz) {
      return panes.density(dx, dy, dz);
    }

    /** False if no light can reach the point. */
    private boolean any;

    /**
     * Looks at the lights from a point; a normal of 0 counts light from both sides.
     *
     * @param seen true if the camera sees the point: lights are then told apart more finely
     */
    public void at(float x, float y, float z, float nx, float ny, float nz, boolean seen) {
      this.x = x;
      this.y = y;
      this.z = z;
      this.nx = nx;
      this.ny = ny;
      this.nz = nz;
      tree.cut(x, y, z, nx, ny, nz, seen ? LightTree.CUT : COARSE_CUT, cut);
      float sum = odds[0] = cut.sum;
      for (int i = 0; i < far.length; i++) {
        PunctualLight l = far[i];
        boolean hidden =
            (nx != 0 || ny != 0 || nz != 0)
                && -(l.ax * nx + l.ay * ny + l.az * nz) < -l.size - 1e-3f;
        sum += odds[i + 1] = hidden ? 0 : l.power();
      }
      sum += odds[far.length + 1] = environmentLight.importance();
      any = sum > 0;
      if (!any) {
        return;
      }
      panes.at(x, y, z, nx, ny, nz);
      float all = 0;
      for (int i = 0; i < odds.length; i++) {
        odds[i] = odds[i] > 0 ? Math.max(LEAST_SHARE, odds[i] / sum) : 0;
        all += odds[i];
      }
      for (int i = 0; i < odds.length; i++) {
        odds[i] /= all;
      }
    }

    /** Takes over what another choice knows. */
    public void copy(Choice o) {
      System.arraycopy(o.odds, 0, odds, 0, odds.length);
      cut.copy(o.cut);
      panes.copy(o.panes);
      x = o.x;
      y = o.y;
      z = o.z;
      nx = o.nx;
      ny = o.ny;
      nz = o.nz;
      any = o.any;
    }

    /**
     * Chooses a direction to a light.
     *
     * @param w chooses the light; u and v a point on it; all in [0, 1)
     * @param time part of the shutter's opening, 0 .. 1
     * @return false if nothing comes from there
     */
    public boolean sample(float w, float u, float v, float time, LightSample s) {
      if (!any) {
        return false;
      }
      float at = w;
      int group = 0;
      while (group < odds.length - 1 && at >= odds[group]) {
        at -= odds[group++];
      }
      if (!(odds[group] > 0)) {
        return false;
      }
      at = Math.min(0.9999999f, Math.max(0, at / odds[group]));
      float chosen = odds[group];
      if (group == 0) {
        int i = tree.choose(cut, x, y, z, nx, ny, nz, at, one);
        if (i < 0) {
          return false;
        }
        chosen *= one[0];
        s.node = i < near.length ? near[i].node : 0;
        boolean there =
            i < near.length
                ? near[i].sample(x, y, z, u, v, s)
                : triangles.sample(i - near.length, x, y, z, time, u, v, s);
        if (!there) {
          return false;
        }
      } else if (group <= far.length) {
        s.node = far[group - 1].node;
        if (!far[group - 1].sample(x, y, z, u, v, s)) {
          return false;
        }
      } else if (!infinite(u, v, s)) {
        return false;
      }
      s.chosen(chosen);
      return true;
    }

    private boolean infinite(float u, float v, LightSample s) {
      if (u < panes.share) {
        panes.sample(u / panes.share, v);
        s.x = panes.dx;
        s.y = panes.dy;
        s.z = panes.dz;
      } else {
        float rest = Math.min(0.9999999f, (u - panes.share) / (1 - panes.share));
        environmentLight.sample(rest, v, s.scratch);
        s.x = s.scratch[0];
        s.y = s.scratch[1];
        s.z = s.scratch[2];
      }
      s.density = outwards(s.x, s.y, s.z);
      if (!(s.density > 0)) {
        return false;
      }
      s.triangle = -1;
      s.node = LightSample.ENVIRONMENT;
      s.distance = Float.POSITIVE_INFINITY;
      environmentLight.radiance(s.x, s.y, s.z, s.scratch);
      s.r = s.scratch[0] / s.density;
      s.g = s.scratch[1] / s.density;
      s.b = s.scratch[2] / s.density;
      return true;
    }

    /** Returns the density per steradian of choosing a direction into the environment. */
    public float environmentLight(float dx, float dy, float dz) {
      return any ? odds[odds.length - 1] * outwards(dx, dy, dz) : 0;
    }

    /** Density of a direction once the environment is chosen. */
    private float outwards(float dx, float dy, float dz) {
      float all = environmentLight.density(dx, dy, dz);
      return panes.share > 0
          ? (1 - panes.share) * all + panes.share * panes.density(dx, dy, dz)
          : all;
    }

    /**
     * Returns the density per steradian of choosing a point of an emissive triangle.
     *
     * @param distance to it, metres
     * @param cos between direction and the triangle's normal
     */
    public float triangle(int i, float time, float distance, float cos) {
      if (!any || !(odds[0] > 0)) {
        return 0;
      }
      return odds[0]
          * tree.odds(cut, near.length + i, x, y, z, nx, ny, nz)
          * triangles.density(i, time, distance, cos, scratch);
    }

    /**
     * Stores the radiance of a near light's shape that a ray passes.
     *
     * @return density per steradian of choosing that direction
     */
    public float near(int i, float[] rgb) {
      float d = near[i].seen(x, y, z, rgb);
      return any ? d * odds[0] * tree.odds(cut, i, x, y, z, nx, ny, nz) : 0;
    }

    /** Likewise for a directional light's disc. */
    public float far(int i, float[] rgb) {
      float d = far[i].seen(x, y, z, rgb);
      return any ? d * odds[i + 1] : 0;
    }
  }

  public LightSet(
      List<PunctualLight> punctual,
      EmissiveTriangles triangles,
      EnvironmentLight environmentLight,
      Portals portals) {
    List<PunctualLight> n = new ArrayList<>();
    List<PunctualLight> f = new ArrayList<>();
    punctual.forEach(l -> (l.directional() ? f : n).add(l));
    float[] sun = environmentLight.sunIrradiance();
    if (Luminance.of(sun) > 0) {
      Vec3 towards = environmentLight.day().sun();
      f.add(PunctualLight.sun(towards, sun, Math.toRadians(ClearSky.SUN_RADIUS)));
    }
    near = n.toArray(new PunctualLight[0]);
    far = f.toArray(new PunctualLight[0]);
    this.triangles = triangles;
    this.environmentLight = environmentLight;
    this.portals = portals;
    float[] own = LightTreeBuilder.room(near.length + triangles.count());
    for (int i = 0; i < near.length; i++) {
      describe(near[i], own, i);
    }
    for (int i = 0; i < triangles.count(); i++) {
      describe(i, own, near.length + i);
    }
    tree = new LightTree(new LightTreeBuilder(own), this::guess);
    sphereAt =
        java.util.stream.IntStream.range(0, near.length).filter(i -> near[i].hasShape()).toArray();
    spheres = sphereAt.length == 0 ? null : new SphereBvh(shapes());
  }

  private float guess(int i, float x, float y, float z, float nx, float ny, float nz) {
    return i < near.length
        ? near[i].guess(x, y, z, nx, ny, nz)
        : triangles.guess(i - near.length, x, y, z, nx, ny, nz);
  }

  private float[] shapes() {
    float[] s = new float[sphereAt.length * 4];
    for (int k = 0; k < sphereAt.length; k++) {
      PunctualLight l = near[sphereAt[k]];
      s[k * 4] = l.px;
      s[k * 4 + 1] = l.py;
      s[k * 4 + 2] = l.pz;
      s[k * 4 + 3] = l.size;
    }
    return s;
  }

  private static void describe(PunctualLight l, float[] own, int at) {
    float[] min = {l.px - l.size, l.py - l.size, l.pz - l.size};
    float[] max = {l.px + l.size, l.py + l.size, l.pz + l.size};
    float[] axis = {l.ax, l.ay, l.az};
    // A spot shines evenly inside its cone: normals fill the cone, next to nothing goes further
    // out.
    double edge = l.spot() ? SPOT_EDGE : 0.5 * Math.PI;
    double angle = l.spot() ? l.outer : Math.PI;
    LightTreeBuilder.describe(own, at, min, max, axis, angle, edge, l.power(), false);
  }

  private void describe(int i, float[] own, int at) {
    float[] min = new float[3];
    float[] max = new float[3];
    for (int k = 0; k < 3; k++) {
      min[k] = Float.POSITIVE_INFINITY;
      max[k] = Float.NEGATIVE_INFINITY;
      for (int t = 0; t < 2; t++) {
        float a = triangles.at(i, k, t);
        float b = a + triangles.at(i, 3 + k, t), c = a + triangles.at(i, 6 + k, t);
        min[k] = Math.min(min[k], Math.min(a, Math.min(b, c)));
        max[k] = Math.max(max[k], Math.max(a, Math.max(b, c)));
      }
    }
    float[] axis = new float[3];
    float area = triangles.normal(i, 0.5f, axis);
    for (int k = 0; k < 3; k++) {
      axis[k] = area > 0 ? axis[k] / (2 * area) : k == 1 ? 1 : 0;
    }
    LightTreeBuilder.describe(
        own,
        at,
        min,
        max,
        axis,
        triangles.turn(i),
        0.5 * Math.PI,
        triangles.power(i, new float[3]),
        triangles.twoSided(i));
  }

  public EnvironmentLight environmentLight() {
    return environmentLight;
  }

  public EmissiveTriangles triangles() {
    return triangles;
  }

  public Choice choice() {
    return new Choice();
  }

  /** Returns how many lights have an infinitely far disc that rays may meet, or none at all. */
  public int farCount() {
    return far.length;
  }

  /** Returns true if a unit direction meets a directional light's disc. */
  public boolean farCovers(int i, float x, float y, float z) {
    return far[i].hasShape() && far[i].covers(x, y, z);
  }

  /** Returns the node of a directional light, or {@link PunctualLight#SUN}. */
  public int farNode(int i) {
    return far[i].node;
  }

  public int nearNode(int i) {
    return near[i].node;
  }

  public boolean farSeen(int i) {
    return far[i].cameraSees();
  }

  public boolean nearSeen(int i) {
    return near[i].cameraSees();
  }

  /** Returns true if there are near lights whose shape rays may meet. */
  public boolean hasShapes() {
    return spheres != null;
  }

  /** Stores in the ray the near lights whose shape it passes before its end. */
  public void pass(Ray r) {
    spheres.pass(r);
    for (int k = 0; k < r.sphereCount; k++) {
      r.spheres[k] = sphereAt[r.spheres[k]];
    }
  }

  /** Returns the bytes that lights and their tables take. */
  public long bytes() {
    return tree.bytes()
        + triangles.bytes()
        + environmentLight.bytes()
        + (spheres == null ? 0 : spheres.bytes());
  }
}
