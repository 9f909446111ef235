package posada.core.trace;

import posada.core.geometry.Ray;
import posada.core.image.DisplayImage;
import posada.core.irradiance.LightPoints;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.View;

/** Draws points of baked light where a camera sees them. */
public final class PointsSeen {
  /** How much farther than the surface in a pixel a point may be and still lie on it. */
  private static final float NEAR = 1.02f;

  /** What a dot looks like, sRGB of 65535. */
  private static final int[] COLOUR = {0xc9c9, 0xdcdc, 0x3c3c};

  private PointsSeen() {}

  /**
   * Returns a transparent picture with a dot for each point that is seen.
   *
   * @return null if it was stopped
   */
  public static DisplayImage of(
      RenderScene scene,
      LightPoints points,
      String camera,
      Moment moment,
      int width,
      int height,
      RenderSettings settings,
      Workers workers,
      Stop stop) {
    ObjectMap map = ObjectMap.of(scene, camera, moment, width, height, settings, workers, stop);
    if (map == null) {
      return null;
    }
    View view = scene.view(camera, moment, width, height, settings, workers);
    View.Place scratch = new View.Place();
    float[] at = new float[2];
    Ray ray = new Ray();
    short[] out = new short[4 * width * height];
    float[] all = points.numbers();
    for (int i = 0; i < points.count(); i++) {
      int o = i * LightPoints.STRIDE;
      float x = all[o], y = all[o + 1], z = all[o + 2];
      if (!view.project(x, y, z, 0.5f, scratch, at)) {
        continue;
      }
      int px = (int) Math.floor(at[0]), py = (int) Math.floor(at[1]);
      if (px < 0 || py < 0 || px >= width || py >= height) {
        continue;
      }
      view.aim(px + 0.5f, py + 0.5f, 0, 0, 0.5f, scratch, ray);
      float dx = x - ray.ox, dy = y - ray.oy, dz = z - ray.oz;
      double far = Math.sqrt(dx * dx + dy * dy + dz * dz);
      if (far > map.distances()[py * width + px] * NEAR) {
        continue;
      }
      for (int c = 0; c < 3; c++) {
        out[4 * (py * width + px) + c] = (short) COLOUR[c];
      }
      out[4 * (py * width + px) + 3] = (short) 0xffff;
    }
    return new DisplayImage(width, height, 4, out);
  }
}
