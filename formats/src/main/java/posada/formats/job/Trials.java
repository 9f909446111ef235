package posada.formats.job;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.plan.BakeTime;
import posada.core.plan.Estimate;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;

/** Tries frames of a strand out, small and with few samples, to see what they take. */
public final class Trials {
  /** Longest side of a trial, pixels. */
  private static final int TRIAL_SIDE = 160;

  /** Samples of a trial after the first, which warms up: as often as {@link #TRIAL_ROUNDS}. */
  private static final int TRIAL_SAMPLES = 4;

  private static final int TRIAL_ROUNDS = 2;

  private final StrandDocument document;
  private final RenderScene scene;
  private final RenderSettings settings;
  private final FrameJob.Machine machine;

  Trials(
      StrandDocument document,
      RenderScene scene,
      RenderSettings settings,
      FrameJob.Machine machine) {
    this.document = document;
    this.scene = scene;
    this.settings = settings;
    this.machine = machine;
  }

  /**
   * Renders a frame small and with few samples to see what it takes; nothing is kept of it.
   *
   * @param scratch an empty folder, which is so again afterwards
   * @return null if it was stopped
   */
  public Estimate.Trial tryOut(int frame, Path scratch, Stop stop)
      throws IOException, ImportException {
    return tryOut(scene, frame, scratch, stop);
  }

  /**
   * A trial in light that was baked for it.
   *
   * @param seconds that baking the light of all frames takes, by {@link BakeTime}
   */
  public record BakedTrial(double seconds, Estimate.Trial trial) {}

  /** Frames that light is baked from for a trial. */
  private static final int TRIAL_BAKES = 2;

  /**
   * Bakes light from a few frames, small, and tries a frame out in it; nothing is kept.
   *
   * @return null if it was stopped
   * @throws IllegalArgumentException naming what moves or changes
   */
  public BakedTrial tryBaked(int frame, Path scratch, Stop stop)
      throws IOException, ImportException {
    List<String> changes = scene.changes(document.moments(), settings);
    if (!changes.isEmpty()) {
      throw new IllegalArgumentException(changes.get(0));
    }
    List<Moment> all = RenderScene.someOf(document.moments(), settings.irradiance().every());
    List<Moment> some = new ArrayList<>();
    for (int i = 0; i < Math.min(TRIAL_BAKES, all.size()); i++) {
      some.add(all.get(i * (all.size() - 1) / Math.max(1, TRIAL_BAKES - 1)));
    }
    long start = machine.nanoseconds().getAsLong();
    BakedLight small =
        scene.bake(
            document.camera(),
            some,
            trialSide(document.width()),
            trialSide(document.height()),
            settings,
            machine.workers(),
            stop,
            x -> {},
            machine.nanoseconds());
    double tried = (double) trialSide(document.width()) * trialSide(document.height());
    double seconds =
        BakeTime.of(
            since(start),
            tried,
            some.size(),
            (double) document.width() * document.height(),
            all.size());
    Estimate.Trial t =
        small == null ? null : tryOut(scene.withBakedLight(small), frame, scratch, stop);
    return t == null ? null : new BakedTrial(seconds, t);
  }

  /** The part of a trial that a region is of the picture; null for all of it. */
  private Crop small(Crop c, int w, int h) {
    if (c == null) {
      return null;
    }
    double across = w / (double) document.width(), down = h / (double) document.height();
    int x = Math.min(w - 1, (int) (c.x() * across)), y = Math.min(h - 1, (int) (c.y() * down));
    return new Crop(
        x,
        y,
        Math.min(w - x, Math.max(1, (int) Math.round(c.width() * across))),
        Math.min(h - y, Math.max(1, (int) Math.round(c.height() * down))),
        c.alone());
  }

  private int trialSide(int side) {
    double longest = Math.max(document.width(), document.height());
    return Math.max(1, (int) Math.round(side * Math.min(1, TRIAL_SIDE / longest)));
  }

  private Estimate.Trial tryOut(RenderScene ready, int frame, Path scratch, Stop stop)
      throws IOException, ImportException {
    int w = trialSide(document.width());
    int h = trialSide(document.height());
    int samples = 1 + TRIAL_SAMPLES * TRIAL_ROUNDS;
    Sampling own = settings.sampling();
    Moment moment = document.rate().moment(frame);
    List<Crop> region =
        scene.regions(
            document.camera(),
            List.of(moment),
            document.width(),
            document.height(),
            settings,
            machine.workers(),
            stop);
    if (region == null) {
      return null;
    }
    RenderSettings few =
        settings
            .with(
                new Sampling(
                    samples,
                    samples,
                    false,
                    own.noiseThreshold(),
                    0,
                    own.seed(),
                    own.seedPerFrame()))
            .with(small(region.get(0), w, h));
    long start = machine.nanoseconds().getAsLong();
    FrameRenderer renderer =
        ready.frame(
            document.camera(), moment, w, h, few, machine.workers(), stop, machine.freeBytes());
    double building = since(start);
    if (renderer == null || !renderer.advance(1, machine.workers(), stop)) {
      return null;
    }
    FrameFiles small = FrameJob.files(document, scratch);
    long noisy = tried(small, frame, renderer, few, stop);
    double best = Double.POSITIVE_INFINITY;
    double noise = Double.NaN;
    for (int k = 1; k <= TRIAL_ROUNDS; k++) {
      noise = renderer.report().noise();
      start = machine.nanoseconds().getAsLong();
      if (!renderer.advance(1 + k * TRIAL_SAMPLES, machine.workers(), stop)) {
        return null;
      }
      best = Math.min(best, since(start));
    }
    start = machine.nanoseconds().getAsLong();
    long cleaner = tried(small, frame, renderer, few, stop);
    double after = since(start);
    if (noisy < 0 || cleaner < 0) {
      return null;
    }
    // Of the whole picture, of which a region then is the same part at any size.
    double pixels = (double) w * h;
    // Noise does not compress, and falls with the root of the samples.
    double grain = Math.max(0, noisy - cleaner) / (1 - 1 / Math.sqrt(samples));
    double bytes = Math.max(cleaner / 2.0, noisy - grain + grain / Math.sqrt(own.most()));
    return new Estimate.Trial(
        frame,
        building,
        best / (TRIAL_SAMPLES * pixels),
        after / pixels,
        bytes / pixels,
        Estimate.NoiseFall.through(
            samples - TRIAL_SAMPLES, noise, samples, renderer.report().noise()));
  }

  /** Bytes of a trial's files, which are removed again; -1 if it was stopped. */
  private long tried(
      FrameFiles small, int frame, FrameRenderer renderer, RenderSettings few, Stop stop)
      throws IOException {
    FrameImage image = renderer.image(few.passes().wanted(), machine.workers(), stop);
    if (image == null) {
      return -1;
    }
    small.write(frame, image, renderer.deepImage(), Map.of(), true, machine.workers());
    long bytes = small.bytes(frame);
    for (Path p : small.paths(frame)) {
      Files.delete(p);
    }
    return bytes;
  }

  private double since(long start) {
    return (machine.nanoseconds().getAsLong() - start) / 1e9;
  }
}
