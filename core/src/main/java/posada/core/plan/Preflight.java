package posada.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import posada.core.plan.Finding.Remedy;
import posada.core.plan.Finding.Rule;
import posada.core.plan.Finding.Severity;
import posada.core.settings.RenderSettings;
import posada.core.trace.SceneLook;

/** Looks for what would spoil a batch before it is started. */
public final class Preflight {
  /** Fewer samples than this leave noise where the lens or a motion blurs, unless denoised. */
  private static final int ENOUGH_FOR_BLUR = 64;

  private static final Pattern FRAME_FIELD = Pattern.compile("\\{frame(?::(\\d))?}");

  private Preflight() {}

  /**
   * What is known of a strand.
   *
   * @param memoryBytes that a frame takes with its scene
   * @param proof how its proof stands; null if proofs are none of this batch
   */
  public record Strand(
      String shot,
      String layer,
      String camera,
      FrameRange frames,
      double frameRate,
      RenderSettings settings,
      InScene scene,
      Files files,
      long memoryBytes,
      Proof proof) {}

  /**
   * What is known of a strand's scene.
   *
   * @param animation frames over which its animations play; null if it has none
   * @param cameraMoves true if animation moves the camera
   * @param moving names of the cameras of the scene that animation moves
   * @param near what is nearer to the camera other programs do not show, metres; 0 if nobody knows
   * @param missing files that it refers to and that are not there
   * @param notThere what it cannot do without and is not in it, as a sentence; null if all is there
   * @param unfit sentences about names that fit nothing in it
   * @param look what a look at some frames found; null if nobody has looked yet
   */
  public record InScene(
      FrameRange animation,
      boolean cameraMoves,
      List<String> moving,
      double near,
      List<String> missing,
      String notThere,
      List<String> unfit,
      SceneLook look) {}

  /**
   * What is known of a strand's files.
   *
   * @param sceneLinear true if some hold scene-linear values
   * @param shownInExr true if EXR files hold what went through the view transform
   * @param pattern of their names
   * @param fault why files cannot be written; null if they can
   * @param folder in which they will lie, folded as file systems fold names
   * @param taken version whose folder holds files of others, in a word; null if there is none
   * @param frameBytes that a frame's files take at the most
   */
  public record Files(
      boolean sceneLinear,
      boolean shownInExr,
      NamePattern pattern,
      String fault,
      String folder,
      String taken,
      long frameBytes) {}

  /**
   * How the proof of a strand stands.
   *
   * @param approved true if all its frames are
   * @param rejected true if one is
   * @param camera that it shows; null if there is no proof
   */
  public record Proof(boolean approved, boolean rejected, String camera) {}

  /**
   * What is known of all strands together.
   *
   * @param memory bytes that frames may take
   * @param disk bytes that are free for files
   * @param bytes that files will take by estimate; null if that is not known
   * @param seconds that frames will take by estimate; null likewise
   * @param untilDeadline seconds that there are; null if there is no deadline
   * @param notUsed shots and layers of which nothing is rendered, in a word each
   */
  public record Batch(
      long memory,
      long disk,
      Estimate.Figure bytes,
      Estimate.Figure seconds,
      Double untilDeadline,
      List<String> notUsed) {
    /** A batch of which nothing but the room for it is known. */
    public Batch(long memory, long disk) {
      this(memory, disk, null, null, null, List.of());
    }
  }

  /** Returns what is wrong with a batch, errors first. */
  public static List<Finding> check(List<Strand> strands, Batch batch) {
    List<Finding> all = new ArrayList<>();
    for (Strand s : strands) {
      name(s, all);
      range(s, all);
      scene(s, all);
      look(s, all);
      proof(s, all);
      quality(s, all);
      if (s.memoryBytes > batch.memory) {
        String text =
            String.format(
                Locale.ROOT,
                "A frame needs about %s of memory and %s may be taken; choose a smaller scale or"
                    + " fewer passes.",
                gigabytes(s.memoryBytes),
                gigabytes(batch.memory));
        all.add(finding(Severity.ERROR, Rule.MEMORY, s, text, null));
      }
    }
    folders(strands, all);
    proofs(strands, all);
    disk(strands, batch, all);
    deadline(batch, all);
    for (String what : batch.notUsed) {
      String text = "Nothing of " + what + " is on.";
      all.add(new Finding(Severity.NOTE, Rule.NOT_USED, null, null, text, null));
    }
    List<Finding> together = together(all);
    together.sort((a, b) -> a.severity().compareTo(b.severity()));
    return together;
  }

