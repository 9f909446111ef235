package posada.formats.handover;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import tools.jackson.databind.json.JsonMapper;

/**
 * A cut as a timeline file. Source: OpenTimelineIO, "File Format Specification" and "Schemas":
 * Timeline.1, Stack.1, Track.1, Clip.2, ImageSequenceReference.1, RationalTime.1, TimeRange.1.
 */
final class Timeline {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Pattern NUMBER = Pattern.compile("(\\d+)(?=\\D*$)");

  private Timeline() {}

  /**
   * A clip: a sequence from its first to its last frame.
   *
   * @param name of the clip
   * @param first file of the sequence
   * @param number of that frame
   * @param step from one frame to the next
   * @param count frames
   * @param rate frames for each second
   * @param folder of the files as an address, ending in a slash
   * @param head frames at the beginning that are not in the cut
   * @param tail frames at the end likewise
   */
  record Clip(
      String name,
      String first,
      int number,
      int step,
      int count,
      double rate,
      String folder,
      int head,
      int tail) {}

  private static Map<String, Object> schema(String name) {
    Map<String, Object> m = new LinkedHashMap<>();
    m.put("OTIO_SCHEMA", name);
    return m;
  }

  private static Map<String, Object> time(double rate, double value) {
    Map<String, Object> t = schema("RationalTime.1");
    t.put("rate", rate);
    t.put("value", value);
    return t;
  }

  private static Map<String, Object> range(double rate, double start, double duration) {
    Map<String, Object> r = schema("TimeRange.1");
    r.put("start_time", time(rate, start));
    r.put("duration", time(rate, duration));
    return r;
  }

  /** Returns the file of a track of clips, one after the other. */
  static String write(String name, List<Clip> clips) {
    List<Object> children = new ArrayList<>();
    for (Clip c : clips) {
      children.add(clip(c));
    }
    Map<String, Object> track = schema("Track.1");
    track.put("name", "cut");
    track.put("kind", "Video");
    track.put("source_range", null);
    track.put("effects", List.of());
    track.put("markers", List.of());
    track.put("metadata", Map.of());
    track.put("children", children);
    Map<String, Object> stack = schema("Stack.1");
    stack.put("name", "tracks");
    stack.put("source_range", null);
    stack.put("effects", List.of());
    stack.put("markers", List.of());
    stack.put("metadata", Map.of());
    stack.put("children", List.of(track));
    Map<String, Object> timeline = schema("Timeline.1");
    timeline.put("name", name);
    timeline.put("global_start_time", null);
    timeline.put("metadata", Map.of());
    timeline.put("tracks", stack);
    return JSON.writerWithDefaultPrettyPrinter().writeValueAsString(timeline);
  }

  private static Map<String, Object> clip(Clip c) {
    Matcher m = NUMBER.matcher(c.first);
    if (!m.find()) {
      throw new IllegalArgumentException(c.first + " has no frame number in its name");
    }
    // Every image is one frame long at the rate of the sequence.
    Map<String, Object> available = range(c.rate, c.number / (double) c.step, c.count);
    Map<String, Object> media = schema("ImageSequenceReference.1");
    media.put("name", c.name);
    media.put("available_range", available);
    media.put("target_url_base", c.folder);
    media.put("name_prefix", c.first.substring(0, m.start(1)));
    media.put("name_suffix", c.first.substring(m.end(1)));
    media.put("start_frame", c.number);
    media.put("frame_step", c.step);
    media.put("rate", c.rate * c.step);
    media.put("frame_zero_padding", m.group(1).length());
    media.put("missing_frame_policy", "error");
    media.put("metadata", Map.of());
    Map<String, Object> clip = schema("Clip.2");
    clip.put("name", c.name);
    boolean cut = c.head + c.tail < c.count;
    clip.put(
        "source_range",
        cut
            ? range(c.rate, c.number / (double) c.step + c.head, c.count - c.head - c.tail)
            : available);
    clip.put("effects", List.of());
    clip.put("markers", List.of());
    clip.put("enabled", true);
    clip.put("metadata", Map.of());
    clip.put("media_references", Map.of("DEFAULT_MEDIA", media));
    clip.put("active_media_reference_key", "DEFAULT_MEDIA");
    return clip;
  }
}
