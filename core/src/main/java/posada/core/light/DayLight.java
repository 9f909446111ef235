package posada.core.light;

import posada.core.geometry.FastMath;
import posada.core.geometry.Vec3;
import posada.core.scene.DaySky;

/** Sun and sky of a {@link DaySky} at one time, tabulated for fast reading. Immutable. */
public final class DayLight {
  /** Kilocandela for each square metre that a radiance of 1 stands for. */
  private static final double UNIT = 10;

  private static final int COLUMNS = 256;
  private static final int ROWS = 128;

  /** Below the horizon the ground fades in over this sine of the angle. */
  private static final float HORIZON = 0.02f;

  private final float[] table = new float[(ROWS + 1) * (COLUMNS + 1) * 3];
  private final float[] ground = new float[3];
  private final float[] sunIrradiance = new float[3];
  private final Vec3 sun;
  private final SunPosition position;

  public DayLight(DaySky d, double seconds) {
    position = position(d, seconds);
    sun = towards(position, d.north().at(seconds));
    double strength = d.strength().at(seconds);
    fill(d, d.turbidity().at(seconds));
    double[] direct = new double[3];
    sunlight(d, d.turbidity().at(seconds), direct);
    double sunStrength = d.sun().at(seconds);
    float[] sky = irradiance();
    for (int k = 0; k < 3; k++) {
      double own = direct[k] * sunStrength / UNIT;
      sunIrradiance[k] = (float) (own * strength);
      double level = sky[k] + own * Math.max(0, sun.y());
      ground[k] = (float) (d.ground()[k] * level / Math.PI * strength);
    }
    for (int i = 0; i < table.length; i++) {
      table[i] *= (float) strength;
    }
  }

  private static SunPosition position(DaySky d, double seconds) {
    double days = d.date().at(seconds) + (d.hours().at(seconds) - d.zone().at(seconds)) / 24;
    return SunPosition.of(d.latitude().at(seconds), d.longitude().at(seconds), days);
  }

  private static Vec3 towards(SunPosition p, double north) {
    double turn = Math.toRadians(north + p.azimuth());
    double h = Math.toRadians(p.altitude());
    return new Vec3(
        StrictMath.cos(h) * StrictMath.sin(turn),
        StrictMath.sin(h),
        -StrictMath.cos(h) * StrictMath.cos(turn));
  }

  /** Returns the unit direction towards the sun, without the rest. */
  public static Vec3 sun(DaySky d, double seconds) {
    return towards(position(d, seconds), d.north().at(seconds));
  }

  private void sunlight(DaySky d, double turbidity, double[] out) {
    if (d.model().standard() == 0) {
      new ClearSky(turbidity, position.altitude()).sun(out);
    } else {
      out[0] =
          out[1] = out[2] = new StandardSky(d.model().standard(), position.altitude()).sunKilolux();
    }
  }

  private void fill(DaySky d, double turbidity) {
    int type = d.model().standard();
    ClearSky clear = new ClearSky(turbidity, position.altitude());
    StandardSky standard = type == 0 ? null : new StandardSky(type, position.altitude());
    double[] rgb = new double[3];
    for (int j = 0; j <= ROWS; j++) {
      double up = up(j);
      double flat = Math.sqrt(1 - up * up);
      for (int i = 0; i <= COLUMNS; i++) {
        double a = 2 * Math.PI * i / COLUMNS;
        double dot =
            flat * StrictMath.cos(a) * sun.x() + up * sun.y() + flat * StrictMath.sin(a) * sun.z();
        double gamma = StrictMath.acos(Math.max(-1, Math.min(1, dot)));
        if (standard == null) {
          clear.color(up, gamma, rgb);
        } else {
          rgb[0] = rgb[1] = rgb[2] = standard.relative(up, gamma);
        }
        for (int k = 0; k < 3; k++) {
          table[(j * (COLUMNS + 1) + i) * 3 + k] = (float) (rgb[k] / UNIT);
        }
      }
    }
    if (standard != null) {
      double k = standard.skyKilolux() / UNIT / irradiance()[1];
      for (int i = 0; i < table.length; i++) {
        table[i] *= (float) k;
      }
    }
  }

  /** Rows lie closer at the horizon, where the sky changes fastest. */
  private static double up(int row) {
    double t = row / (double) ROWS;
    return t * t;
  }

  /** Returns the irradiance of the table's sky on level ground. */
  private float[] irradiance() {
    double[] sum = new double[3];
    for (int j = 0; j < ROWS; j++) {
      double weight = (up(j + 1) * up(j + 1) - up(j) * up(j)) * Math.PI / COLUMNS;
      for (int i = 0; i < COLUMNS; i++) {
        for (int k = 0; k < 3; k++) {
          int o = (j * (COLUMNS + 1) + i) * 3 + k;
          sum[k] += weight * 0.5 * (table[o] + table[o + (COLUMNS + 1) * 3]);
        }
      }
    }
    return new float[] {(float) sum[0], (float) sum[1], (float) sum[2]};
  }

  public SunPosition position() {
    return position;
  }

  /** Returns the unit direction towards the sun. */
  public Vec3 sun() {
    return sun;
  }

  /** Returns the sun's irradiance on a facing surface: red, green, blue. */
  public float[] sunIrradiance() {
    return sunIrradiance;
  }

  /** Adds the radiance from a unit direction, without the sun's disc. */
  void add(float x, float y, float z, float[] out) {
    float up = Math.max(0, y);
    float q = (float) Math.sqrt(up) * ROWS;
    float p = FastMath.turns(z, x) * COLUMNS;
    int j = Math.min(ROWS - 1, (int) q), i = Math.min(COLUMNS - 1, (int) p);
    float fq = q - j, fp = p - i;
    int o = (j * (COLUMNS + 1) + i) * 3;
    int n = o + (COLUMNS + 1) * 3;
    float below = y < 0 ? Math.min(1, -y / HORIZON) : 0;
    for (int k = 0; k < 3; k++) {
      float low = table[o + k] + (table[o + 3 + k] - table[o + k]) * fp;
      float high = table[n + k] + (table[n + 3 + k] - table[n + k]) * fp;
      float s = low + (high - low) * fq;
      out[k] += s + (ground[k] - s) * below;
    }
  }
}
