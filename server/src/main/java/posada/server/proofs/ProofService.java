package posada.server.proofs;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.core.plan.Preflight;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.Standing;
import posada.formats.ledger.Standings;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.board.StrandFacts;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.board.StrandPlan.Wanted;
import posada.server.estimates.EstimateService;
import posada.server.ledger.LedgerService;
import posada.server.proofs.ProofRepository.Line;
import posada.server.proofs.StrandProof.Frame;
import posada.server.proofs.StrandProof.Outcome;
import posada.server.proofs.StrandProof.Verdict;
import posada.server.proofs.StrandProof.Why;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Choosing, rendering and judging a few frames of strands. */
@Service
public class ProofService implements StrandFacts {
  private static final int MOST_LETTERS = 400;

  private final ProofRepository proofs;
  private final StrandPlan plan;
  private final LedgerService ledger;
  private final EstimateService estimates;
  private final RunService runs;
  private final EventHub events;

  ProofService(
      ProofRepository proofs,
      StrandPlan plan,
      LedgerService ledger,
      EstimateService estimates,
      RunService runs,
      EventHub events) {
    this.proofs = proofs;
    this.plan = plan;
    this.ledger = ledger;
    this.estimates = estimates;
    this.runs = runs;
    this.events = events;
  }

  List<StrandProof> all(long production) {
    List<Ready> on = plan.on(production);
    List<Line> lines = proofs.of(on.stream().map(s -> s.shot().id()).distinct().toList());
    return on.stream().map(s -> of(s, lines)).toList();
  }

  private StrandProof of(Ready s, List<Line> lines) {
    List<Frame> frames = new ArrayList<>();
    Standings now = null;
    for (Line l : lines) {
      if (l.shot() == s.shot().id() && l.layer() == s.layerId()) {
        now = now == null ? ledger.standings(s) : now;
        frames.add(frame(l, now));
      }
    }
    boolean running = !frames.isEmpty() && runs.isOpen(s.shot().id(), s.layerId());
    return new StrandProof(
        s.production().id(),
        s.shot().id(),
        s.layerId(),
        StrandProof.outcome(frames, running),
        frames);
  }

  private static Frame frame(Line l, Standings now) {
    int i = now.frames().indexOf(l.frame());
    LedgerRow row = i < 0 ? null : now.rows()[i];
    if (row == null) {
      return new Frame(
          l.frame(), l.why(), Standing.MISSING, null, null, null, null, null, l.note());
    }
    boolean same = row.fingerprint().equals(l.fingerprint());
    return new Frame(
        l.frame(),
        l.why(),
        now.of()[i],
        row.writer(),
        row.fingerprint(),
        row.seconds(),
        row.noise(),
        same ? l.verdict() : null,
        l.note());
  }

  /** Starts the render of the frames by which strands are judged. */
  List<RunStrand> start(long production, List<Wanted> wanted) {
    List<Ready> strands =
        wanted == null
            ? plan.on(production)
            : wanted.stream().map(w -> plan.ready(w.shotId(), w.layerId())).toList();
    if (strands.isEmpty()) {
      throw new IllegalArgumentException("No strand is on; switch one on first.");
    }
    List<RunService.Chosen> chosen = new ArrayList<>();
    List<Map<Integer, Why>> frames = new ArrayList<>();
    for (Ready s : strands) {
      Map<Integer, Why> f =
          chosen(FrameRange.parse(s.shot().frames()).frames(), estimates.dearest(s));
      frames.add(f);
      chosen.add(new RunService.Chosen(s, new FrameRange(List.copyOf(f.keySet()))));
    }
    List<RunStrand> started = runs.startProof(chosen);
    for (int i = 0; i < strands.size(); i++) {
      Ready s = strands.get(i);
      proofs.choose(s.shot().id(), s.layerId(), s.shot().camera(), frames.get(i));
    }
    events.publish(new Stale(Stale.Kind.PROOFS));
    return started;
  }

  /**
   * Returns the frames by which a strand is judged, in order.
   *
   * @param dearest the one that takes longest; null if that is not known
   */
  static Map<Integer, Why> chosen(List<Integer> all, Integer dearest) {
    Map<Integer, Why> some = new TreeMap<>();
    some.put(all.get(0), Why.FIRST);
    some.putIfAbsent(all.get(all.size() - 1), Why.LAST);
    some.putIfAbsent(all.get(all.size() / 2), Why.MIDDLE);
    if (dearest != null) {
      some.putIfAbsent(dearest, Why.DEAREST);
    }
    return some;
  }

  /**
   * Keeps what somebody thinks of the pictures of a proof as they are now.
   *
   * @param frame null for all
   */
  StrandProof judge(long shot, long layer, Integer frame, Verdict verdict, String note) {
    if (note != null && note.length() > MOST_LETTERS) {
      throw new IllegalArgumentException(
          "A note has at most " + MOST_LETTERS + " letters (got " + note.length() + ").");
    }
    Ready s = plan.ready(shot, layer);
    StrandProof before = of(s, proofs.of(List.of(shot)));
    List<Frame> judged =
        before.frames().stream().filter(f -> frame == null || f.frame() == frame).toList();
    if (judged.isEmpty()) {
      throw new NotFoundException("The proof has no such frame; make a proof first.");
    }
    for (Frame f : judged) {
      if (verdict != null && !f.standing().good()) {
        throw new ConflictException(
            "Frame " + f.frame() + " is not fresh; render it again before you judge it.");
      }
      String said = frame == null ? f.note() : note == null || note.isBlank() ? null : note;
      proofs.judge(shot, layer, f.frame(), verdict, said, f.fingerprint());
    }
    events.publish(new Stale(Stale.Kind.PROOFS));
    return of(s, proofs.of(List.of(shot)));
  }

  @Override
  public List<Preflight.Proof> proofs(List<Ready> all) {
    List<Line> lines = proofs.of(all.stream().map(s -> s.shot().id()).distinct().toList());
    List<Preflight.Proof> of = new ArrayList<>();
    for (Ready s : all) {
      List<Line> own =
          lines.stream()
              .filter(l -> l.shot() == s.shot().id() && l.layer() == s.layerId())
              .toList();
      Outcome o = own.isEmpty() ? Outcome.NONE : of(s, own).outcome();
      of.add(
          new Preflight.Proof(
              o == Outcome.APPROVED,
              o == Outcome.REJECTED,
              own.isEmpty() ? null : own.get(0).camera()));
    }
    return of;
  }
}
