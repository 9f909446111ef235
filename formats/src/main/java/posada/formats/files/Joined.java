package posada.formats.files;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Window;
import tools.jackson.databind.json.JsonMapper;

/** What is rendered again, put into the picture that is there. */
final class Joined {
  private static final JsonMapper JSON = new JsonMapper();
  private static final String MANIFEST = "manifest";

  private Joined() {}

  /**
   * Returns a picture with a part in place of what it has there; every other value stays bit for
   * bit. A channel that the part does not have stays.
   *
   * @param part of the same full frame
   */
  static FrameImage box(FrameImage old, FrameImage part) {
    Window o = old.window(), p = part.window();
    if (o.fullWidth() != p.fullWidth() || o.fullHeight() != p.fullHeight()) {
      throw new IllegalArgumentException(
          "the picture that is there has %d x %d pixels, what is put into it is of %d x %d"
              .formatted(o.fullWidth(), o.fullHeight(), p.fullWidth(), p.fullHeight()));
    }
    List<Channel> channels = new ArrayList<>();
    for (Channel c : old.channels()) {
      float[] in = part.find(c.name());
      if (in == null) {
        channels.add(c);
        continue;
      }
      float[] data = c.data().clone();
      int x0 = Math.max(o.x(), p.x()), x1 = Math.min(o.x() + old.width(), p.x() + part.width());
      int y1 = Math.min(o.y() + old.height(), p.y() + part.height());
      for (int y = Math.max(o.y(), p.y()); y < y1 && x0 < x1; y++) {
        int from = (y - p.y()) * part.width() + x0 - p.x();
        System.arraycopy(in, from, data, (y - o.y()) * old.width() + x0 - o.x(), x1 - x0);
      }
      channels.add(new Channel(c.name(), c.precision(), data, c.outside()));
    }
    return with(old, channels, part.texts());
  }

  /**
   * Returns the means of two pictures by how many samples they have.
   *
   * @param n samples of each pixel that is there; m likewise of the other
   * @param means channels that are means over samples; the others stay as they are
   * @param counts channels that hold how many samples a pixel has
   */
  static FrameImage more(
      FrameImage old, int n, FrameImage others, int m, Set<String> means, Set<String> counts) {
    List<Channel> channels = new ArrayList<>();
    for (Channel c : old.channels()) {
      float[] in = others.find(c.name());
      boolean mean = means.contains(c.name());
      if (in == null || !mean && !counts.contains(c.name())) {
        channels.add(c);
        continue;
      }
      float[] data = new float[in.length];
      for (int i = 0; i < data.length; i++) {
        data[i] =
            mean ? (float) (((double) n * c.data()[i] + (double) m * in[i]) / (n + m)) : n + m;
      }
      channels.add(new Channel(c.name(), c.precision(), data, c.outside()));
    }
    return with(old, channels, Map.of());
  }

  /** Puts channels, and names that ID mattes need, in place of those of a picture. */
  private static FrameImage with(
      FrameImage old, List<Channel> channels, Map<String, String> texts) {
    Map<String, String> all = new TreeMap<>(old.texts());
    // What is said of the files is said anew; what the channels need to be understood stays.
    all.keySet().removeIf(k -> !k.contains("/"));
    texts.forEach(
        (k, v) -> all.merge(k, v, (a, b) -> k.endsWith(MANIFEST) && !a.equals(b) ? both(a, b) : b));
    return new FrameImage(old.width(), old.height(), old.window(), channels, all);
  }

  private static String both(String a, String b) {
    Map<String, Object> names = new LinkedHashMap<>();
    for (String s : List.of(a, b)) {
      JSON.readTree(s).properties().forEach(e -> names.put(e.getKey(), e.getValue()));
    }
    return JSON.writeValueAsString(names);
  }
}
