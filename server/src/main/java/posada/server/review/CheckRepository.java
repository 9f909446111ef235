package posada.server.review;

import static posada.server.storage.generated.Tables.SEQUENCE_CHECK;
import static posada.server.storage.generated.Tables.VERDICT;

import java.time.Clock;
import java.time.LocalDateTime;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.core.review.Fault;
import posada.server.review.FootageCheck.FaultVerdict;
import posada.server.review.FootageCheck.Word;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** Keeps what checks have found, and what was said of it. */
@Repository
class CheckRepository {
  private static final JsonMapper JSON = new JsonMapper();

  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  CheckRepository(DSLContext db) {
    this.db = db;
  }

  /** What was said of the finding of a kind that begins at a frame. */
  record Said(Fault.Kind kind, int frame, FaultVerdict verdict) {}

  /** Returns what was found in files that have this stamp, if they were checked. */
  Optional<FootageCheck> find(FootageKey key, String stamp) {
    return db.selectFrom(SEQUENCE_CHECK)
        .where(SEQUENCE_CHECK.FOOTAGE.eq(key.toString()), SEQUENCE_CHECK.STAMP.eq(stamp))
        .fetchOptional(r -> read(r.getBody()))
        .flatMap(c -> c);
  }

  /** Returns what was kept; nothing if it is of another form: it is found again. */
  private static Optional<FootageCheck> read(String body) {
    try {
      return Optional.of(JSON.readValue(body, FootageCheck.class));
    } catch (JacksonException otherForm) {
      return Optional.empty();
    }
  }

  /** Returns what was found last in the sequences of a production, whatever has become of them. */
  Map<String, FootageCheck> all(long production) {
    Map<String, FootageCheck> all = new TreeMap<>();
    db.selectFrom(SEQUENCE_CHECK)
        .where(SEQUENCE_CHECK.PRODUCTION_ID.eq(production))
        .forEach(r -> read(r.getBody()).ifPresent(c -> all.put(r.getFootage(), c)));
    return all;
  }

  void put(FootageKey key, long production, String stamp, FootageCheck c) {
    db.mergeInto(SEQUENCE_CHECK)
        .using(db.selectOne())
        .on(SEQUENCE_CHECK.FOOTAGE.eq(key.toString()))
        .whenMatchedThenUpdate()
        .set(SEQUENCE_CHECK.STAMP, stamp)
        .set(SEQUENCE_CHECK.BODY, JSON.writeValueAsString(c))
        .whenNotMatchedThenInsert()
        .set(SEQUENCE_CHECK.FOOTAGE, key.toString())
        .set(SEQUENCE_CHECK.PRODUCTION_ID, production)
        .set(SEQUENCE_CHECK.STAMP, stamp)
        .set(SEQUENCE_CHECK.BODY, JSON.writeValueAsString(c))
        .execute();
  }

  List<Said> said(FootageKey key) {
    return db.selectFrom(VERDICT)
        .where(VERDICT.FOOTAGE.eq(key.toString()))
        .fetch(
            r ->
                new Said(
                    Fault.Kind.valueOf(r.getKind()),
                    r.getFrame(),
                    new FaultVerdict(Word.valueOf(r.getWord()), r.getReason(), r.getWho())));
  }

  /** Keeps what was said of a finding in place of what was said before. */
  void say(FootageKey key, long production, Said s) {
    unsay(key, s.kind(), s.frame());
    db.insertInto(VERDICT)
        .set(VERDICT.FOOTAGE, key.toString())
        .set(VERDICT.PRODUCTION_ID, production)
        .set(VERDICT.KIND, s.kind().name())
        .set(VERDICT.FRAME, s.frame())
        .set(VERDICT.WORD, s.verdict().word().name())
        .set(VERDICT.REASON, s.verdict().reason())
        .set(VERDICT.WHO, s.verdict().who())
        .set(VERDICT.SAID_AT, LocalDateTime.now(clock))
        .execute();
  }

  void unsay(FootageKey key, Fault.Kind kind, int frame) {
    db.deleteFrom(VERDICT)
        .where(
            VERDICT.FOOTAGE.eq(key.toString()),
            VERDICT.KIND.eq(kind.name()),
            VERDICT.FRAME.eq(frame))
        .execute();
  }
}
