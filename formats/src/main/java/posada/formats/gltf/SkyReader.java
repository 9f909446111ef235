package posada.formats.gltf;

import java.util.List;
import java.util.Map;
import posada.core.geometry.Vec3;
import posada.core.scene.Sky;

/**
 * Reads a sky from a scene's {@code extras.sky}: colours {@code zenith}, {@code horizon}, {@code
 * ground}, an optional {@code glow} of {@code direction}, {@code color} and {@code sharpness}, and
 * {@code haze} for each metre.
 */
final class SkyReader {
  private SkyReader() {}

  /** Returns the sky, or null if the extras hold none. */
  static Sky read(Object extras, GltfFile file) {
    if (!(extras instanceof Map<?, ?> e) || !(e.get("sky") instanceof Map<?, ?> s)) {
      return null;
    }
    Map<?, ?> glow = s.get("glow") instanceof Map<?, ?> g ? g : Map.of();
    float[] d = three(glow.get("direction"), new float[] {0, 1, 0});
    float[] horizon = three(s.get("horizon"), new float[] {1, 1, 1});
    try {
      return new Sky(
          three(s.get("zenith"), horizon),
          horizon,
          three(s.get("ground"), horizon),
          new Vec3(d[0], d[1], d[2]),
          three(glow.get("color"), new float[3]),
          NodeReader.number(glow.get("sharpness"), 1),
          NodeReader.number(s.get("haze"), 0));
    } catch (IllegalArgumentException bad) {
      file.remark("The scene's sky was ignored: " + bad.getMessage() + ".");
      return null;
    }
  }

  private static float[] three(Object o, float[] otherwise) {
    if (!(o instanceof List<?> l) || l.size() < 3) {
      return otherwise;
    }
    float[] v = new float[3];
    for (int k = 0; k < 3; k++) {
      v[k] = (float) NodeReader.number(l.get(k), otherwise[k]);
    }
    return v;
  }
}
