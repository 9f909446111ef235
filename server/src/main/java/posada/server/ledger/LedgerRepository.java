package posada.server.ledger;

import static posada.server.storage.generated.Tables.CONTENT;
import static posada.server.storage.generated.Tables.LEDGER;
import static posada.server.storage.generated.Tables.RUN_STRAND;

import java.nio.ByteBuffer;
import java.nio.file.Path;
import java.util.BitSet;
import java.util.Collection;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.core.scene.Digest;
import posada.core.trace.FrameContent.Part;
import posada.core.trace.FrameContent.Thing;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.formats.settings.Documents;
import posada.server.storage.generated.tables.records.LedgerRecord;
import tools.jackson.databind.json.JsonMapper;

/** Keeps the ledger and what its frames were made from. */
@Repository
class LedgerRepository {
  private static final JsonMapper JSON = new JsonMapper();

  /** Frames that one statement is about. */
  private static final int AT_ONCE = 1000;

  private final DSLContext db;

  LedgerRepository(DSLContext db) {
    this.db = db;
  }

  /** Returns the rows of a strand. */
  LedgerRows of(long shot, long layer) {
    return new StrandRowsRepository(shot, layer);
  }

  /** The rows of one strand. */
  final class StrandRowsRepository implements LedgerRows {
    private final Condition these;

    private StrandRowsRepository(long shot, long layer) {
      these = LEDGER.SHOT_ID.eq(shot).and(LEDGER.LAYER_ID.eq(layer));
    }

    @Override
    public Map<Integer, LedgerRow> slim() {
      Map<Integer, LedgerRow> all = new HashMap<>();
      db.select(
              LEDGER.FRAME,
              LEDGER.STRAND_ID,
              LEDGER.SOURCE,
              LEDGER.FINGERPRINT,
              LEDGER.BASIS,
              LEDGER.SECONDS,
              LEDGER.SAMPLES,
              LEDGER.NOISE,
              LEDGER.BYTES,
              LEDGER.MARK,
              LEDGER.NOTE)
          .from(LEDGER)
          .where(these)
          .fetchInto(LedgerRecord.class)
          .forEach(r -> all.put(r.getFrame(), row(r)));
      return all;
    }

    @Override
    public Map<Integer, LedgerRow> whole(Collection<Integer> frames) {
      Map<Integer, LedgerRow> all = new HashMap<>();
      db.selectFrom(LEDGER)
          .where(these, LEDGER.FRAME.in(frames))
          .fetch(LedgerRepository::row)
          .forEach(r -> all.put(r.frame(), r));
      return all;
    }

    @Override
    public List<Thing> things(String key) {
      String body =
          db.select(CONTENT.BODY).from(CONTENT).where(CONTENT.HASH.eq(key)).fetchSingle().value1();
      return List.of(JSON.readValue(body, Thing[].class));
    }

    @Override
    public Map<Long, Written> written(Collection<Long> writers) {
      Map<Long, Written> all = new HashMap<>();
      db.select(RUN_STRAND.ID, RUN_STRAND.SETTINGS, RUN_STRAND.FOLDER)
          .from(RUN_STRAND)
          .where(RUN_STRAND.ID.in(writers))
          .fetch()
          .forEach(
              r ->
                  all.put(
                      r.value1(),
                      new Written(
                          Documents.read(r.value2(), StrandDocument.class), Path.of(r.value3()))));
      return all;
    }

    @Override
    public void rebase(Collection<Integer> frames, String basis) {
      some(
          frames,
          part ->
              db.update(LEDGER)
                  .set(LEDGER.BASIS, basis)
                  .where(these, LEDGER.FRAME.in(part))
                  .execute());
    }

    @Override
    public void move(Collection<Integer> frames, long writer) {
      some(
          frames,
          part ->
              db.update(LEDGER)
                  .set(LEDGER.STRAND_ID, writer)
                  .where(these, LEDGER.FRAME.in(part))
                  .execute());
    }

