package posada.core.trace.path;

import posada.core.material.Scatter;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/**
 * One ray that baking leads itself: to a surface that the camera sees, over mirrors to others, and
 * from one of them into chosen directions. Scratch of one worker thread.
 */
public final class Probe {
  private final PathTracer tracer;
  private final Path start = new Path(0, null);

  /**
   * @param diffuseBounces most scatterings that a surface may send on evenly: what paths with as
   *     many find is summed apart
   */
  public Probe(PathTracer tracer, int diffuseBounces) {
    this.tracer = tracer;
    tracer.path.watchDeepest(diffuseBounces);
  }

  /** Begins at the camera, through a pixel's centre, with the numbers of one sample. */
  public void aim(View view, int x, int y, int sample, int seed) {
    tracer.sampler.pixel(x, y, RenderSettings.MOST_SAMPLES, seed);
    tracer.sampler.start(sample);
    view.aim(x + 0.5f, y + 0.5f, 0, 0, 0.5f, tracer.place, tracer.ray);
    tracer.path.begin(1, view.footprint(0), view.spread());
  }

  /** Goes on to a surface that light may be scattered at; returns false if there is none. */
  public boolean meet() {
    return tracer.segments.meet(tracer.first)
        && tracer.prepare(tracer.first)
        && !tracer.first.point.instance.catcher;
  }

  /** Leaves the surface by its mirroring parts; returns false if it scattered evenly, or ended. */
  public boolean mirror() {
    return tracer.scatter(tracer.first) && tracer.path.diffuse == 0;
  }

  /** Leaves the surface into a direction of unit length. */
  public void leave(float[] way) {
    tracer.first.point.leave(tracer.ray, way[0], way[1], way[2], Float.POSITIVE_INFINITY);
  }

  /** Returns the surface that it is at; it changes as the ray goes on. */
  public SurfacePoint point() {
    return tracer.first.point;
  }

  /** Returns the numbers that decide by chance. */
  public SobolSampler sampler() {
    return tracer.sampler;
  }

  public boolean scattersEvenly() {
    return tracer.first.surface.scattersEvenly();
  }

  /** Returns the part of red, green or blue that the surface scatters evenly. */
  public float evenly(int channel) {
    return tracer.first.surface.evenly(channel);
  }

  /** Returns the part of the light that enters the surface from a direction. */
  public float entering(float cos) {
    return tracer.first.surface.entering(cos);
  }

  /** Returns the width of a pixel here, metres. */
  public float width() {
    return tracer.path.width;
  }

  public void setWidth(float metres) {
    tracer.path.width = metres;
  }

  /** Returns true if there are window panes to look through. */
  public boolean hasPanes() {
    return tracer.first.choice.hasPanes();
  }

  /** Chooses a direction through a window pane by two numbers of 0 .. 1. */
  public void paneDirection(float u, float v, float[] way) {
    tracer.first.choice.paneDirection(u, v, way);
  }

  /** Returns the density of such directions, per steradian. */
  public float paneDensity(float dx, float dy, float dz) {
    return tracer.first.choice.paneDensity(dx, dy, dz);
  }

  /** Keeps the path as it is here, for {@link #follow}. */
  public void keep() {
    start.branch(tracer.path);
  }

  /**
   * Follows a path from the surface, as it was kept, and hears the light that comes along it.
   *
   * @param shade what the surface counts the light for, above 0
   * @param bounces it counts as: what is found is that many scatterings short
   * @param density of the direction, per steradian
   * @param straight becomes the light that is given off by what the ray meets first
   * @return one over the distance to what it meets, 1/metres; 0 if it is nothing
   */
  public float follow(float[] way, float shade, int bounces, float density, float[] straight) {
    Path path = tracer.path;
    path.branch(start);
    path.width = 0;
    path.forget();
    path.tr = path.tg = path.tb = shade;
    path.count(Scatter.DIFFUSE, 1);
    path.diffuse += bounces;
    path.receives &= tracer.first.point.instance.receives;
    tracer.ray.time = 0.5f;
    leave(way);
    return tracer.walkUnlit(density, straight);
  }

  /** Returns what {@link #follow} found but for the light given off straight. */
  public float light(int channel) {
    Path path = tracer.path;
    return channel == 0 ? path.lr : channel == 1 ? path.lg : path.lb;
  }

  /** Returns what of it paths with the most scatterings found, luminance. */
  public float deep() {
    return tracer.path.deep;
  }

  /**
   * Chooses a light and finds what comes from it straight.
   *
   * @param sample whose numbers choose it
   * @param way becomes the direction to it
   * @param radiance becomes its light over the density that chose it
   * @return false if none comes
   */
  public boolean lit(int sample, float[] way, float[] radiance) {
    tracer.sampler.start(sample);
    tracer.ray.time = 0.5f;
    return tracer.direct.arriving(tracer.first, way, radiance);
  }

  /** Returns the weight of the light chosen last, beside paths of a density. */
  public float weight(float density) {
    return tracer.direct.weight(density);
  }
}
