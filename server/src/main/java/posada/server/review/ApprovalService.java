package posada.server.review;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.formats.exr.ExrHeader;
import posada.formats.files.FrameFiles;
import posada.formats.job.FrameJob;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.Stale;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Decisions about versions of strands. */
@Service
class ApprovalService {
  private static final int LONGEST = 2000, LONGEST_NAME = 100;

  private final ApprovalRepository approvals;
  private final RunService runs;
  private final EventHub events;

  ApprovalService(ApprovalRepository approvals, RunService runs, EventHub events) {
    this.approvals = approvals;
    this.runs = runs;
    this.events = events;
  }

  List<Approval> all(long production) {
    return approvals.all(production);
  }

  /** Keeps what was decided about strands. */
  List<Approval> decide(List<Long> strands, boolean approved, String who, String note) {
    if (who == null || who.isBlank() || who.length() > LONGEST_NAME) {
      throw new IllegalArgumentException("Say who decides: a name of 1 .. 100 letters.");
    }
    if (note != null && note.length() > LONGEST) {
      throw new IllegalArgumentException("a note has at most 2000 letters");
    }
    if (!approved && (note == null || note.isBlank())) {
      throw new IllegalArgumentException("Say why it is turned down.");
    }
    List<RunStrand> all = strands.stream().map(runs::find).toList();
    for (RunStrand s : all) {
      if (s.state().open()) {
        throw new ConflictException(
            "Shot \"" + s.shot() + "\", layer " + s.layer() + " is still being rendered.");
      }
    }
    String words = note == null ? "" : note.strip();
    for (RunStrand s : all) {
      approvals.add(new Approval(0, s.id(), approved, who.strip(), words, Instant.now()));
    }
    events.publish(new Stale(Stale.Kind.APPROVALS));
    return approvals.all(all.get(0).productionId());
  }

  /**
   * What a version has that the one that was approved last has not.
   *
   * @param since version that was approved; 0 if none was before this one
   * @param frames that differ from it; all of them if none was
   */
  record ChangedFrames(int since, List<Integer> frames) {}

  /** Compares a version with the newest before it that is approved. */
  ChangedFrames changes(long id) throws IOException {
    RunStrand s = runs.find(id);
    Optional<RunStrand> before =
        approvals.all(s.productionId()).stream()
            .filter(Approval::approved)
            .map(a -> runs.find(a.strandId()))
            .filter(
                o ->
                    Objects.equals(o.shotId(), s.shotId())
                        && Objects.equals(o.layerId(), s.layerId())
                        && o.id() < s.id()
                        && o.number() < s.number())
            .findFirst();
    FrameFiles now = FrameJob.files(s.settings(), Path.of(s.folder()));
    FrameFiles was =
        before.map(o -> FrameJob.files(o.settings(), Path.of(o.folder()))).orElse(null);
    List<Integer> changed = new ArrayList<>();
    for (int f : FrameRange.parse(s.settings().frames()).frames()) {
      if (now.paths(f).stream().allMatch(Files::exists) && !same(was, now, f)) {
        changed.add(f);
      }
    }
    return new ChangedFrames(before.map(RunStrand::number).orElse(0), changed);
  }

  private static boolean same(FrameFiles was, FrameFiles now, int frame) throws IOException {
    if (was == null || !was.paths(frame).stream().allMatch(Files::exists)) {
      return false;
    }
    return Files.isSameFile(was.paths(frame).get(0), now.paths(frame).get(0))
        || Objects.equals(
            was.texts(frame).get(ExrHeader.FINGERPRINT),
            now.texts(frame).get(ExrHeader.FINGERPRINT));
  }
}
