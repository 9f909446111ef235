package posada.core.trace.path;

import posada.core.geometry.ShadingFrame;
import posada.core.light.LightSet;
import posada.core.material.Surface;
import posada.core.trace.stage.SurfacePoint;

/** A surface on a path, with what is known about lights there. Scratch of one worker thread. */
final class Vertex {
  /** True if what other surfaces send to its evenly scattering part is known already. */
  boolean baked;

  /** True if what lights send there straight is known, too. */
  boolean full;

  /** Part of the rays that are scattered through window panes. */
  float guided;

  final SurfacePoint point = new SurfacePoint();
  final ShadingFrame frame = new ShadingFrame();
  final Surface surface = new Surface();
  final Surface.Allowed allowed = new Surface.Allowed();
  final LightSet.Choice choice;

  Vertex(LightSet lights) {
    choice = lights.choice();
  }

  /** Returns the density with which rays leave in the direction evaluated last. */
  float density(float dx, float dy, float dz) {
    float d = surface.density;
    if (guided > 0) {
      d += guided * (choice.paneDensity(dx, dy, dz) - d);
    }
    return surface.rays * d;
  }

  /** Returns true if the surface receives light of a group. */
  boolean receives(int group) {
    return (point.instance.receives >> group & 1) != 0;
  }
}