  /** Makes one finding about a shot of those that say the same about several of its layers. */
  private static List<Finding> together(List<Finding> all) {
    Map<Finding, List<Finding>> same = new LinkedHashMap<>();
    for (Finding f : all) {
      same.computeIfAbsent(
              new Finding(f.severity(), f.rule(), f.shot(), null, f.text(), f.remedy()),
              x -> new ArrayList<>())
          .add(f);
    }
    List<Finding> some = new ArrayList<>();
    same.forEach((shot, own) -> some.add(own.size() == 1 ? own.get(0) : shot));
    return some;
  }

  private static Finding finding(
      Severity severity, Rule rule, Strand s, String text, Remedy remedy) {
    return new Finding(severity, rule, s.shot, s.layer, text, remedy);
  }

  private static String gigabytes(double bytes) {
    return String.format(Locale.ROOT, "%.1f GB", bytes / 1e9);
  }

  private static void name(Strand s, List<Finding> all) {
    Files f = s.files;
    String pattern = f.pattern.text();
    try {
      f.pattern.check(s.frames.size());
    } catch (IllegalArgumentException e) {
      Remedy add = new Remedy(Remedy.Kind.PATTERN, pattern + ".{frame:4}");
      all.add(finding(Severity.ERROR, Rule.NAME_WITHOUT_FRAME, s, e.getMessage(), add));
      return;
    }
    if (f.fault != null) {
      all.add(finding(Severity.ERROR, Rule.FILE_NAMES, s, f.fault, null));
    }
    int digits = Integer.toString(s.frames.last()).length();
    Matcher m = FRAME_FIELD.matcher(pattern);
    boolean several = s.frames.first() < Math.pow(10, digits - 1);
    if (several && m.find()) {
      String field = m.group();
      int padding = m.group(1) == null ? 1 : Integer.parseInt(m.group(1));
      if (padding < digits) {
        String padded = m.replaceAll("{frame:" + digits + "}");
        String text =
            "Frame "
                + s.frames.last()
                + " has "
                + digits
                + " digits and "
                + field
                + " pads to "
                + padding
                + "; the files would not sort by their names.";
        Remedy pad = new Remedy(Remedy.Kind.PATTERN, padded);
        all.add(finding(Severity.WARNING, Rule.PADDING, s, text, pad));
      }
    }
    if (f.taken != null) {
      String text =
          "The folder of version "
              + f.taken
              + " holds files that no run wrote; they stay, and the next version is written.";
      all.add(finding(Severity.WARNING, Rule.VERSION_TAKEN, s, text, null));
    }
    if (f.shownInExr) {
      String text =
          "EXR files would hold what went through the view transform; a compositor expects"
              + " scene-linear light in them.";
      Remedy linear = new Remedy(Remedy.Kind.SCENE_LINEAR, "");
      all.add(finding(Severity.WARNING, Rule.DISPLAY_IN_EXR, s, text, linear));
    }
  }

  /** Returns the distance between the last frames, so that a step is not taken for a gap. */
  private static int step(FrameRange r) {
    List<Integer> f = r.frames();
    return f.size() < 2 ? 1 : f.get(f.size() - 1) - f.get(f.size() - 2);
  }

  /** Returns true if frames are left out between others that are nearer to each other. */
  private static boolean hole(FrameRange r, FrameRange within) {
    List<Integer> f = r.frames();
    int[] steps = IntStream.range(1, f.size()).map(i -> f.get(i) - f.get(i - 1)).toArray();
    int[] sorted = steps.clone();
    Arrays.sort(sorted);
    return IntStream.range(0, steps.length)
        .anyMatch(
            i ->
                steps[i] > sorted[sorted.length / 2]
                    && f.get(i) < within.last()
                    && f.get(i + 1) > within.first());
  }

  private static void range(Strand s, List<Finding> all) {
    FrameRange a = s.scene.animation;
    if (a == null || a.size() < 2) {
      return;
    }
    FrameRange f = s.frames;
    String whole = a.first() + "-" + a.last();
    Remedy take = new Remedy(Remedy.Kind.FRAMES, whole);
    if (f.last() + step(f) <= a.last() || f.first() > a.first() || hole(f, a)) {
      String text =
          "The animation runs over frames " + whole + "; frames " + f + " leave some of it out.";
      all.add(finding(Severity.WARNING, Rule.ANIMATION_CUT_OFF, s, text, take));
    }
    if (f.last() > a.last() || f.first() < a.first()) {
      String text =
          "Frames "
              + f
              + " go beyond the animation, which runs over "
              + whole
              + "; nothing moves in the rest.";
      all.add(finding(Severity.WARNING, Rule.FRAMES_WITHOUT_ANIMATION, s, text, take));
    }
  }

