package posada.server.definitions;

import static posada.server.storage.generated.Tables.DEFINITION;

import java.util.List;
import java.util.Optional;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.stereotype.Repository;
import posada.formats.settings.Documents;
import posada.server.app.ConflictException;
import posada.server.storage.generated.tables.records.DefinitionRecord;

/** Keeps layers, recipes and deliveries, each under the name of its kind. */
@Repository
class DefinitionRepository {
  private final DSLContext db;

  DefinitionRepository(DSLContext db) {
    this.db = db;
  }

  private static Condition there(String kind) {
    return DEFINITION.KIND.eq(kind).and(DEFINITION.REMOVED.isFalse());
  }

  /** Returns those of a production in their order. */
  <D> List<Definition<D>> all(String kind, Class<D> type, long production) {
    return db.selectFrom(DEFINITION)
        .where(there(kind), DEFINITION.PRODUCTION_ID.eq(production))
        .orderBy(DEFINITION.PLACE, DEFINITION.ID)
        .fetch(r -> read(r, type));
  }

  <D> Optional<Definition<D>> find(String kind, Class<D> type, long id) {
    return db.selectFrom(DEFINITION)
        .where(there(kind), DEFINITION.ID.eq(id))
        .fetchOptional(r -> read(r, type));
  }

  /** Returns the production of one, whether it is removed or not. */
  long production(long id) {
    return db.select(DEFINITION.PRODUCTION_ID)
        .from(DEFINITION)
        .where(DEFINITION.ID.eq(id))
        .fetchSingle()
        .value1();
  }

  private static void put(Definition<?> d, DefinitionRecord r) {
    r.setName(d.name());
    r.setPlace(d.place());
    r.setDocument(Documents.write(d.document()));
  }

  long add(String kind, Definition<?> d) {
    DefinitionRecord r = db.newRecord(DEFINITION);
    put(d, r);
    r.setKind(kind);
    r.setProductionId(d.productionId());
    r.setVersion(1);
    try {
      r.store();
      return r.getId();
    } catch (DuplicateKeyException e) {
      throw taken(kind, d);
    }
  }

  /** Changes one if nobody else did since its version was read. */
  void change(String kind, Definition<?> d) {
    DefinitionRecord r = db.newRecord(DEFINITION);
    put(d, r);
    r.setVersion(d.version() + 1);
    try {
      int rows =
          db.update(DEFINITION)
              .set(r)
              .where(there(kind), DEFINITION.ID.eq(d.id()), DEFINITION.VERSION.eq(d.version()))
              .execute();
      if (rows == 0) {
        throw new ConflictException(
            "The "
                + kind
                + " \""
                + d.name()
                + "\" was changed or removed elsewhere; load it again.");
      }
    } catch (DuplicateKeyException e) {
      throw taken(kind, d);
    }
  }

  /** Removes one; its row stays, under a name that nobody gives, so that it can be taken back. */
  void remove(long id) {
    db.update(DEFINITION)
        .set(DEFINITION.REMOVED, true)
        .set(DEFINITION.NAME, "/removed " + id)
        .where(DEFINITION.ID.eq(id))
        .execute();
  }

  /** Brings one to a state, whether it is removed or not. */
  void bring(String kind, Definition<?> d) {
    DefinitionRecord r = db.newRecord(DEFINITION);
    put(d, r);
    r.setRemoved(false);
    try {
      db.update(DEFINITION)
          .set(r)
          .set(DEFINITION.VERSION, DEFINITION.VERSION.plus(1))
          .where(DEFINITION.KIND.eq(kind), DEFINITION.ID.eq(d.id()))
          .execute();
    } catch (DuplicateKeyException e) {
      throw taken(kind, d);
    }
  }

  private static ConflictException taken(String kind, Definition<?> d) {
    return new ConflictException(
        "There is a " + kind + " named \"" + d.name() + "\" already; choose another name.");
  }

  private static <D> Definition<D> read(DefinitionRecord r, Class<D> type) {
    return new Definition<>(
        r.getId(),
        r.getVersion(),
        r.getProductionId(),
        r.getName(),
        r.getPlace(),
        Documents.read(r.getDocument(), type));
  }
}
