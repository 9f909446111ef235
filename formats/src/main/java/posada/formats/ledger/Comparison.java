package posada.formats.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import posada.core.parallel.Stop;
import posada.core.plan.Freshness;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameContent.Thing;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;

/** Finds out how the frames of a strand stand against settings. */
public final class Comparison {
  /** Rows that are looked at together. */
  private static final int AT_ONCE = 1000;

  private Comparison() {}

  /** Makes what says what a strand's frames are made from. */
  public interface Making {
    FrameJob job() throws ImportException, IOException;
  }

  /** Returns where the files of rows lie, by the numbers of who wrote them. */
  public static Map<Long, FrameFiles> files(LedgerRows rows, Set<Long> writers) {
    Map<Long, FrameFiles> files = new HashMap<>();
    rows.written(writers)
        .forEach((id, w) -> files.put(id, FrameJob.files(w.document(), w.folder())));
    return files;
  }

  /** Returns what can be told without a look at the scene; the rest is {@link Standing#UNKNOWN}. */
  public static Standings atOnce(LedgerRows rows, StrandDocument d) {
    String basis = d.basis();
    Standings s = Standings.empty(basis, d.frames());
    Map<Integer, LedgerRow> there = rows.slim();
    Map<Long, FrameFiles> files =
        files(rows, there.values().stream().map(LedgerRow::writer).collect(Collectors.toSet()));
    for (int i = 0; i < s.of().length; i++) {
      LedgerRow r = there.get(s.frames().get(i));
      if (r == null) {
        continue;
      }
      s.rows()[i] = r;
      List<Path> paths = files.get(r.writer()).paths(r.frame());
      if (!paths.stream().allMatch(Files::exists)) {
        s.reasons()[i] = "files are gone";
      } else if (r.mark() == LedgerRow.Mark.SUSPECT) {
        s.of()[i] = Standing.SUSPECT;
        s.reasons()[i] = r.note() == null ? "suspect" : "suspect: " + r.note();
      } else {
        s.of()[i] = r.basis().equals(basis) ? Standing.FRESH : Standing.UNKNOWN;
      }
    }
    return s;
  }

  /**
   * Returns how the frames of a strand stand.
   *
   * @param making asked only if that cannot be told without a look at the scene
   * @return null if it was stopped
   */
  public static Standings find(LedgerRows rows, StrandDocument d, Making making, Stop stop)
      throws ImportException, IOException {
    Standings s = atOnce(rows, d);
    return s.count(Standing.UNKNOWN) == 0 || compare(rows, s, making.job(), stop) ? s : null;
  }

  private static boolean compare(LedgerRows rows, Standings s, FrameJob job, Stop stop)
      throws ImportException, IOException {
    Map<String, List<Thing>> lists = new HashMap<>();
    Map<Integer, LedgerRow> whole = new HashMap<>();
    Set<Integer> fresh = new HashSet<>();
    for (int i = 0; i < s.of().length; i++) {
      if (s.of()[i] != Standing.UNKNOWN) {
        continue;
      }
      int frame = s.frames().get(i);
      FrameContent.Input now = stop.asked() ? null : job.input(frame, stop);
      if (now == null) {
        return false;
      }
      if (!whole.containsKey(frame)) {
        int end = Math.min(s.frames().size(), i + AT_ONCE);
        whole = rows.whole(s.frames().subList(i, end));
      }
      LedgerRow r = whole.get(frame);
      List<String> changes = Freshness.changes(made(r, rows, lists), now);
      if (changes.isEmpty()) {
        s.of()[i] = Standing.FRESH;
        fresh.add(frame);
      } else {
        boolean again = r.mark() == LedgerRow.Mark.AGAIN && changes.equals(Freshness.RECIPE_ALONE);
        boolean kept = again || r.mark() == LedgerRow.Mark.KEPT;
        s.of()[i] = kept ? Standing.KEPT : Standing.STALE;
        s.reasons()[i] = again ? r.note() : String.join(", ", changes);
      }
    }
    rows.rebase(fresh, s.basis());
    return true;
  }

  private static Freshness.Made made(LedgerRow r, LedgerRows rows, Map<String, List<Thing>> lists) {
    if (r.parts().isEmpty()) {
      return new Freshness.Made(r.parts(), List.of(), null);
    }
    List<Thing> things = lists.computeIfAbsent(r.things(), rows::things);
    return new Freshness.Made(r.parts(), FrameContent.placed(things, r.places()), r.met());
  }
}