  private static void scene(Strand s, List<Finding> all) {
    InScene in = s.scene;
    if (in.notThere != null) {
      all.add(finding(Severity.ERROR, Rule.NOT_IN_SCENE, s, in.notThere, null));
    }
    for (String text : in.unfit) {
      all.add(finding(Severity.WARNING, Rule.NAMES_FIT_NOTHING, s, text, null));
    }
    if (!in.missing.isEmpty()) {
      String text =
          "The scene refers to files that are not there: "
              + String.join(", ", in.missing)
              + ". Import it with them.";
      all.add(finding(Severity.WARNING, Rule.MISSING_FILES, s, text, null));
    }
    if (!in.cameraMoves && !in.moving.isEmpty() && s.frames.size() > 1) {
      String text =
          "The camera "
              + s.camera
              + " stands still while "
              + String.join(", ", in.moving)
              + (in.moving.size() == 1 ? " moves" : " move")
              + "; is it the right one?";
      Remedy other =
          in.moving.size() == 1 ? new Remedy(Remedy.Kind.CAMERA, in.moving.get(0)) : null;
      all.add(finding(Severity.WARNING, Rule.CAMERA_STANDS_STILL, s, text, other));
    }
  }

  private static void look(Strand s, List<Finding> all) {
    SceneLook l = s.scene.look;
    if (l == null) {
      return;
    }
    if (!l.empty().isEmpty()) {
      boolean everywhere = l.empty().size() == l.looked().size();
      String text =
          everywhere
              ? "No object is seen: every frame would show the background alone."
              : "No object is seen at "
                  + framesText(l.empty())
                  + ", of "
                  + l.looked().size()
                  + " frames that were looked at.";
      all.add(finding(Severity.WARNING, Rule.NOTHING_VISIBLE, s, text, null));
    }
    if (l.dark()) {
      String text =
          "Nothing gives light: no lamp, no surface that glows, no environment. The frames would"
              + " be black.";
      all.add(finding(Severity.WARNING, Rule.NO_LIGHT, s, text, null));
    }
    if (!l.inside().isEmpty()) {
      String text =
          "The camera is inside "
              + String.join(", ", new TreeSet<>(l.inside().values()))
              + " at "
              + framesText(List.copyOf(l.inside().keySet()))
              + ".";
      all.add(finding(Severity.WARNING, Rule.CAMERA_INSIDE, s, text, null));
    }
    Map<Integer, SceneLook.Near> cut = new TreeMap<>(l.nearest());
    cut.keySet().removeAll(l.inside().keySet());
    cut.values().removeIf(n -> n.metres() >= s.scene.near);
    if (!cut.isEmpty()) {
      SceneLook.Near one = cut.values().iterator().next();
      String text =
          String.format(
              Locale.ROOT,
              "%s is %.3g m before the camera at %s, nearer than its near plane of %.3g m: other"
                  + " programs cut it off, here it is seen whole. Leave it out of the layer, or move"
                  + " the camera.",
              one.object(),
              one.metres(),
              framesText(List.copyOf(cut.keySet())),
              s.scene.near);
      all.add(finding(Severity.WARNING, Rule.NEAR_PLANE, s, text, null));
    }
    if (!l.changes().isEmpty()) {
      int more = l.changes().size() - 1;
      String text =
          "Baked light would be wrong: "
              + l.changes().get(0)
              + (more > 0 ? "; and " + more + " more." : ".");
      Remedy without = new Remedy(Remedy.Kind.NO_BAKED_LIGHT, "");
      all.add(finding(Severity.ERROR, Rule.BAKED_LIGHT_MOVES, s, text, without));
    }
    if (!l.keysFit(s.frameRate)) {
      String text =
          String.format(
              Locale.ROOT,
              "The animation has its keys on %s frames per second and the production has %s; it"
                  + " plays in the same time, and its keys fall between frames.",
              number(l.keyRate()),
              number(s.frameRate));
      all.add(finding(Severity.WARNING, Rule.FRAME_RATE, s, text, null));
    }
  }

