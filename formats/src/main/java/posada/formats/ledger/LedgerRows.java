package posada.formats.ledger;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import posada.core.trace.FrameContent.Thing;
import posada.formats.job.StrandDocument;

/** The rows of one strand, wherever they are kept. */
public interface LedgerRows {
  /**
   * Where files were written, and as what.
   *
   * @param folder of the version
   */
  record Written(StrandDocument document, Path folder) {}

  /** Returns all rows by their frames, without what they were made from. */
  Map<Integer, LedgerRow> slim();

  /** Returns some rows by their frames. */
  Map<Integer, LedgerRow> whole(Collection<Integer> frames);

  /** Returns a list of things by its key. */
  List<Thing> things(String key);

  /** Returns where files lie, by the numbers of who wrote them. */
  Map<Long, Written> written(Collection<Long> writers);

  /** Keeps with what settings frames were found fresh. */
  void rebase(Collection<Integer> frames, String basis) throws IOException;

  /** Keeps that the files of frames lie elsewhere by now. */
  void move(Collection<Integer> frames, long writer) throws IOException;
}
