package posada.core.trace.path;

import posada.core.geometry.InstanceBvh;
import posada.core.light.LightSample;
import posada.core.light.LightSet;
import posada.core.trace.stage.Instance;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;

/**
 * A light that was chosen for a surface, and what of it arrives there. Scratch of one worker
 * thread.
 */
final class ChosenLight {
  private final Stage stage;
  private final LightSet lights;
  private final LightGroups groups;
  private final Shadow shadow;
  private final SurfacePoint other = new SurfacePoint();

  /** Direction to the light, and its radiance over the density with which it was chosen. */
  final LightSample sample = new LightSample();

  /** What surfaces between let through, and the light's own pattern: red, green, blue. */
  final float[] through;

  final float[] pattern = new float[3];

  /**
   * @param transparency most surfaces that light may pass
   */
  ChosenLight(Stage stage, InstanceBvh top, int transparency) {
    this.stage = stage;
    lights = stage.lights();
    groups = stage.groups();
    shadow = new Shadow(stage, top, transparency);
    through = shadow.through;
  }

  /** Chooses a light; returns false if there is none. */
  boolean choose(LightSet.Choice choice, SobolSampler sampler, float time) {
    sampler.next();
    float u1 = sampler.u, u2 = sampler.v;
    sampler.third();
    return choice.sample(sampler.u, u1, u2, time, sample);
  }

  /** Returns the group of the light. */
  int group() {
    return sample.triangle >= 0
        ? groups.of(stage.instances[lights.triangles().instance(sample.triangle)].node)
        : groups.ofLight(sample.node);
  }

  /** Stores the light's pattern: what a triangle gives off at the chosen point, or ones. */
  void look(float time) {
    int t = sample.triangle;
    if (t < 0) {
      pattern[0] = pattern[1] = pattern[2] = 1;
      return;
    }
    Instance in = stage.instances[lights.triangles().instance(t)];
    boolean mirrored = in.hand < 0;
    other.emissionAt(
        in,
        lights.triangles().primitive(t),
        lights.triangles().triangle(t),
        mirrored ? sample.v : sample.u,
        mirrored ? sample.u : sample.v,
        time);
    for (int k = 0; k < 3; k++) {
      pattern[k] = other.emission[k] * other.alpha;
    }
  }

  /**
   * Returns false if nothing of it reaches a surface; else stores what is let through.
   *
   * @param above true if it comes from above the surface
   */
  boolean reaches(SurfacePoint p, boolean above, float time) {
    return shadow.reaches(p, above, sample, time);
  }

  /** Returns how many rays were sent so far. */
  long rays() {
    return shadow.rays;
  }

  /** Returns true if only chosen lights come this way, and no scattered rays. */
  boolean alone() {
    return shadow.ignored;
  }
}
