package posada.server.productions;

import static posada.server.storage.generated.Tables.PRODUCTION;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.stereotype.Repository;
import posada.server.app.ConflictException;
import posada.server.storage.generated.tables.records.ProductionRecord;

/** Keeps productions. */
@Repository
class ProductionRepository {
  private final DSLContext db;

  ProductionRepository(DSLContext db) {
    this.db = db;
  }

  List<Production> all() {
    return db.selectFrom(PRODUCTION)
        .orderBy(PRODUCTION.ID)
        .fetch()
        .map(ProductionRepository::production);
  }

  Optional<Production> find(long id) {
    return db.selectFrom(PRODUCTION)
        .where(PRODUCTION.ID.eq(id))
        .fetchOptional()
        .map(ProductionRepository::production);
  }

  private static void put(Production p, ProductionRecord r) {
    r.setName(p.name().strip());
    r.setAddress(p.address());
    r.setFrameRate(p.frameRate());
    r.setWidth(p.width());
    r.setHeight(p.height());
    r.setDeadline(
        p.deadline() == null ? null : LocalDateTime.ofInstant(p.deadline(), ZoneOffset.UTC));
    r.setArchived(p.archived());
  }

  Production add(Production p) {
    try {
      ProductionRecord r = db.newRecord(PRODUCTION);
      put(p, r);
      r.setVersion(1);
      r.store();
      return find(r.getId()).orElseThrow();
    } catch (DuplicateKeyException e) {
      throw taken(p);
    }
  }

  /** Changes a production if nobody else did since its version was read. */
  Production change(Production p) {
    ProductionRecord r = db.newRecord(PRODUCTION);
    put(p, r);
    r.setVersion(p.version() + 1);
    try {
      int rows =
          db.update(PRODUCTION)
              .set(r)
              .where(PRODUCTION.ID.eq(p.id()), PRODUCTION.VERSION.eq(p.version()))
              .execute();
      if (rows == 0) {
        throw new ConflictException(
            "Production \"" + p.name() + "\" was changed elsewhere; load it again.");
      }
      return find(p.id()).orElseThrow();
    } catch (DuplicateKeyException e) {
      throw taken(p);
    }
  }

  private static ConflictException taken(Production p) {
    return new ConflictException(
        "There is a production named \"" + p.name() + "\" already; choose another name.");
  }

  private static Production production(ProductionRecord r) {
    return new Production(
        r.getId(),
        r.getVersion(),
        r.getName(),
        r.getAddress(),
        r.getFrameRate(),
        r.getWidth(),
        r.getHeight(),
        r.getDeadline() == null ? null : r.getDeadline().toInstant(ZoneOffset.UTC),
        r.getArchived());
  }
}
