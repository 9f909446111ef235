package posada.demo;

import java.awt.image.BufferedImage;

/** Small textures drawn by formulas. */
final class Pictures {
  private Pictures() {}

  /** Colour of a place, 0 .. 1 across and down: display red, green, blue, 0 .. 1. */
  interface Painter {
    double[] at(double u, double v);
  }

  static BufferedImage paint(int width, int height, Painter p) {
    BufferedImage image = new BufferedImage(width, height, BufferedImage.TYPE_INT_RGB);
    for (int y = 0; y < height; y++) {
      for (int x = 0; x < width; x++) {
        double[] c = p.at((x + 0.5) / width, (y + 0.5) / height);
        int rgb = 0;
        for (int k = 0; k < 3; k++) {
          rgb = rgb << 8 | (int) Math.round(255 * Math.max(0, Math.min(1, c[k])));
        }
        image.setRGB(x, y, rgb);
      }
    }
    return image;
  }

  /** Two tiles by two, light and dark, with joints. */
  static double[] tiles(double u, double v) {
    double x = u * 2, y = v * 2;
    double fx = x - Math.floor(x), fy = y - Math.floor(y);
    double edge = Math.min(Math.min(fx, 1 - fx), Math.min(fy, 1 - fy));
    boolean light = ((int) x + (int) y) % 2 == 0;
    double grain = Noise.rolling(u * 40, v * 40, 4, 3) * 0.05;
    double k = edge < 0.012 ? 0.55 : 1;
    double base = light ? 0.66 : 0.23;
    return new double[] {k * (base + grain), k * (base * 0.97 + grain), k * (base * 0.9 + grain)};
  }

  /** Eight boards side by side. */
  static double[] boards(double u, double v) {
    double x = u * 8;
    int board = (int) x;
    double f = x - board;
    double tone = 0.85 + 0.25 * Noise.hash(board, 3, 5);
    double grain = Noise.rolling(u * 90 + board * 7, v * 6 + board * 13, 4, 9);
    double k = tone * (0.84 + 0.3 * grain) * (f < 0.02 || f > 0.98 ? 0.45 : 1);
    return new double[] {0.55 * k, 0.36 * k, 0.21 * k};
  }

  /** A poster: peaks under a sun, a cable from side to side and a car on it. */
  static double[] poster(double u, double v, double hue) {
    double[] sky = {0.93 - 0.25 * v, 0.80 - 0.1 * hue, 0.55 + 0.2 * hue};
    double[] c = sky;
    double dx = u - 0.7, dy = (v - 0.22) * 1.4;
    if (dx * dx + dy * dy < 0.012) {
      c = new double[] {0.98, 0.93, 0.75};
    }
    double far = 0.55 - 0.28 * Math.abs(Math.sin(u * 4.2 + hue * 5)) * (0.6 + 0.4 * u);
    double near = 0.78 - 0.3 * Math.max(0, 1 - Math.abs(u - 0.3) * 3);
    if (v > far) {
      c = new double[] {0.35 + 0.2 * hue, 0.48, 0.62 - 0.2 * hue};
    }
    if (v > near) {
      c = new double[] {0.16, 0.30 - 0.1 * hue, 0.30};
    }
    double cable = 0.36 + 0.14 * u + 0.05 * Math.sin(Math.PI * u);
    if (Math.abs(v - cable) < 0.004) {
      c = new double[] {0.12, 0.12, 0.13};
    }
    if (Math.abs(u - 0.45) < 0.075 && v > cable + 0.03 && v < cable + 0.12) {
      c = v < cable + 0.08 && v > cable + 0.045 ? new double[] {0.9, 0.88, 0.7} : RED;
    }
    boolean border = u < 0.04 || u > 0.96 || v < 0.03 || v > 0.88;
    if (border) {
      c = new double[] {0.93, 0.9, 0.82};
    }
    if (v > 0.91 && v < 0.96 && u > 0.15 && u < 0.85 && Noise.hash((int) (u * 34), 1, 8) > 0.25) {
      c = new double[] {0.2, 0.17, 0.15};
    }
    return c;
  }

  private static final double[] RED = {0.72, 0.16, 0.12};

  /** Fine scratches as roughness (green) and metal (blue). */
  static double[] scratches(double u, double v) {
    double s = Noise.rolling(u * 260, v * 5, 3, 21);
    return new double[] {0, 0.72 + 0.5 * (s - 0.4), 1};
  }
}
