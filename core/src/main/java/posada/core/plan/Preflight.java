package posada.core.plan;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import posada.core.plan.Finding.Rule;
import posada.core.plan.Finding.Severity;
import posada.core.settings.RenderSettings;

/** Looks for what would spoil a batch before it is started. */
public final class Preflight {
  /** Fewer samples than this leave noise where the lens or a motion blurs, unless denoised. */
  private static final int ENOUGH_FOR_BLUR = 64;

  private Preflight() {}

  /**
   * What is known of a strand.
   *
   * @param animation frames over which the scene's animations play; null if it has none
   * @param cameraMoves true if animation moves the camera
   * @param someCameraMoves true if it moves any camera of the scene
   * @param missing files that the scene refers to and that are not there
   * @param sceneLinear true if files are written that hold scene-linear values
   * @param pattern of the files' names
   * @param fault why files cannot be named by it; null if they can
   * @param folder in which its files will lie, folded as file systems fold names
   * @param memoryBytes that a frame takes with its scene
   * @param frameBytes that a frame's files take at the most
   * @param notInScene what is named and not in the scene, as a sentence; null if all is there
   */
  public record Strand(
      String shot,
      String layer,
      FrameRange frames,
      FrameRange animation,
      boolean cameraMoves,
      boolean someCameraMoves,
      List<String> missing,
      RenderSettings settings,
      boolean sceneLinear,
      NamePattern pattern,
      String fault,
      String folder,
      long memoryBytes,
      long frameBytes,
      String notInScene) {}

  /**
   * Returns what is wrong with a batch, errors first.
   *
   * @param memory bytes that frames may take
   * @param disk bytes that are free for files
   */
  public static List<Finding> check(List<Strand> strands, long memory, long disk) {
    List<Finding> all = new ArrayList<>();
    for (Strand s : strands) {
      name(s, all);
      range(s, all);
      scene(s, all);
      quality(s, all);
      if (s.memoryBytes > memory) {
        String text =
            String.format(
                Locale.ROOT,
                "A frame needs about %s of memory and %s may be taken; choose a smaller scale or"
                    + " fewer passes.",
                gigabytes(s.memoryBytes),
                gigabytes(memory));
        all.add(finding(Severity.ERROR, Rule.MEMORY, s, text));
      }
    }
    folders(strands, all);
    disk(strands, disk, all);
    all.sort((a, b) -> a.severity().compareTo(b.severity()));
    return all;
  }

  private static Finding finding(Severity severity, Rule rule, Strand s, String text) {
    return new Finding(severity, rule, s.shot, s.layer, text, null);
  }

  private static String gigabytes(long bytes) {
    return String.format(Locale.ROOT, "%.1f GB", bytes / 1e9);
  }

  private static void name(Strand s, List<Finding> all) {
    try {
      s.pattern.check(s.frames.size());
    } catch (IllegalArgumentException e) {
      all.add(finding(Severity.ERROR, Rule.NAME_WITHOUT_FRAME, s, e.getMessage()));
      return;
    }
    if (s.fault != null) {
      all.add(finding(Severity.ERROR, Rule.FILE_NAMES, s, s.fault));
    }
  }

  /** Returns the distance between the last frames, so that a step is not taken for a gap. */
  private static int step(FrameRange r) {
    List<Integer> f = r.frames();
    return f.size() < 2 ? 1 : f.get(f.size() - 1) - f.get(f.size() - 2);
  }

  private static void range(Strand s, List<Finding> all) {
    FrameRange a = s.animation;
    if (a == null || a.size() < 2) {
      return;
    }
    FrameRange f = s.frames;
    String whole = a.first() + "-" + a.last();
    if (f.last() + step(f) <= a.last() || f.first() > a.first()) {
      String text =
          "The animation runs over frames " + whole + "; frames " + f + " leave some of it out.";
      all.add(new Finding(Severity.WARNING, Rule.ANIMATION_CUT_OFF, s.shot, s.layer, text, whole));
    }
    if (f.last() > a.last() || f.first() < a.first()) {
      String text =
          "Frames "
              + f
              + " go beyond the animation, which runs over "
              + whole
              + "; nothing moves in the rest.";
      all.add(
          new Finding(
              Severity.WARNING, Rule.FRAMES_WITHOUT_ANIMATION, s.shot, s.layer, text, whole));
    }
  }

  private static void scene(Strand s, List<Finding> all) {
    if (s.notInScene != null) {
      all.add(finding(Severity.ERROR, Rule.NOT_IN_SCENE, s, s.notInScene));
    }
    if (!s.missing.isEmpty()) {
      String text =
          "The scene refers to files that are not there: "
              + String.join(", ", s.missing)
              + ". Import it with them.";
      all.add(finding(Severity.WARNING, Rule.MISSING_FILES, s, text));
    }
    if (!s.cameraMoves && s.someCameraMoves && s.frames.size() > 1) {
      String text = "The camera stands still while others of the scene move; is it the right one?";
      all.add(finding(Severity.WARNING, Rule.CAMERA_STANDS_STILL, s, text));
    }
  }

  private static void quality(Strand s, List<Finding> all) {
    if (!s.sceneLinear) {
      String text =
          "Only files to look at are written; what is clipped in them cannot be had back. Add EXR"
              + " for compositing.";
      all.add(finding(Severity.WARNING, Rule.ONLY_DISPLAY_FILES, s, text));
    }
    RenderSettings r = s.settings;
    boolean blurs = r.lens().depthOfField() || r.shutter().motionBlur();
    int samples = r.sampling().most();
    if (blurs && samples < ENOUGH_FOR_BLUR && !r.denoising().picture()) {
      String text =
          (r.lens().depthOfField() ? "Depth of field" : "Motion blur")
              + " with "
              + samples
              + " samples and no denoising will be noisy; take "
              + ENOUGH_FOR_BLUR
              + " or more, or denoise.";
      all.add(finding(Severity.WARNING, Rule.NOISE_IN_BLUR, s, text));
    }
  }

  private static void folders(List<Strand> strands, List<Finding> all) {
    Map<String, Strand> owners = new HashMap<>();
    for (Strand s : strands) {
      Strand other = owners.putIfAbsent(s.folder, s);
      if (other != null) {
        String text =
            "Its files would lie in the folder of shot "
                + other.shot
                + ", layer "
                + other.layer
                + "; choose another name.";
        all.add(finding(Severity.ERROR, Rule.SAME_FOLDER, s, text));
      }
    }
  }

  private static void disk(List<Strand> strands, long disk, List<Finding> all) {
    long need = strands.stream().mapToLong(s -> s.frameBytes * s.frames.size()).sum();
    if (need > disk) {
      String text =
          String.format(
              Locale.ROOT,
              "The files take up to %s and %s are free on the disk; the run pauses when it is full.",
              gigabytes(need),
              gigabytes(disk));
      all.add(new Finding(Severity.WARNING, Rule.DISK, null, null, text, null));
    }
  }
}
