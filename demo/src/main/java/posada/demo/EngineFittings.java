package posada.demo;

import java.util.ArrayList;
import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/** What stands still around the drive: gauges, oilers, pipes. */
final class EngineFittings {
  private static final Vec3 UP = new Vec3(0, 1, 0);
  private final WindingEngine of;

  EngineFittings(WindingEngine of) {
    this.of = of;
  }

  void build() {
    gauges();
    oilers();
    pipes();
  }

  private void gauges() {
    double[][] body = {
      {0, -0.08},
      {0.15, -0.08},
      {0.15, -0.08},
      {0.165, -0.05},
      {0.165, 0.02},
      {0.15, 0.035},
      {0.138, 0.035},
      {0.138, 0.035},
      {0.138, 0.0},
      {0.138, 0.0},
      {0, 0.0}
    };
    double[][] dome = new double[12][];
    for (int i = 0; i < 12; i++) {
      double a = Math.PI / 2 * i / 11;
      dome[i] = new double[] {0.137 * Math.cos(a), 0.026 + 0.045 * Math.sin(a)};
    }
    for (int k = 0; k < 3; k++) {
      Shape marks = new Shape();
      for (int i = 0; i <= 10; i++) {
        double a = Math.toRadians(-220 + 26 * i);
        double l = i % 5 == 0 ? 0.03 : 0.018;
        Vec3 p = new Vec3(0.122 * Math.cos(a), 0.003, -0.122 * Math.sin(a));
        marks.bar(
            p, p.times(1 - l / 0.122).plus(new Vec3(0, 0.003 * l / 0.122, 0)), 0.0025, 0.0025, 6);
      }
      Shape needle = new Shape();
      double a = Math.toRadians(-150 + 65 * k);
      Vec3 dir = new Vec3(Math.cos(a), 0, -Math.sin(a));
      Vec3 h = new Vec3(0, 0.009, 0);
      needle.bar(dir.times(-0.03).plus(h), dir.times(0.1).plus(h), 0.006, 0.0015, 8);
      needle.bar(new Vec3(0, 0.002, 0), new Vec3(0, 0.014, 0), 0.012, 0.012, 20);
      double[][] dial = {{0.137, 0.002}, {0, 0.002}};
      Vec3 at = new Vec3(1.1 + 0.42 * k, 2.05, 0.35);
      Quat facing =
          Quat.axisAngle(UP, 0.1 - 0.08 * k).times(Quat.axisAngle(new Vec3(1, 0, 0), 1.35));
      of.put(
          "gauge-" + (k + 1),
          -1,
          at,
          facing,
          new Part(new Shape().lathe(body, 64), of.brass),
          new Part(new Shape().lathe(dial, 64), of.enamel),
          new Part(marks, of.ink),
          new Part(needle, of.ink),
          new Part(new Shape().lathe(dome, 64), of.pane));
    }
    Shape board = new Shape().box(1.52, 2.05, 0.22, 1.5, 0.5, 0.06);
    board.box(0.9, 1.1, 0.22, 0.07, 2.0, 0.06).box(2.14, 1.1, 0.22, 0.07, 2.0, 0.06);
    of.put("gauge-board", -1, Vec3.ZERO, null, new Part(board, of.brushed));
  }

  private void oilers() {
    for (int k = 0; k < 2; k++) {
      Vec3 at = new Vec3(-0.75, 2.0, k == 0 ? -0.62 : 0.62);
      Shape cap =
          new Shape()
              .bar(new Vec3(0, -0.07, 0), new Vec3(0, 0, 0), 0.03, 0.03, 24)
              .bar(new Vec3(0, 0, 0), new Vec3(0, 0.015, 0), 0.072, 0.072, 40)
              .bar(new Vec3(0, 0.2, 0), new Vec3(0, 0.225, 0), 0.072, 0.05, 40)
              .bar(new Vec3(0, 0.225, 0), new Vec3(0, 0.26, 0), 0.014, 0.014, 16);
      double[][] fill = {
        {0, 0.018}, {0.05, 0.018}, {0.05, 0.018}, {0.05, 0.13}, {0.05, 0.13}, {0, 0.13}
      };
      double[][] jar = {
        {0.054, 0.0155},
        {0.064, 0.0155},
        {0.064, 0.0155},
        {0.064, 0.199},
        {0.064, 0.199},
        {0.054, 0.199},
        {0.054, 0.199},
        {0.054, 0.0155}
      };
      of.put(
          "oiler-" + (k + 1),
          -1,
          at,
          null,
          new Part(cap, of.brass),
          new Part(new Shape().lathe(fill, 48), of.oil),
          new Part(new Shape().lathe(jar, 48), of.glass));
    }
  }

  private static Vec3[] bent(Vec3... corners) {
    List<Vec3> path = new ArrayList<>();
    path.add(corners[0]);
    for (int i = 1; i + 1 < corners.length; i++) {
      Vec3 in = corners[i].plus(corners[i - 1].minus(corners[i]).normalized().times(0.12));
      Vec3 out = corners[i].plus(corners[i + 1].minus(corners[i]).normalized().times(0.12));
      for (int k = 0; k <= 8; k++) {
        double f = k / 8.0;
        path.add(in.lerp(corners[i], f).lerp(corners[i].lerp(out, f), f));
      }
    }
    path.add(corners[corners.length - 1]);
    return path.toArray(new Vec3[0]);
  }

  private void pipes() {
    Shape s = new Shape();
    for (int k = 0; k < 3; k++) {
      double x = 1.1 + 0.42 * k, d = 0.07 * k;
      s.tube(
          bent(
              new Vec3(x, 2.05, 0.18),
              new Vec3(x, 2.05, -0.25 - d),
              new Vec3(x, 0.45 + d, -0.25 - d),
              new Vec3(2.45 - d, 0.45 + d, -0.25 - d),
              new Vec3(2.45 - d, 0.45 + d, 1.2),
              new Vec3(2.45 - d, 1.0, 1.2)),
          0.024,
          16);
    }
    of.put("pipes", -1, Vec3.ZERO, null, new Part(s, of.copper));
    Shape can =
        new Shape()
            .bar(new Vec3(0, 0, 0), new Vec3(0, 0.16, 0), 0.12, 0.12, 48)
            .bar(new Vec3(0, 0.16, 0), new Vec3(0, 0.24, 0), 0.12, 0.02, 48)
            .tube(
                bent(new Vec3(0, 0.22, 0), new Vec3(0, 0.36, 0), new Vec3(0.25, 0.5, 0)),
                0.012,
                12);
    of.put(
        "oil-can",
        -1,
        new Vec3(1.75, 0.3, 0.95),
        Quat.axisAngle(UP, 0.7),
        new Part(can, of.copper));
    Shape cloth =
        new Shape().box(0, 0.012, 0, 0.34, 0.024, 0.24).box(0.05, 0.03, 0.02, 0.22, 0.02, 0.2);
    of.put(
        "cloth", -1, new Vec3(2.25, 0.3, 1.1), Quat.axisAngle(UP, -0.3), new Part(cloth, of.felt));
  }
}
