package posada.server.storage;

import java.nio.file.Path;
import org.jooq.DSLContext;
import org.jooq.impl.DSL;
import org.springframework.stereotype.Repository;

@Repository
class BackupRepository {
  private final DSLContext db;

  BackupRepository(DSLContext db) {
    this.db = db;
  }

  /** Writes the database as it is into a zip; others go on meanwhile. */
  void write(Path file) {
    db.execute("backup to {0}", DSL.inline(file.toString()));
  }
}
