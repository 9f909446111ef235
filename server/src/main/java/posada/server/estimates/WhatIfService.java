package posada.server.estimates;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.plan.BakeTime;
import posada.core.plan.Estimate;
import posada.core.plan.Estimate.BySamples;
import posada.core.plan.Estimate.Figure;
import posada.core.plan.Estimate.Trial;
import posada.core.plan.Fit;
import posada.core.settings.RenderSettings;
import posada.formats.batch.WhatIf;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.job.Trials;
import posada.formats.ledger.Remaining;
import posada.server.app.EventHub;
import posada.server.app.Stale;
import posada.server.estimates.EstimateService.Known;
import posada.server.ledger.LedgerService;
import posada.server.storage.DataFolder;

/** Says what a batch would take if it were done otherwise. */
@Service
class WhatIfService {
  private static final Logger LOG = LoggerFactory.getLogger(WhatIfService.class);
  private static final int MOST_KEPT = 20_000;

  private final EstimateService estimates;
  private final LedgerService ledger;
  private final EventHub events;

  /** What trials of changed strands found. */
  private final Cache<String, Tried> tried = Caffeine.newBuilder().maximumSize(MOST_KEPT).build();

  private final Set<String> waiting = ConcurrentHashMap.newKeySet();

  WhatIfService(EstimateService estimates, LedgerService ledger, EventHub events) {
    this.estimates = estimates;
    this.ledger = ledger;
    this.events = events;
  }

  /**
   * What a trial of a changed strand found.
   *
   * @param bake seconds for baking light; 0 if none is baked
   * @param trial null if the change cannot be made
   * @param refusal why; null if it can
   */
  private record Tried(double bake, Trial trial, String refusal) {}

  /**
   * What a batch takes.
   *
   * @param change null for as it is
   * @param strands that are changed
   * @param seconds for what is to be rendered then
   * @param bytes of its files
   * @param noise of the noisiest strand; null if that is not known
   * @param pending strands of which a frame is still to be tried out
   * @param refusal why it cannot be done; null if it can
   */
  record Line(
      @Schema(types = {"string", "null"}) WhatIf change,
      int strands,
      Figure seconds,
      Figure bytes,
      @Schema(types = {"number", "null"}) Double noise,
      int pending,
      @Schema(types = {"string", "null"}) String refusal) {}

  /** Returns what the strands take that are on as they are, and with each change. */
  List<Line> all(long production) {
    List<Known> on = estimates.asked(production);
    List<Line> lines = new ArrayList<>();
    lines.add(line(null, on));
    for (WhatIf w : WhatIf.values()) {
      lines.add(line(w, on));
    }
    return lines;
  }

  private Line line(WhatIf w, List<Known> on) {
    List<Figure> seconds = new ArrayList<>(), bytes = new ArrayList<>();
    Double noise = null;
    int changed = 0, pending = 0;
    String refusal = null;
    for (Known k : on) {
      StrandDocument d = w == null ? k.document() : w.of(k.document());
      boolean same = w == null || same(k.document(), d);
      changed += same ? 0 : 1;
      if (k.trials().isEmpty()) {
        pending += estimates.isHopeless(k) ? 0 : 1;
        continue;
      }
      Takes t = same ? today(k) : takes(w, k, d);
      if (t == null) {
        pending++;
      } else if (t.refusal != null) {
        refusal = refusal == null ? k.document().shot() + ": " + t.refusal : refusal;
      } else {
        seconds.add(t.result.seconds());
        bytes.add(t.result.bytes());
        noise = noise == null ? t.noise : Double.valueOf(Math.max(noise, t.noise));
      }
    }
    return new Line(
        w, changed, Estimate.sum(seconds), Estimate.sum(bytes), noise, pending, refusal);
  }

  private static boolean same(StrandDocument a, StrandDocument b) {
    return a.basis().equals(b.basis()) && a.frames().equals(b.frames());
  }

  /** What a strand takes, and how noisy it is; or why it cannot be done. */
  private record Takes(Estimate.Result result, double noise, String refusal) {}

  private static double noise(Known k) {
    return k.bySamples(k.rendered()).noise().of(k.samples());
  }

  private static Takes today(Known k) {
    return new Takes(k.left().estimate(k.document(), k.trials()), noise(k), null);
  }

