package posada.server.assembly;

import static posada.server.storage.generated.Tables.HANDOVER;

import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.server.assembly.HandoverService.Handed;
import posada.server.storage.generated.tables.records.HandoverRecord;

/** Keeps what was handed over. */
@Repository
class HandoverRepository {
  private static final int LONGEST = 1900;

  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  HandoverRepository(DSLContext db) {
    this.db = db;
  }

  long add(long production, String path, boolean zip, List<String> titles) {
    HandoverRecord r = db.newRecord(HANDOVER);
    r.setProductionId(production);
    r.setPath(path);
    r.setIsZip(zip);
    r.setState(Handed.State.RUNNING.name());
    String all = String.join("\n", titles);
    r.setTitles(all.length() > LONGEST ? all.substring(0, LONGEST) : all);
    r.setFiles(0);
    r.setBytes(0L);
    r.setStartedAt(LocalDateTime.now(clock));
    r.store();
    return r.getId();
  }

  void ended(long id, Handed.State s, int files, long bytes, String failure) {
    String why =
        failure != null && failure.length() > LONGEST ? failure.substring(0, LONGEST) : failure;
    db.update(HANDOVER)
        .set(HANDOVER.STATE, s.name())
        .set(HANDOVER.FILES, files)
        .set(HANDOVER.BYTES, bytes)
        .set(HANDOVER.FAILURE, why)
        .where(HANDOVER.ID.eq(id))
        .execute();
  }

  /** Says of what was being written when the server ended that it was cut off; returns it. */
  List<Handed> cutOff() {
    List<Handed> all =
        db.selectFrom(HANDOVER)
            .where(HANDOVER.STATE.eq(Handed.State.RUNNING.name()))
            .fetch(HandoverRepository::handed);
    db.update(HANDOVER)
        .set(HANDOVER.STATE, Handed.State.FAILED.name())
        .set(HANDOVER.FAILURE, "The server ended while this was being written.")
        .where(HANDOVER.STATE.eq(Handed.State.RUNNING.name()))
        .execute();
    return all;
  }

  void remove(long id) {
    db.deleteFrom(HANDOVER).where(HANDOVER.ID.eq(id)).execute();
  }

  List<Handed> all(long production) {
    return db.selectFrom(HANDOVER)
        .where(HANDOVER.PRODUCTION_ID.eq(production))
        .orderBy(HANDOVER.ID.desc())
        .fetch(HandoverRepository::handed);
  }

  Optional<Handed> find(long id) {
    return db.selectFrom(HANDOVER)
        .where(HANDOVER.ID.eq(id))
        .fetchOptional(HandoverRepository::handed);
  }

  private static Handed handed(HandoverRecord r) {
    return new Handed(
        r.getId(),
        r.getPath(),
        r.getIsZip(),
        Handed.State.valueOf(r.getState()),
        List.of(r.getTitles().split("\n")),
        r.getFiles(),
        r.getBytes(),
        0,
        r.getFailure(),
        r.getStartedAt().toInstant(ZoneOffset.UTC));
  }
}
