package posada.core.trace.preview;

import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.geometry.Vec3;
import posada.core.settings.Preview;
import posada.core.trace.stage.Instance;
import posada.core.trace.stage.Look;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/** Finds what the pixels of a quick picture see, for one thread. */
final class PreviewLooker {
  /** Surfaces that a ray may pass: cut-outs, panes, what the camera does not see. */
  private static final int MOST_PASSED = 16;

  /** Of the light that comes through a pane. */
  private static final float PANE = 0.9f;

  private static final float[] SKY_LOW = {0.52f, 0.56f, 0.6f}, SKY_HIGH = {0.24f, 0.29f, 0.36f};

  private final Stage stage;
  private final View view;
  private final Preview look;
  private final Vec3 key;
  private final Projector projected;
  private final PreviewSight out;
  private final InstanceBvh top;
  private final Ray ray = new Ray();

  /** Direction of view. */
  private final float[] to = new float[3];

  private final View.Place place = new View.Place();
  private final SurfacePoint point = new SurfacePoint();

  /**
   * @param projected where triangles are seen; null to look along rays
   * @param key unit direction towards the plain light
   */
  PreviewLooker(
      Stage stage, View view, Preview look, Vec3 key, Projector projected, PreviewSight out) {
    this.stage = stage;
    this.view = view;
    this.look = look;
    this.key = key;
    this.projected = projected;
    this.out = out;
    top = stage.top();
  }

  void row(int y) {
    for (int x = 0; x < out.width; x++) {
      int i = y * out.width + x;
      if (projected == null) {
        trace(x, y, i);
        continue;
      }
      int number = projected.instance(i);
      Instance in = number < 0 ? null : stage.instances[number];
      int prim = in == null ? 0 : in.mesh.primitiveOf(projected.triangle(i));
      if (in != null && !simple(in, in.looks[prim])) {
        trace(x, y, i);
        continue;
      }
      float along = view.direction(x + 0.5f, y + 0.5f, to);
      if (in == null) {
        nothing(i, 1);
      } else {
        float far = projected.depth(i);
        int triangle = projected.triangle(i) - in.mesh.firstTriangle(prim);
        float width = view.footprint(far / along);
        point.plain(
            in, prim, triangle, projected.u(i), projected.v(i), projected.front(i), to, width);
        keep(i, far, number);
      }
    }
  }

  private void trace(int x, int y, int i) {
    ray.time = 0;
    view.aim(x + 0.5f, y + 0.5f, 0, 0, 0, place, ray);
    to[0] = ray.dx;
    to[1] = ray.dy;
    to[2] = ray.dz;
    top.intersect(ray);
    see(i);
  }

  /** Returns false if a surface may be looked through. */
  private static boolean simple(Instance in, Look l) {
    return in.cameraSees && l.opaque && !l.pane;
  }

  private void see(int i) {
    float through = 1;
    float gone = 0;
    for (int passed = 0; ray.hit() && passed < MOST_PASSED; passed++) {
      SurfacePoint p = point;
      p.fill(stage, ray, view.footprint(gone + ray.tMax));
      gone += ray.tMax;
      boolean pane = p.look.pane;
      if (p.instance.cameraSees && p.alpha >= 0.5f && !pane) {
        float far = view.depth(p.x, p.y, p.z, 0, place);
        int instance = ray.instance;
        int triangle = ray.triangle - p.instance.mesh.firstTriangle(p.prim);
        p.plain(p.instance, p.prim, triangle, p.v, p.w, p.front, to, view.footprint(gone));
        keep(i, far, instance);
        out.red[i] *= through;
        out.green[i] *= through;
        out.blue[i] *= through;
        return;
      }
      through *= pane && p.instance.cameraSees ? PANE : 1;
      p.leave(ray, ray.dx, ray.dy, ray.dz, Float.POSITIVE_INFINITY);
      top.intersect(ray);
    }
    nothing(i, through);
  }

  private void nothing(int i, float through) {
    out.surface[i] = PreviewSight.NOTHING;
    out.depth[i] = Float.POSITIVE_INFINITY;
    out.nx[i] = out.ny[i] = out.nz[i] = 0;
    sky(to[1], i, through);
  }

  private void keep(int i, float far, int instance) {
    SurfacePoint p = point;
    out.depth[i] = far;
    out.surface[i] = instance << 4 ^ p.prim;
    if (p.instance.holdout) {
      out.nx[i] = out.ny[i] = out.nz[i] = 0;
      sky(to[1], i, 1);
      return;
    }
    out.nx[i] = p.nx;
    out.ny[i] = p.ny;
    out.nz[i] = p.nz;
    float toEye = -(to[0] * p.nx + to[1] * p.ny + to[2] * p.nz);
    float light = look.style() == Preview.Style.OUTLINED ? 0.9f : light(i, toEye);
    float[] base = p.values.base;
    float[] e = p.emission;
    out.red[i] = base[0] * light + Math.min(1, e[0]);
    out.green[i] = base[1] * light + Math.min(1, e[1]);
    out.blue[i] = base[2] * light + Math.min(1, e[2]);
  }

  /** A light from the side, one from the eye, and more from above than from below. */
  private float light(int i, float toEye) {
    float side = (float) (out.nx[i] * key.x() + out.ny[i] * key.y() + out.nz[i] * key.z());
    return 0.3f + 0.12f * out.ny[i] + 0.62f * Math.max(0, side) + 0.12f * Math.max(0, toEye);
  }

  private void sky(float up, int i, float through) {
    float f = Math.max(0, Math.min(1, up * 1.5f + 0.1f));
    out.red[i] = through * (SKY_LOW[0] + (SKY_HIGH[0] - SKY_LOW[0]) * f);
    out.green[i] = through * (SKY_LOW[1] + (SKY_HIGH[1] - SKY_LOW[1]) * f);
    out.blue[i] = through * (SKY_LOW[2] + (SKY_HIGH[2] - SKY_LOW[2]) * f);
  }
}
