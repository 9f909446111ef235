package posada.server.review;

import java.io.IOException;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Service;

/** What checks and people said about versions of strands. */
@Service
public class Judged {
  private final CheckService checks;
  private final ApprovalService approvals;

  Judged(CheckService checks, ApprovalService approvals) {
    this.checks = checks;
    this.approvals = approvals;
  }

  /** Returns findings of the checks that nobody has called fine, a sentence each. */
  public List<String> open(long strand) throws IOException {
    return checks.check(FootageKey.strand(strand)).faults().stream()
        .filter(f -> f.word() != FootageCheck.Word.FINE)
        .map(f -> "frame " + f.frames().get(0) + ": " + f.text())
        .toList();
  }

  /** Returns how many such findings the last check of each strand has, by its key. */
  public Map<String, Integer> counts(long production) {
    return checks.open(production);
  }

  /**
   * What was decided about a version last.
   *
   * @param text in words
   */
  public record Decided(boolean approved, String text) {}

  /** Returns what was decided about a version last; nothing if nobody has decided. */
  public Optional<Decided> decision(long production, long strand) {
    return approvals.all(production).stream()
        .filter(a -> a.strandId() == strand)
        .max(Comparator.comparingLong(Approval::id))
        .map(
            a ->
                new Decided(
                    a.approved(),
                    "%s by %s%s"
                        .formatted(
                            a.approved() ? "approved" : "turned down",
                            a.who(),
                            a.note().isBlank() ? "" : ": " + a.note())));
  }
}
