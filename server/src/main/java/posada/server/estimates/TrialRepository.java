package posada.server.estimates;

import static posada.server.storage.generated.Tables.TRIAL;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.core.plan.Estimate.NoiseFall;
import posada.core.plan.Estimate.Trial;
import posada.server.storage.generated.tables.records.TrialRecord;

/** Keeps what trials found. */
@Repository
class TrialRepository {
  private final DSLContext db;

  TrialRepository(DSLContext db) {
    this.db = db;
  }

  List<Trial> of(String basis) {
    return of(Set.of(basis)).getOrDefault(basis, List.of());
  }

  /** Returns the trials of each basis that has any. */
  Map<String, List<Trial>> of(Set<String> bases) {
    return db.selectFrom(TRIAL)
        .where(TRIAL.BASIS.in(bases))
        .orderBy(TRIAL.FRAME)
        .fetchGroups(
            TRIAL.BASIS,
            r ->
                new Trial(
                    r.getFrame(),
                    r.getBuilding(),
                    r.getPerSample(),
                    r.getPerPixel(),
                    r.getBytesPerPixel(),
                    new NoiseFall(r.getNoise(), r.getBend())));
  }

  void put(String basis, Trial t) {
    TrialRecord r = db.newRecord(TRIAL);
    r.setBasis(basis);
    r.setFrame(t.frame());
    r.setBuilding(t.building());
    r.setPerSample(t.perSample());
    r.setPerPixel(t.perPixel());
    r.setBytesPerPixel(t.bytesPerPixel());
    r.setNoise(t.noise().one());
    r.setBend(t.noise().bend());
    r.merge();
  }
}
