package posada.formats.handover;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.formats.files.Sha256;
import posada.formats.settings.Documents;
import tools.jackson.databind.JsonNode;

/**
 * Reads a handover back.
 *
 * @param files that were read
 * @param bytes of them
 * @param problems what is not as the manifest says, a sentence each
 */
public record HandoverCheck(int files, long bytes, List<String> problems) {
  /**
   * Checks a folder.
   *
   * @return null if it was stopped
   * @throws IllegalArgumentException if it is no handover
   */
  public static HandoverCheck of(Path folder, Stop stop) throws IOException {
    Path file = folder.resolve(Manifest.NAME);
    if (!Files.isRegularFile(file)) {
      throw new IllegalArgumentException(
          folder + " is no complete handover: it has no " + Manifest.NAME + ".");
    }
    Manifest m = Documents.read(file, Manifest.class);
    List<String> problems = new ArrayList<>();
    int files = 0;
    long bytes = 0;
    for (Manifest.Sequence q : m.sequences()) {
      TreeSet<Integer> frames = new TreeSet<>();
      for (Manifest.FileLine l : q.files()) {
        if (stop.asked()) {
          return null;
        }
        frames.add(l.frame());
        Path p = m.copied() ? inside(folder, l.path()) : Path.of(l.path());
        String wrong = p == null ? "lies outside of the folder" : wrong(p, l);
        if (wrong != null) {
          problems.add(q.title() + ": " + l.path() + " " + wrong + ".");
        } else {
          files++;
          bytes += l.bytes();
        }
      }
      if (q.kind().equals("frames")) {
        for (int f : FrameRange.parse(q.frames()).frames()) {
          if (!frames.contains(f)) {
            problems.add(q.title() + ": frame " + f + " has no file in the manifest.");
          }
        }
      }
    }
    timeline(folder, m, problems);
    List<String> beside = new ArrayList<>(m.stacks());
    beside.add(Handover.README);
    beside.add(Handover.TABLE);
    for (String name : beside) {
      if (!Files.isRegularFile(folder.resolve(name))) {
        problems.add(name + " is missing.");
      }
    }
    return new HandoverCheck(files, bytes, problems);
  }

  private static Path inside(Path folder, String path) {
    Path base = folder.toAbsolutePath().normalize();
    Path p = base.resolve(path).normalize();
    return p.startsWith(base) ? p : null;
  }

  private static String wrong(Path p, Manifest.FileLine l) throws IOException {
    if (!Files.isRegularFile(p)) {
      return "is missing";
    }
    if (Files.size(p) != l.bytes()) {
      return "has %d bytes instead of %d".formatted(Files.size(p), l.bytes());
    }
    return Sha256.of(p).equals(l.sha256()) ? null : "is not what was handed over";
  }

  /** Every frame of every clip must be a file of the manifest, one frame long. */
  private static void timeline(Path folder, Manifest m, List<String> problems) throws IOException {
    Path file = folder.resolve(m.timeline());
    if (!Files.isRegularFile(file)) {
      problems.add(m.timeline() + " is missing.");
      return;
    }
    Map<String, Boolean> known = new HashMap<>();
    m.sequences().forEach(q -> q.files().forEach(l -> known.put(l.path(), true)));
    JsonNode root;
    try {
      root = Documents.object(file);
    } catch (IllegalArgumentException e) {
      problems.add(e.getMessage() + ".");
      return;
    }
    for (JsonNode track : root.path("tracks").path("children")) {
      for (JsonNode clip : track.path("children")) {
        clip(m, clip, known, problems);
      }
    }
  }

  private static void clip(
      Manifest m, JsonNode clip, Map<String, Boolean> known, List<String> problems) {
    JsonNode media = clip.path("media_references").path("DEFAULT_MEDIA");
    int first = media.path("start_frame").asInt(), step = media.path("frame_step").asInt();
    int padding = media.path("frame_zero_padding").asInt();
    int count = (int) clip.path("source_range").path("duration").path("value").asDouble();
    String base = media.path("target_url_base").asString();
    String folder = m.copied() ? base : Path.of(java.net.URI.create(base)) + "/";
    for (int i = 0; i < count; i++) {
      String path =
          folder
              + media.path("name_prefix").asString()
              + ("%0" + Math.max(1, padding) + "d").formatted(first + i * step)
              + media.path("name_suffix").asString();
      if (!known.containsKey(path)) {
        problems.add(
            "%s: clip %s needs %s, which is not in the manifest."
                .formatted(m.timeline(), clip.path("name").asString(), path));
      }
    }
  }
}
