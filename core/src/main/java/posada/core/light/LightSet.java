package posada.core.light;

import java.util.List;

/**
 * All lights of a stage. One of them is chosen for a point, in proportion to a guess at the
 * irradiance it gives there. Cost: O(lights) for each choice. Immutable.
 */
public final class LightSet {
  private final PunctualLight[] punctual;
  private final AreaLight[] area;
  private final SkyLight sky;

  public LightSet(List<PunctualLight> punctual, List<AreaLight> area, SkyLight sky) {
    this.punctual = punctual.toArray(new PunctualLight[0]);
    this.area = area.toArray(new AreaLight[0]);
    this.sky = sky;
  }

  public SkyLight sky() {
    return sky;
  }

  /** Returns how many lights there are, the sky (always the last) included. */
  public int size() {
    return punctual.length + area.length + 1;
  }

  public AreaLight area(int index) {
    return area[index];
  }

  public int areaCount() {
    return area.length;
  }

  public PunctualLight punctual(int index) {
    return punctual[index];
  }

  public int punctualCount() {
    return punctual.length;
  }

  /**
   * Stores each light's importance at a point, punctual ones first, then areas, then the sky.
   *
   * @param weights at least {@link #size()} places
   * @return their sum
   */
  public float weigh(float x, float y, float z, float[] weights) {
    float sum = 0;
    int n = 0;
    for (PunctualLight l : punctual) {
      sum += weights[n++] = l.importance(x, y, z);
    }
    for (AreaLight l : area) {
      sum += weights[n++] = l.importance(x, y, z);
    }
    sum += weights[n] = sky.importance();
    return sum;
  }

  /** Returns the light chosen by {@code u} in [0, 1) from weights of the given sum. */
  public int choose(float[] weights, float sum, float u) {
    float at = u * sum;
    int last = size() - 1;
    for (int i = 0; i < last; i++) {
      at -= weights[i];
      if (at < 0) {
        return i;
      }
    }
    return weights[last] > 0 ? last : heaviest(weights);
  }

  private int heaviest(float[] weights) {
    int best = 0;
    for (int i = 1; i < size(); i++) {
      best = weights[i] > weights[best] ? i : best;
    }
    return best;
  }
}
