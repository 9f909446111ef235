package posada.server.estimates;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.plan.Estimate;
import posada.core.plan.Estimate.Trial;
import posada.core.plan.FrameRange;
import posada.core.plan.Reach;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.Remaining;
import posada.formats.ledger.Standings;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.board.StrandFacts;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.ledger.LedgerService;
import posada.server.storage.DataFolder;

/** Tries frames of strands out while nothing is rendered, and says what the others will take. */
@Service
public class EstimateService implements StrandFacts {
  private static final Logger LOG = LoggerFactory.getLogger(EstimateService.class);

  /** Frames of a strand that are tried out. */
  private static final int TRIALS = 4;

  /** Strands with more frames are taken to have none that are made from the same. */
  private static final int MOST_COMPARED = 5000;

  private static final int MOST_KEPT = 5000;

  private final TrialRepository trials;
  private final StrandPlan plan;
  private final LedgerService ledger;
  private final RenderThreads pool;
  private final EventHub events;

  /** For strands as they are now, which frames are made from the same. */
  private final Cache<String, Map<Integer, Integer>> sources =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).build();

  /** Strands as they are now, of which no frame could be tried out. */
  private final Cache<String, Boolean> hopeless =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).build();

  private final Set<Key> waiting = ConcurrentHashMap.newKeySet();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "estimates"));
  private volatile boolean closed;

  private record Key(long shot, long layer) {}

  EstimateService(
      TrialRepository trials,
      StrandPlan plan,
      LedgerService ledger,
      RenderThreads pool,
      EventHub events) {
    this.trials = trials;
    this.plan = plan;
    this.ledger = ledger;
    this.pool = pool;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * Returns what is known of the strands of a production that are on, and has the rest tried out.
   */
  List<StrandEstimate> all(long production) {
    return known(plan.on(production)).stream().map(this::told).toList();
  }

  @Override
  public Estimate.Result takes(List<Ready> all) {
    List<Estimate.Figure> seconds = new ArrayList<>(), bytes = new ArrayList<>();
    for (Known k : known(all)) {
      StrandEstimate e = estimate(k);
      if (e.frames() > 0 && e.trials() + e.finished() == 0) {
        return null;
      }
      seconds.add(e.seconds());
      bytes.add(e.bytes());
    }
    return new Estimate.Result(Estimate.sum(seconds), Estimate.sum(bytes));
  }

  /** Returns what is known of the strands that are on, and has the rest tried out. */
  List<Known> asked(long production) {
    List<Known> known = known(plan.on(production));
    known.forEach(this::told);
    return known;
  }

  /** Returns whether a strand can be tried out, whenever that may be. */
  boolean isHopeless(Known k) {
    return hopeless.asMap().containsKey(k.key);
  }

  private StrandEstimate told(Known k) {
    StrandEstimate e = estimate(k);
    Key key = new Key(k.strand.shot().id(), k.strand.layerId());
    if (e.pending() && waiting.add(key)) {
      thread.execute(() -> tryOut(key));
    }
    return e;
  }

  /**
   * What is known of a strand.
   *
   * @param key of what is found out about it
   * @param sources see {@link Remaining#sources}; empty while that is not known
   */
  record Known(
      Ready strand,
      StrandDocument document,
      String key,
      Standings now,
      Map<Integer, Integer> sources,
      List<Trial> trials) {
    long pixels() {
      return (long) document.width() * document.height();
    }

    int samples() {
      return document.settings().recipe().sampling().most();
    }

    Remaining left() {
      return Remaining.of(now, sources);
    }

    /** What frames take by their samples; there must be a trial. */
    Estimate.BySamples bySamples(List<Integer> frames) {
      return Estimate.bySamples(frames, pixels(), samples(), trials, left().finished());
    }

    /** Frames that are rendered if none is there. */
    List<Integer> rendered() {
      return now.frames().stream().filter(f -> sources.getOrDefault(f, f).equals(f)).toList();
    }
  }

  Known known(Ready s) {
    return known(List.of(s)).get(0);
  }

  /** Returns what is known of strands, in few queries. */
  List<Known> known(List<Ready> some) {
    List<StrandDocument> documents = some.stream().map(s -> plan.document(s, 1)).toList();
    List<String> bases = documents.stream().map(StrandDocument::kind).toList();
    Map<String, List<Trial>> all = trials.of(Set.copyOf(bases));
    List<Known> known = new ArrayList<>();
    for (int i = 0; i < some.size(); i++) {
      StrandDocument d = documents.get(i);
      Standings now = ledger.standings(some.get(i));
      String key = bases.get(i) + d.frames();
      Map<Integer, Integer> same = sources.getIfPresent(key);
      List<Trial> own =
          all.getOrDefault(bases.get(i), List.of()).stream()
              .filter(t -> Collections.binarySearch(now.frames(), t.frame()) >= 0)
              .toList();
      known.add(new Known(some.get(i), d, key, now, same == null ? Map.of() : same, own));
    }
    return known;
  }

  /**
   * What all frames of a strand take by their samples: {@code fixed + perSample * samples} seconds.
   */
  record SecondsBySamples(long shotId, long layerId, double fixed, double perSample) {}

  /** Returns what strands take by their samples, as far as that is known. */
  List<SecondsBySamples> bySamples(long production) {
    List<SecondsBySamples> all = new ArrayList<>();
    for (Known k : asked(production)) {
      if (!k.trials.isEmpty()) {
        Estimate.BySamples t = k.bySamples(k.rendered());
        all.add(
            new SecondsBySamples(
                k.strand.shot().id(), k.strand.layerId(), t.fixed(), t.perSample()));
      }
    }
    return all;
  }

  /**
   * What the frames of a strand come to ({@link Reach}), and what those that are finished have come
   * to.
   *
   * @param known false while a frame is still to be tried out; what trials say is 0 then
   * @param finished frames that are finished with the same settings
   * @param noises of each of them
   */
  record StrandReach(
      boolean known,
      int frames,
      double samples,
      double seconds,
      double noise,
      int noisiest,
      double most,
      List<Integer> finished,
      List<Double> noises) {}

  /**
   * Returns what the frames of a strand come to.
   *
   * @param limit seconds for each frame, 0 for none; null for the recipe's own
   */
  StrandReach reach(long shot, Long layer, Double limit) {
    Known k = known(plan.ready(shot, layer));
    told(k);
    double own = k.document.settings().recipe().sampling().seconds();
    List<Estimate.Finished> finished = k.left().finished();
    List<Estimate.Finished> measured = finished.stream().filter(f -> f.noise() != null).toList();
    double asked = limit == null ? own : limit;
    Reach r =
        k.trials.isEmpty()
            ? null
            : Reach.of(
                k.now.frames(),
                k.pixels(),
                k.samples(),
                asked,
                k.trials,
                // Frames of another limit say nothing of this one.
                own == 0 ? finished : List.of());
    Reach told = r == null ? new Reach(k.now.frames().size(), 0, 0, 0, 0, 0) : r;
    return new StrandReach(
        r != null,
        told.frames(),
        told.samples(),
        told.seconds(),
        told.noise(),
        told.noisiest(),
        told.most(),
        measured.stream().map(Estimate.Finished::frame).toList(),
        measured.stream().map(Estimate.Finished::noise).toList());
  }

  /** Returns the frame of a strand that takes longest; null if that is not known. */
  public Integer dearest(Ready s) {
    Known k = known(s);
    return Estimate.dearest(k.pixels(), k.samples(), k.trials, k.left().finished());
  }

  /** Has something found out while nothing is rendered, behind what was asked for before. */
  void later(Runnable work) {
    thread.execute(
        () -> {
          pool.awaitRest(() -> closed);
          if (!closed) {
            work.run();
          }
        });
  }

  boolean isClosed() {
    return closed;
  }

  private static List<Integer> wanted(StrandDocument d) {
    return Estimate.tried(FrameRange.parse(d.frames()).frames(), TRIALS);
  }

  private StrandEstimate estimate(Known k) {
    Remaining left = k.left();
    List<Integer> tried = k.trials.stream().map(Trial::frame).toList();
    boolean compared = sources.getIfPresent(k.key) != null;
    boolean pending =
        !left.written().isEmpty()
            && !hopeless.asMap().containsKey(k.key)
            && (!compared || !tried.containsAll(Estimate.tried(k.now.frames(), TRIALS)));
    Estimate.Result e = left.estimate(k.document, k.trials);
    return new StrandEstimate(
        k.strand.production().id(),
        k.strand.shot().id(),
        k.strand.layerId(),
        left.rendered().size(),
        left.written().size(),
        e.seconds(),
        e.bytes(),
        k.trials.size(),
        left.finished().size(),
        pending);
  }

  private void tryOut(Key key) {
    waiting.remove(key);
    Ready s = null;
    try {
      s = plan.ready(key.shot, key.layer);
      StrandDocument d = plan.document(s, 1);
      tryOut(d);
      if (!closed) {
        events.publish(estimate(known(s)));
      }
    } catch (ImportException | IOException | RuntimeException | OutOfMemoryError e) {
      if (closed) {
        return;
      }
      LOG.warn("what shot {} takes cannot be found out", key.shot, e);
      if (s != null) {
        StrandDocument d = plan.document(s, 1);
        hopeless.put(d.kind() + d.frames(), true);
        events.publish(estimate(known(s)));
      }
    }
  }

  private void tryOut(StrandDocument d) throws ImportException, IOException {
    String basis = d.kind();
    List<Integer> there = trials.of(basis).stream().map(Trial::frame).toList();
    Path scratch = Files.createTempDirectory("posada-trial");
    try {
      FrameJob job = ledger.job(d, scratch);
      String prints = d.kind() + d.frames();
      if (sources.getIfPresent(prints) == null) {
        boolean many = FrameRange.parse(d.frames()).size() > MOST_COMPARED;
        Map<Integer, Integer> same =
            many
                ? Map.of()
                : Remaining.sources(
                    d,
                    job,
                    () -> {
                      pool.awaitRest(() -> closed);
                      return closed;
                    });
        if (same != null) {
          sources.put(prints, same);
        }
      }
      for (int f : wanted(d)) {
        Trial t = there.contains(f) ? null : tryOut(job, f, scratch);
        if (t != null) {
          trials.put(basis, t);
        }
      }
    } finally {
      DataFolder.remove(scratch);
    }
  }

  /** Tries a frame out while nothing else is rendered, which would have it seem slow. */
  private Trial tryOut(FrameJob job, int frame, Path scratch) throws ImportException, IOException {
    Trial t = null;
    while (t == null && !closed) {
      pool.awaitQuiet(() -> closed);
      try (RenderThreads.Watched mine = pool.measuring()) {
        t = job.trials().tryOut(frame, scratch, () -> closed || !pool.isQuiet());
      }
    }
    return t;
  }
}