  private static String framesText(List<Integer> frames) {
    return (frames.size() == 1 ? "frame " : "frames ") + new FrameRange(frames);
  }

  private static String number(double x) {
    return x == Math.rint(x) ? Integer.toString((int) x) : String.format(Locale.ROOT, "%.3f", x);
  }

  private static void proof(Strand s, List<Finding> all) {
    Proof p = s.proof;
    Remedy again = new Remedy(Remedy.Kind.PROOF, "");
    if (p != null && p.rejected) {
      String text = "A frame of its proof was rejected.";
      all.add(finding(Severity.WARNING, Rule.PROOF_REJECTED, s, text, again));
    }
    if (p != null && p.camera != null && !p.camera.equals(s.camera)) {
      String text = "The proof shows camera " + p.camera + "; the shot has " + s.camera + " now.";
      all.add(finding(Severity.WARNING, Rule.CAMERA_NOT_PROOFED, s, text, again));
    }
  }

  private static void proofs(List<Strand> strands, List<Finding> all) {
    List<Strand> asked = strands.stream().filter(s -> s.proof != null).toList();
    long without = asked.stream().filter(s -> !s.proof.approved).count();
    if (without > 0) {
      String text =
          without == asked.size()
              ? "No strand has an approved proof."
              : without + " of " + asked.size() + " strands have no approved proof.";
      Remedy make = new Remedy(Remedy.Kind.PROOF, "");
      all.add(new Finding(Severity.WARNING, Rule.NO_PROOF, null, null, text, make));
    }
  }

  private static void quality(Strand s, List<Finding> all) {
    if (!s.files.sceneLinear && !s.files.shownInExr) {
      String text =
          "Only files to look at are written; what is clipped in them cannot be had back. Add EXR"
              + " for compositing.";
      Remedy add = new Remedy(Remedy.Kind.ADD_EXR, "");
      all.add(finding(Severity.WARNING, Rule.ONLY_DISPLAY_FILES, s, text, add));
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
      Remedy more = new Remedy(Remedy.Kind.SAMPLES, Integer.toString(ENOUGH_FOR_BLUR));
      all.add(finding(Severity.WARNING, Rule.NOISE_IN_BLUR, s, text, more));
    }
  }

  private static void folders(List<Strand> strands, List<Finding> all) {
    Map<String, Strand> owners = new HashMap<>();
    for (Strand s : strands) {
      Strand other = owners.putIfAbsent(s.files.folder, s);
      if (other != null) {
        String text =
            "Its files would lie in the folder of shot "
                + other.shot
                + ", layer "
                + other.layer
                + "; choose another name.";
        all.add(finding(Severity.ERROR, Rule.SAME_FOLDER, s, text, null));
      }
    }
  }

  private static void disk(List<Strand> strands, Batch batch, List<Finding> all) {
    double most = 0;
    for (Strand s : strands) {
      most += (double) s.files.frameBytes * s.frames.size();
    }
    boolean known = batch.bytes != null;
    double need = known ? batch.bytes.high() : most;
    if (need > batch.disk) {
      String text =
          "The files take "
              + (known
                  ? "about " + gigabytes(batch.bytes.value()) + ", " + gigabytes(need) + " at most,"
                  : "up to " + gigabytes(need))
              + " and "
              + gigabytes(batch.disk)
              + " are free on the disk; the run pauses when it is full.";
      all.add(new Finding(Severity.WARNING, Rule.DISK, null, null, text, null));
    }
  }

  private static void deadline(Batch batch, List<Finding> all) {
    Double left = batch.untilDeadline;
    if (left == null || batch.seconds == null || batch.seconds.high() <= left) {
      return;
    }
    String takes = "The batch takes about " + hours(batch.seconds.value());
    String text =
        left <= 0
            ? "The deadline is over."
            : batch.seconds.value() > left
                ? takes + " and there are " + hours(left) + " until the deadline."
                : takes
                    + ", "
                    + hours(batch.seconds.high())
                    + " at most, and there are "
                    + hours(left)
                    + " until the deadline.";
    Remedy fit = new Remedy(Remedy.Kind.FIT, "");
    all.add(new Finding(Severity.WARNING, Rule.DEADLINE, null, null, text, fit));
  }

  private static String hours(double seconds) {
    long minutes = Math.round(seconds / 60);
    return minutes < 60 ? minutes + " min" : minutes / 60 + " h " + minutes % 60 + " min";
  }
}