    /** So many that a statement has no more numbers than it may have. */
    private void some(Collection<Integer> frames, Consumer<List<Integer>> change) {
      List<Integer> all = List.copyOf(frames);
      for (int i = 0; i < all.size(); i += AT_ONCE) {
        change.accept(all.subList(i, Math.min(all.size(), i + AT_ONCE)));
      }
    }
  }

  private static LedgerRow row(LedgerRecord r) {
    return new LedgerRow(
        r.getFrame(),
        r.getStrandId(),
        r.getSource(),
        parts(r.getParts()),
        r.getThings(),
        r.getPlaces() == null ? null : longs(r.getPlaces()),
        r.getMet() == null ? null : BitSet.valueOf(r.getMet()),
        r.getFingerprint(),
        r.getBasis(),
        r.getSeconds(),
        r.getSamples(),
        r.getNoise(),
        r.getBytes(),
        r.getMark() == null ? null : LedgerRow.Mark.valueOf(r.getMark()),
        r.getNote());
  }

  private static Map<Part, String> parts(String text) {
    Map<Part, String> parts = new EnumMap<>(Part.class);
    if (text != null && !text.isEmpty()) {
      for (String p : text.split(",")) {
        int colon = p.indexOf(':');
        parts.put(Part.valueOf(p.substring(0, colon)), p.substring(colon + 1));
      }
    }
    return parts;
  }

  private static String text(Map<Part, String> parts) {
    StringBuilder s = new StringBuilder();
    parts.forEach(
        (p, hash) -> s.append(s.length() == 0 ? "" : ",").append(p).append(':').append(hash));
    return s.toString();
  }

  private static long[] longs(byte[] bytes) {
    long[] all = new long[bytes.length / Long.BYTES];
    ByteBuffer.wrap(bytes).asLongBuffer().get(all);
    return all;
  }

  private static byte[] bytes(long[] all) {
    ByteBuffer b = ByteBuffer.allocate(all.length * Long.BYTES);
    b.asLongBuffer().put(all);
    return b.array();
  }

  /** Keeps a list of things, if it is not there; returns its key. */
  String keep(List<Thing> things) {
    String body = JSON.writeValueAsString(things);
    String hash = Digest.of(body);
    db.insertInto(CONTENT)
        .set(CONTENT.HASH, hash)
        .set(CONTENT.BODY, body)
        .onDuplicateKeyIgnore()
        .execute();
    return hash;
  }

  /** Keeps a row in place of what is there for its frame. */
  void put(long shot, long layer, LedgerRow r) {
    LedgerRecord n = db.newRecord(LEDGER);
    n.setShotId(shot);
    n.setLayerId(layer);
    n.setFrame(r.frame());
    n.setStrandId(r.writer());
    n.setSource(r.source());
    n.setParts(text(r.parts()));
    n.setThings(r.things());
    n.setPlaces(r.places() == null ? null : bytes(r.places()));
    n.setMet(r.met() == null ? null : r.met().toByteArray());
    n.setFingerprint(r.fingerprint());
    n.setBasis(r.basis());
    n.setSeconds(r.seconds());
    n.setSamples(r.samples());
    n.setNoise(r.noise());
    n.setBytes(r.bytes());
    n.setMark(r.mark() == null ? null : r.mark().name());
    n.setNote(r.note());
    n.merge();
  }

  /** Marks frames; returns how many there were. */
  int mark(long shot, long layer, Collection<Integer> frames, LedgerRow.Mark mark, String note) {
    return db.update(LEDGER)
        .set(LEDGER.MARK, mark == null ? null : mark.name())
        .set(LEDGER.NOTE, note)
        .where(LEDGER.SHOT_ID.eq(shot), LEDGER.LAYER_ID.eq(layer), LEDGER.FRAME.in(frames))
        .execute();
  }
}
