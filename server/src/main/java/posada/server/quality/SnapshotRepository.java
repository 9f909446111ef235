package posada.server.quality;

import static posada.server.storage.generated.Tables.SNAPSHOT;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import posada.server.shots.Shot;
import posada.server.storage.generated.tables.records.SnapshotRecord;

/** Keeps snapshots, but for their pictures. */
@Repository
class SnapshotRepository {
  private final DSLContext db;

  SnapshotRepository(DSLContext db) {
    this.db = db;
  }

  /** A snapshot with all that was said about its picture. */
  record Kept(Snapshot snapshot, RenderDocument settings, Shot shot) {}

  List<Snapshot> all(long production) {
    return db.selectFrom(SNAPSHOT)
        .where(SNAPSHOT.PRODUCTION_ID.eq(production))
        .orderBy(SNAPSHOT.ID.desc())
        .fetch(r -> kept(r).snapshot);
  }

  Set<Long> ids() {
    return db.select(SNAPSHOT.ID).from(SNAPSHOT).fetchSet(SNAPSHOT.ID);
  }

  Optional<Kept> find(long id) {
    return db.selectFrom(SNAPSHOT).where(SNAPSHOT.ID.eq(id)).fetchOptional(this::kept);
  }

  long add(Snapshot s, RenderDocument settings, Shot shot) {
    SnapshotRecord r = db.newRecord(SNAPSHOT);
    r.setProductionId(s.productionId());
    r.setShotId(s.shotId());
    r.setLayerId(s.layerId());
    r.setFrame(s.frame());
    r.setName(s.name());
    r.setMadeAt(LocalDateTime.ofInstant(s.madeAt(), ZoneOffset.UTC));
    r.setWidth(s.width());
    r.setHeight(s.height());
    r.setSamples(s.samples());
    r.setNoise(s.noise());
    r.setSeconds(s.seconds());
    r.setSettings(Documents.write(settings));
    r.setShot(Documents.write(shot));
    r.store();
    return r.getId();
  }

  boolean rename(long id, String name) {
    return db.update(SNAPSHOT).set(SNAPSHOT.NAME, name).where(SNAPSHOT.ID.eq(id)).execute() == 1;
  }

  boolean remove(long id) {
    return db.deleteFrom(SNAPSHOT).where(SNAPSHOT.ID.eq(id)).execute() == 1;
  }

  private Kept kept(SnapshotRecord r) {
    RenderDocument d = Documents.read(r.getSettings(), RenderDocument.class);
    Snapshot s =
        new Snapshot(
            r.getId(),
            r.getProductionId(),
            r.getShotId(),
            r.getLayerId(),
            r.getFrame(),
            r.getName(),
            r.getMadeAt().toInstant(ZoneOffset.UTC),
            r.getWidth(),
            r.getHeight(),
            r.getSamples(),
            r.getNoise(),
            r.getSeconds(),
            d.recipe());
    return new Kept(s, d, Documents.read(r.getShot(), Shot.class));
  }
}
