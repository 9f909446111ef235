package posada.formats.ledger;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntPredicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import posada.core.parallel.Stop;
import posada.core.plan.Comb;
import posada.core.trace.FrameContent;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.Again;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;

/**
 * What is to be done for a strand: where its files go, which frames are taken over, and which of
 * the others are made from the same.
 */
public final class FramePlan {
  private FramePlan() {}

  /**
   * A strand with its files' place.
   *
   * @param document with the version
   * @param folder of the version
   */
  public record Place(StrandDocument document, Path folder) {}

  /**
   * A frame of a strand.
   *
   * @param source the frame that is rendered for it
   * @param saved true if it is fresh already
   * @param seconds that it took; null if it is not there, or a copy
   * @param fingerprint that its files bear, or will
   * @param rank in which frames are to be rendered, the least first
   */
  public record Frame(
      int frame, int source, boolean saved, Double seconds, String fingerprint, int rank) {}

  /** Hears that a version is about to be written. */
  public interface Beginning {
    void begins(Place at) throws IOException;
  }

  /**
   * Decides where a strand's files go, and brings its fresh frames there. They stay where they are
   * as long as nothing has to be written over; otherwise they are linked into the folder of a new
   * version, so that every version is whole.
   *
   * @param anew the strand as a new version, and its folder
   * @param writer number of who is about to write
   * @param begins hears before anything is brought to a new version
   */
  public static Place place(
      LedgerRows rows, Standings now, Place anew, long writer, Beginning begins)
      throws IOException {
    Set<Long> writers =
        Stream.of(now.rows())
            .filter(r -> r != null)
            .map(LedgerRow::writer)
            .collect(Collectors.toSet());
    Map<Long, LedgerRows.Written> written = rows.written(writers);
    Map<Long, FrameFiles> files = Comparison.files(rows, writers);
    List<Integer> good = new ArrayList<>();
    LedgerRows.Written where = null;
    boolean together = true;
    for (int i = 0; i < now.of().length; i++) {
      LedgerRow row = now.rows()[i];
      if (now.of()[i].good()) {
        good.add(i);
        LedgerRows.Written own = written.get(row.writer());
        together &= where == null || where.folder().equals(own.folder());
        where = own;
      }
    }
    if (where == null) {
      return anew;
    }
    boolean over = false;
    for (int i = 0; i < now.of().length; i++) {
      LedgerRow row = now.rows()[i];
      boolean bad = row != null && !now.of()[i].good() && now.of()[i] != Standing.MISSING;
      over |= bad && written.get(row.writer()).folder().equals(where.folder());
    }
    StrandDocument d = anew.document.withVersion(where.document().version());
    int first = now.frames().get(good.get(0));
    List<Path> there = files.get(now.rows()[good.get(0)].writer()).paths(first);
    boolean fits =
        together && !over && FrameJob.files(d, where.folder()).paths(first).equals(there);
    if (fits || good.size() == now.of().length) {
      return new Place(d, where.folder());
    }
    begins.begins(anew);
    FrameFiles target = FrameJob.files(anew.document, anew.folder);
    List<Integer> moved = new ArrayList<>();
    for (int i : good) {
      LedgerRow row = now.rows()[i];
      List<Path> from = files.get(row.writer()).paths(row.frame());
      List<Path> to = target.paths(row.frame());
      for (int k = 0; k < to.size(); k++) {
        link(from.get(k), to.get(k));
      }
      moved.add(row.frame());
    }
    Path light = where.folder().resolve(FrameJob.LIGHT);
    if (FrameJob.bakes(anew.document) && Files.exists(light)) {
      link(light, anew.folder.resolve(FrameJob.LIGHT));
    }
    rows.move(moved, writer);
    return anew;
  }

  /** Makes a file appear under a second name, without taking more of the disk where that can be. */
  private static void link(Path from, Path to) throws IOException {
    Files.createDirectories(to.getParent());
    if (Files.exists(to)) {
      return;
    }
    try {
      Files.createLink(to, from);
    } catch (UnsupportedOperationException | IOException e) {
      Files.copy(from, to);
    }
  }

  /** Hears of frames as they are planned, some at a time. */
  public interface Hearing {
    void hear(List<Frame> frames);
  }

  /**
   * Goes through the frames of a strand, in order.
   *
   * @param job that renders them; null if all are fresh
   * @param again how they are rendered that were sent back; null if none were
   * @param chosen frames that are wanted
   * @param comb true if frames from all over the range are to be rendered first
   * @param atOnce frames that are told together
   * @return false if it was stopped
   */
  public static boolean frames(
      Standings now,
      FrameJob job,
      Again again,
      IntPredicate chosen,
      boolean comb,
      int atOnce,
      Stop stop,
      Hearing hearing)
      throws IOException, ImportException {
    int n = now.of().length;
    Map<String, Integer> sources = new HashMap<>();
    List<Frame> some = new ArrayList<>();
    for (int i = 0; i < n; i++) {
      int frame = now.frames().get(i);
      int rank = comb ? Comb.rank(i, n) : i;
      if (!chosen.test(frame)) {
        continue;
      }
      if (now.of()[i].good()) {
        LedgerRow row = now.rows()[i];
        some.add(new Frame(frame, row.source(), true, row.seconds(), row.fingerprint(), rank));
      } else {
        FrameContent.Input input = stop.asked() ? null : job.input(frame, stop);
        if (input == null) {
          return false;
        }
        if (again != null && !again.whole()) {
          // What is put into files of their own makes pictures of their own.
          String bears = again.borne(now.rows()[i].fingerprint(), input);
          some.add(new Frame(frame, frame, false, null, bears, rank));
        } else {
          Integer before = sources.putIfAbsent(input.whole(), frame);
          int source = before == null ? frame : before;
          some.add(new Frame(frame, source, false, null, job.borne(input, source), rank));
        }
      }
      if (some.size() == atOnce) {
        hearing.hear(List.copyOf(some));
        some.clear();
      }
    }
    if (!some.isEmpty()) {
      hearing.hear(List.copyOf(some));
    }
    return true;
  }
}
