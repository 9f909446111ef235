package posada.formats.ledger;

import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import posada.core.scene.Digest;
import posada.core.trace.FrameContent.Input;
import posada.core.trace.FrameContent.Part;
import posada.core.trace.FrameContent.Thing;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/**
 * The ledger of one strand as a file of lines, each a JSON object; of lines about one thing the
 * last counts. A line is forced to disk before the next is begun, and one that was cut off is left
 * out. Files are named by their version. Not safe for several threads.
 */
public final class LedgerFile implements LedgerRows, Closeable {
  private static final JsonMapper JSON = new JsonMapper();

  /**
   * One line: a row without its strand, a list of things, or a version; the rest is null.
   *
   * @param folder of a version, below the folder of all
   */
  private record Line(
      Row row,
      String key,
      List<Thing> things,
      Integer version,
      StrandDocument document,
      String folder) {}

  /** A row as it is written. */
  private record Row(
      int frame,
      int version,
      int source,
      Map<Part, String> parts,
      String things,
      long[] places,
      long[] met,
      String fingerprint,
      String basis,
      Double seconds,
      int samples,
      Double noise,
      long bytes) {
    static Row of(LedgerRow r) {
      return new Row(
          r.frame(),
          (int) r.writer(),
          r.source(),
          r.parts(),
          r.things(),
          r.places(),
          r.met() == null ? null : r.met().toLongArray(),
          r.fingerprint(),
          r.basis(),
          r.seconds(),
          r.samples(),
          r.noise(),
          r.bytes());
    }

    LedgerRow row() {
      return new LedgerRow(
          frame,
          version,
          source,
          parts,
          things,
          places,
          met == null ? null : BitSet.valueOf(met),
          fingerprint,
          basis,
          seconds,
          samples,
          noise,
          bytes,
          null,
          null);
    }
  }

  private final Path base;
  private final Path file;
  private final Map<Integer, LedgerRow> rows = new TreeMap<>();
  private final Map<String, List<Thing>> lists = new HashMap<>();
  private final Map<Long, Written> versions = new TreeMap<>();

  /** Null until something is written. */
  private FileChannel out;

  /**
   * @param file that need not be there
   * @param base folder below which the versions lie
   * @throws IOException if it cannot be read
   */
  public LedgerFile(Path file, Path base) throws IOException {
    this.file = file;
    this.base = base;
    if (Files.exists(file)) {
      for (String text : Files.readAllLines(file, StandardCharsets.UTF_8)) {
        read(text);
      }
    }
  }

  private void read(String text) {
    Line l;
    try {
      l = JSON.readValue(text, Line.class);
    } catch (JacksonException cutOff) {
      return;
    }
    if (l.row != null) {
      rows.put(l.row.frame, l.row.row());
    } else if (l.things != null) {
      lists.put(l.key, l.things);
    } else if (l.version != null) {
      StrandDocument d = Documents.read(Documents.write(l.document), StrandDocument.class);
      versions.put((long) l.version, new Written(d, base.resolve(l.folder)));
    }
  }

  private void write(Line l) throws IOException {
    if (out == null) {
      Files.createDirectories(file.getParent());
      boolean cutOff = Files.exists(file) && Files.size(file) > 0;
      out =
          FileChannel.open(
              file, StandardOpenOption.CREATE, StandardOpenOption.WRITE, StandardOpenOption.APPEND);
      if (cutOff) {
        out.write(ByteBuffer.wrap("\n".getBytes(StandardCharsets.UTF_8)));
      }
    }
    out.write(
        ByteBuffer.wrap((JSON.writeValueAsString(l) + "\n").getBytes(StandardCharsets.UTF_8)));
    out.force(false);
  }

  /** Returns the number that the next version gets. */
  public int nextVersion() {
    return (int) (versions.keySet().stream().mapToLong(v -> v).max().orElse(0) + 1);
  }

  /** Keeps that a version is about to be written. */
  public void begin(StrandDocument d, Path folder) throws IOException {
    Written w = new Written(d, folder);
    if (!w.equals(versions.put((long) d.version(), w))) {
      write(
          new Line(
              null,
              null,
              null,
              d.version(),
              d,
              base.relativize(folder).toString().replace('\\', '/')));
    }
  }

  /**
   * Keeps that a frame was rendered or copied.
   *
   * @param input what it was made from
   * @param row all but that
   */
  public void record(Input input, LedgerRow row) throws IOException {
    String key = Digest.of(JSON.writeValueAsString(input.things()));
    if (!lists.containsKey(key)) {
      lists.put(key, input.things());
      write(new Line(null, key, input.things(), null, null, null));
    }
    put(row.of(input, key));
  }

  private void put(LedgerRow row) throws IOException {
    rows.put(row.frame(), row);
    write(new Line(Row.of(row), null, null, null, null, null));
  }

  @Override
  public Map<Integer, LedgerRow> slim() {
    Map<Integer, LedgerRow> all = new LinkedHashMap<>();
    rows.forEach((f, r) -> all.put(f, r.slim()));
    return all;
  }

  @Override
  public Map<Integer, LedgerRow> whole(Collection<Integer> frames) {
    Map<Integer, LedgerRow> some = new LinkedHashMap<>();
    for (int f : frames) {
      if (rows.containsKey(f)) {
        some.put(f, rows.get(f));
      }
    }
    return some;
  }

  @Override
  public List<Thing> things(String key) {
    return lists.getOrDefault(key, List.of());
  }

  @Override
  public Map<Long, Written> written(Collection<Long> writers) {
    Map<Long, Written> some = new HashMap<>();
    writers.forEach(w -> some.put(w, versions.get(w)));
    return some;
  }

  @Override
  public void rebase(Collection<Integer> frames, String basis) throws IOException {
    for (int f : frames) {
      put(rows.get(f).rebased(basis));
    }
  }

  @Override
  public void move(Collection<Integer> frames, long writer) throws IOException {
    for (int f : frames) {
      put(rows.get(f).writtenBy(writer));
    }
  }

  @Override
  public void close() throws IOException {
    if (out != null) {
      out.close();
    }
  }
}
