package posada.server.proofs;

import static posada.server.storage.generated.Tables.PROOF;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import posada.server.proofs.StrandProof.Verdict;
import posada.server.proofs.StrandProof.Why;
import posada.server.storage.generated.tables.records.ProofRecord;

/** Keeps which frames were chosen for proofs, and what was said about them. */
@Repository
class ProofRepository {
  private final DSLContext db;

  ProofRepository(DSLContext db) {
    this.db = db;
  }

  /**
   * A frame of a proof as it is kept.
   *
   * @param camera of the shot when it was chosen
   * @param fingerprint of the picture that the verdict is about; null for none
   */
  record Line(
      long shot,
      long layer,
      int frame,
      Why why,
      String camera,
      Verdict verdict,
      String note,
      String fingerprint) {}

  private static Condition of(long shot, long layer) {
    return PROOF.SHOT_ID.eq(shot).and(PROOF.LAYER_ID.eq(layer));
  }

  List<Line> of(List<Long> shots) {
    return db.selectFrom(PROOF)
        .where(PROOF.SHOT_ID.in(shots))
        .orderBy(PROOF.FRAME)
        .fetch(ProofRepository::line);
  }

  private static Line line(ProofRecord r) {
    return new Line(
        r.getShotId(),
        r.getLayerId(),
        r.getFrame(),
        Why.valueOf(r.getWhy()),
        r.getCamera(),
        r.getVerdict() == null ? null : Verdict.valueOf(r.getVerdict()),
        r.getNote(),
        r.getFingerprint());
  }

  /** Chooses frames in place of those that were chosen; what was said of pictures stays. */
  @Transactional
  void choose(long shot, long layer, String camera, Map<Integer, Why> frames) {
    Map<Integer, Line> before = new LinkedHashMap<>();
    of(List.of(shot)).stream().filter(l -> l.layer == layer).forEach(l -> before.put(l.frame, l));
    db.deleteFrom(PROOF).where(of(shot, layer)).execute();
    List<ProofRecord> all = new ArrayList<>();
    frames.forEach(
        (frame, why) -> {
          ProofRecord r = db.newRecord(PROOF);
          Line old = before.get(frame);
          r.setShotId(shot);
          r.setLayerId(layer);
          r.setFrame(frame);
          r.setWhy(why.name());
          r.setCamera(camera);
          if (old != null) {
            r.setVerdict(old.verdict == null ? null : old.verdict.name());
            r.setNote(old.note);
            r.setFingerprint(old.fingerprint);
          }
          all.add(r);
        });
    db.batchInsert(all).execute();
  }

  /** Keeps what somebody thinks of the picture of a frame; returns false if it was not chosen. */
  boolean judge(
      long shot, long layer, int frame, Verdict verdict, String note, String fingerprint) {
    return db.update(PROOF)
            .set(PROOF.VERDICT, verdict == null ? null : verdict.name())
            .set(PROOF.NOTE, note)
            .set(PROOF.FINGERPRINT, fingerprint)
            .where(of(shot, layer), PROOF.FRAME.eq(frame))
            .execute()
        == 1;
  }
}
