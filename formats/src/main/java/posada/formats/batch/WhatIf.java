package posada.formats.batch;

import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import posada.core.plan.FrameRange;
import posada.core.settings.Denoising;
import posada.core.settings.Irradiance;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.job.StrandDocument;

/** Changes by which a batch gets cheaper, and what they make of a strand. */
public enum WhatIf {
  HALF_SIZE,
  EVERY_SECOND_FRAME,
  /** A quarter of the samples, with denoising. */
  FEWER_SAMPLES,
  BAKED_LIGHT,
  CLAY,
  /** Without passes that take time of their own. */
  FEWER_PASSES;

  /** Of the samples, as denoising makes up for the rest. */
  private static final int QUARTER = 4;

  /** Passes that take more than about 1 % of a frame's time, each alone or together. */
  private static final Set<Pass> DEAR =
      EnumSet.of(
          Pass.AMBIENT_OCCLUSION,
          Pass.GUIDES,
          Pass.LIGHT_GROUPS,
          Pass.MOTION_NEXT,
          Pass.MOTION_PREVIOUS);

  static {
    DEAR.addAll(Pass.LIGHT_PARTS);
  }

  /** Returns every second frame of a range, beginning with the first. */
  public static String everySecond(String frames) {
    List<Integer> all = FrameRange.parse(frames).frames();
    return new FrameRange(
            IntStream.range(0, all.size()).filter(i -> i % 2 == 0).mapToObj(all::get).toList())
        .toString();
  }

  /** Returns the recipe with a quarter of the samples, and denoising. */
  public static Recipe fewerSamples(Recipe r) {
    int samples = Math.max(1, r.sampling().most() / QUARTER);
    Recipe few = r.with(r.sampling().with(samples, r.sampling().seed()));
    return few.denoising().picture() ? few : few.with(new Denoising(true, 1));
  }

  /** Returns the recipe with light that is baked once. */
  public static Recipe bakedLight(Recipe r) {
    Irradiance i = r.irradiance();
    return r.with(
        new Irradiance(true, i.every(), i.accuracy(), i.tolerance(), i.paths(), i.direct()));
  }

  /** Returns the layer under clay; one that has a plain material already stays as it is. */
  public static Layer clay(Layer l) {
    return l.material() == null ? l.of(Layer.Plain.CLAY) : l;
  }

  /** Returns the passes without the dear ones. */
  public static PassSettings fewerPasses(PassSettings p) {
    Set<Pass> some =
        p.wanted().stream()
            .filter(x -> !DEAR.contains(x))
            .collect(Collectors.toCollection(() -> EnumSet.noneOf(Pass.class)));
    return some.isEmpty() ? p : p.with(some);
  }

  /** Returns half of a side, pixels; at least one. */
  public static int half(int side) {
    return Math.max(1, (side + 1) / 2);
  }

  /** Returns what a strand is then; equal if it changes nothing of it. */
  public StrandDocument of(StrandDocument d) {
    Recipe r = d.settings().recipe();
    return switch (this) {
      case HALF_SIZE -> d.withSize(half(d.width()), half(d.height()));
      case EVERY_SECOND_FRAME -> d.withFrames(everySecond(d.frames()));
      case FEWER_SAMPLES -> d.with(d.settings().settings().with(fewerSamples(r)));
      case BAKED_LIGHT ->
          r.irradiance().use() ? d : d.with(d.settings().settings().with(bakedLight(r)));
      case CLAY -> d.with(d.settings().settings().with(clay(d.settings().layer())));
      case FEWER_PASSES -> d.with(d.settings().settings().with(fewerPasses(d.settings().passes())));
    };
  }
}
