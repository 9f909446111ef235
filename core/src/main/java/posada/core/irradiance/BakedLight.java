package posada.core.irradiance;

/** Light that was baked, read only. Safe for several threads. */
public final class BakedLight {
  private final LightPoints points;
  private final PointIndex index;
  private final BakeInfo info;

  public BakedLight(LightPoints points, BakeInfo info) {
    this.points = points;
    this.info = info;
    index = new PointIndex(points);
  }

  public LightPoints points() {
    return points;
  }

  public BakeInfo info() {
    return info;
  }

  /** Returns what one thread looks light up with. */
  public LightLookup lookup() {
    return new LightLookup(points, index);
  }

  /** Returns the bytes that it takes in memory. */
  public long bytes() {
    return 4L * LightPoints.STRIDE * points.count() + index.bytes();
  }
}
