package posada.formats.ledger;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.parallel.Stop;
import posada.core.plan.Estimate;
import posada.core.plan.Estimate.Finished;
import posada.core.plan.Estimate.Trial;
import posada.core.plan.FrameRange;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;

/**
 * What of a strand is still to be done.
 *
 * @param rendered frames that are rendered: of those that are made from the same, one
 * @param written frames that are written: those, and the others that get their pictures
 * @param finished frames that were rendered with the same settings
 */
public record Remaining(List<Integer> rendered, List<Integer> written, List<Finished> finished) {
  /**
   * Returns, for each frame of a strand, the first that is made from the same.
   *
   * @return null if it was stopped
   */
  public static Map<Integer, Integer> sources(StrandDocument d, FrameJob job, Stop stop)
      throws IOException, ImportException {
    Map<Integer, Integer> sources = new HashMap<>();
    boolean all =
        FramePlan.frames(
            Standings.empty("", d.frames()),
            job,
            null,
            frame -> true,
            false,
            Integer.MAX_VALUE,
            stop,
            frames -> frames.forEach(f -> sources.put(f.frame(), f.source())));
    return all ? sources : null;
  }

  /**
   * Returns what is still to be done.
   *
   * @param sources see {@link #sources}; empty to take every frame for different
   */
  public static Remaining of(Standings now, Map<Integer, Integer> sources) {
    List<Integer> rendered = new ArrayList<>(), written = new ArrayList<>();
    List<Finished> finished = new ArrayList<>();
    Set<Integer> pictures = new HashSet<>();
    for (int i = 0; i < now.of().length; i++) {
      int frame = now.frames().get(i);
      LedgerRow row = now.rows()[i];
      if (!now.of()[i].good()) {
        written.add(frame);
        if (pictures.add(sources.getOrDefault(frame, frame))) {
          rendered.add(frame);
        }
      } else if (now.of()[i] == Standing.FRESH && row.seconds() != null) {
        finished.add(new Finished(frame, row.seconds(), row.bytes(), row.noise()));
      }
    }
    return new Remaining(rendered, written, finished);
  }

  /** Returns what of it is among other frames, as a range. */
  public Remaining only(String range) {
    Set<Integer> some = Set.copyOf(FrameRange.parse(range).frames());
    return new Remaining(
        rendered.stream().filter(some::contains).toList(),
        written.stream().filter(some::contains).toList(),
        finished.stream().filter(f -> some.contains(f.frame())).toList());
  }

  /**
   * Returns what that takes; see {@link Estimate#of}.
   *
   * @param trials of the strand; nothing takes nothing if there is neither one nor a finished frame
   */
  public Estimate.Result estimate(StrandDocument d, List<Trial> trials) {
    if (written.isEmpty() || trials.isEmpty() && finished.isEmpty()) {
      Estimate.Figure none = new Estimate.Figure(0, 0, 0);
      return new Estimate.Result(none, none);
    }
    long pixels = (long) d.width() * d.height();
    int samples = d.settings().recipe().sampling().most();
    return Estimate.of(rendered, written, pixels, samples, trials, finished);
  }
}