  /** Returns what a changed strand takes; null if that is still to be tried out. */
  private Takes takes(WhatIf w, Known k, StrandDocument d) {
    if (w == WhatIf.EVERY_SECOND_FRAME) {
      Remaining left = k.left().only(d.frames());
      return new Takes(left.estimate(k.document(), k.trials()), noise(k), null);
    }
    Estimate.Result whole =
        Estimate.of(
            k.rendered(),
            k.now().frames(),
            k.pixels(),
            k.samples(),
            k.trials(),
            k.left().finished());
    Trial before = k.trials().get(k.trials().size() / 2);
    double bake = 0;
    Trial after = before;
    if (w != WhatIf.HALF_SIZE) {
      Tried t = tried(w, k, d, before.frame());
      if (t == null || t.refusal != null) {
        return t == null ? null : new Takes(null, 0, t.refusal);
      }
      after = t.trial;
      bake = t.bake;
    }
    long pixels = (long) d.width() * d.height();
    int samples = d.settings().recipe().sampling().most();
    double slower = after.seconds(pixels, samples) / before.seconds(k.pixels(), k.samples());
    double larger = after.bytesPerPixel() * pixels / (before.bytesPerPixel() * k.pixels());
    Figure baked = new Figure(bake, bake * (1 - BakeTime.OFF), bake * (1 + BakeTime.OFF));
    Figure seconds = Estimate.sum(List.of(whole.seconds().times(slower), baked));
    double was = before.noise().of(k.samples());
    double noise = after.noise().of(samples) * (was > 0 ? noise(k) / was : 1);
    return new Takes(new Estimate.Result(seconds, whole.bytes().times(larger)), noise, null);
  }

  private Tried tried(WhatIf w, Known k, StrandDocument d, int frame) {
    String key = d.kind() + d.frames() + frame;
    Tried t = tried.getIfPresent(key);
    if (t == null && waiting.add(key)) {
      estimates.later(
          () -> {
            tried.put(key, tryOut(w == WhatIf.BAKED_LIGHT, d, frame));
            waiting.remove(key);
            events.publish(new Stale(Stale.Kind.WHATIF));
          });
    }
    return t;
  }

  private Tried tryOut(boolean baked, StrandDocument d, int frame) {
    try {
      Path scratch = Files.createTempDirectory("posada-trial");
      try {
        FrameJob job = ledger.job(d, scratch);
        if (baked) {
          Trials.BakedTrial t = job.trials().tryBaked(frame, scratch, estimates::isClosed);
          return t == null ? stopped() : new Tried(t.seconds(), t.trial(), null);
        }
        Trial t = job.trials().tryOut(frame, scratch, estimates::isClosed);
        return t == null ? stopped() : new Tried(0, t, null);
      } finally {
        DataFolder.remove(scratch);
      }
    } catch (IllegalArgumentException e) {
      return new Tried(0, null, e.getMessage());
    } catch (ImportException | IOException | RuntimeException | OutOfMemoryError e) {
      LOG.warn("shot {} cannot be tried out", d.shot(), e);
      return new Tried(0, null, "it could not be tried out");
    }
  }

  private static Tried stopped() {
    return new Tried(0, null, "it was stopped");
  }

  /**
   * A strand that is fitted.
   *
   * @param samples of each pixel as it is, and then
   * @param noise likewise
   * @param seconds for all its frames, likewise
   */
  record Fitted(
      long shotId,
      long layerId,
      int samplesNow,
      int samplesThen,
      double noiseNow,
      double noiseThen,
      double secondsNow,
      double secondsThen) {}

  /**
   * Samples by which strands are as clean as a time allows.
   *
   * @param pending strands of which a frame is still to be tried out
   * @param refusal why that cannot be; null if it can
   */
  record Fitting(
      List<Fitted> strands, int pending, @Schema(types = {"string", "null"}) String refusal) {}

  /**
   * Fits the strands that are on and have frames to render into a time.
   *
   * @param seconds that there are
   */
  Fitting fit(long production, double seconds) {
    List<Known> all =
        estimates.asked(production).stream().filter(k -> !k.left().written().isEmpty()).toList();
    List<Known> known = all.stream().filter(k -> !k.trials().isEmpty()).toList();
    long pending =
        all.stream().filter(k -> k.trials().isEmpty() && !estimates.isHopeless(k)).count();
    if (pending > 0) {
      return new Fitting(List.of(), (int) pending, null);
    }
    List<BySamples> takes = known.stream().map(k -> k.bySamples(k.rendered())).toList();
    List<Fit.Strand> strands = new ArrayList<>();
    for (int i = 0; i < takes.size(); i++) {
      BySamples t = takes.get(i);
      int least = Math.min(Fit.LEAST, known.get(i).samples());
      strands.add(
          new Fit.Strand(t.fixed(), t.perSample(), t.noise(), least, RenderSettings.MOST_SAMPLES));
    }
    int[] samples = Fit.samples(strands, seconds);
    if (samples == null) {
      double least = strands.stream().mapToDouble(s -> s.seconds(s.least())).sum();
      String why =
          String.format(
              java.util.Locale.ROOT,
              "Even with the fewest samples the batch takes %.0f min; leave strands out, or make"
                  + " frames smaller.",
              Math.ceil(least / 60));
      return new Fitting(List.of(), 0, why);
    }
    List<Fitted> rows = new ArrayList<>();
    for (int i = 0; i < samples.length; i++) {
      Known k = known.get(i);
      Fit.Strand s = strands.get(i);
      rows.add(
          new Fitted(
              k.strand().shot().id(),
              k.strand().layerId(),
              k.samples(),
              samples[i],
              s.noise(k.samples()),
              s.noise(samples[i]),
              s.seconds(k.samples()),
              s.seconds(samples[i])));
    }
    return new Fitting(rows, 0, null);
  }
}
