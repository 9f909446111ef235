package posada.formats.batch;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.plan.Preflight;
import posada.core.plan.UnfitNames;
import posada.core.rig.RigCamera;
import posada.core.trace.RenderScene;
import posada.core.trace.SceneLook;
import posada.formats.files.Delivery;
import posada.formats.files.DeliveryColor;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.SceneReport;
import posada.formats.gltf.SceneReport.AnimationLine;
import posada.formats.gltf.SceneReport.CameraLine;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.RigDocument;

/**
 * A strand of a plan.
 *
 * @param document as its first version
 * @param sceneFile path beside the plan
 */
public record PlanStrand(StrandDocument document, String sceneFile) {
  /** Returns what it is called: {@code shot/layer}. */
  public String name() {
    return document.shot() + "/" + document.settings().layer().name();
  }

  /**
   * Returns what is known of a strand before it is rendered.
   *
   * @param folder in which all its versions lie, folded as file systems fold names
   * @param scene in which what it names is looked up; null if only the report is there
   * @param more what is known beside its document and scene
   */
  public static Preflight.Strand facts(
      StrandDocument d, SceneReport report, String folder, RenderScene scene, More more) {
    RenderDocument settings = d.settings();
    Delivery delivery = settings.delivery();
    List<CameraLine> cameras = cameras(settings.rig(), report);
    String fault = null;
    long frameBytes = 0;
    try {
      FrameFiles files = FrameJob.files(d, java.nio.file.Path.of(""));
      frameBytes = files.mostBytes(d.width(), d.height());
    } catch (IllegalArgumentException e) {
      fault = e.getMessage();
    }
    boolean linear = delivery.formats().stream().anyMatch(f -> !f.display());
    boolean shown = delivery.color().encoding() == DeliveryColor.Encoding.DISPLAY;
    return new Preflight.Strand(
        d.shot(),
        settings.layer().name(),
        d.camera(),
        FrameRange.parse(d.frames()),
        d.frameRate(),
        settings.settings(),
        new Preflight.InScene(
            animation(d, report),
            cameras.stream().anyMatch(c -> c.name().equals(d.camera()) && c.moves()),
            cameras.stream().filter(CameraLine::moves).map(CameraLine::name).toList(),
            cameras.stream()
                .filter(c -> c.name().equals(d.camera()))
                .findFirst()
                .map(CameraLine::nearMetres)
                .orElse(0.0),
            report.missing(),
            notInScene(d, cameras, scene, more.unfit),
            scene == null ? List.of() : UnfitNames.of(scene.scene(), settings.settings()),
            more.look),
        new Preflight.Files(
            linear && !shown,
            shown && delivery.formats().contains(FileFormat.EXR),
            new NamePattern(delivery.pattern()),
            fault,
            folder,
            more.taken,
            frameBytes),
        report.memoryBytes() + RenderScene.filmBytes(d.width(), d.height(), settings.settings()),
        more.proof);
  }

  /**
   * What is known of a strand beside its document and scene.
   *
   * @param look at some frames; null if nobody has looked yet
   * @param taken version whose folder holds files of others; null if there is none
   * @param proof null if proofs are none of the batch
   * @param unfit why the rig's camera does not fit the scene; null if it does, or nobody looked
   */
  public record More(SceneLook look, String taken, Preflight.Proof proof, String unfit) {
    public static final More NOTHING = new More(null, null, null, null);
  }

  /** Returns the cameras of a scene: the file's, and then the rig's. */
  private static List<CameraLine> cameras(RigDocument rig, SceneReport report) {
    List<CameraLine> all = new ArrayList<>(report.cameras());
    if (rig != null) {
      for (RigCamera c : rig.cameras()) {
        all.add(
            new CameraLine(
                c.name(),
                c.orthographic() ? "orthographic" : "perspective",
                c.orthographic() ? 0 : c.view(),
                c.orthographic() ? c.view() : 0,
                c.moves(),
                false,
                null));
      }
    }
    return all;
  }

  private static String notInScene(
      StrandDocument d, List<CameraLine> cameras, RenderScene scene, String unfit) {
    if (unfit != null) {
      return unfit;
    }
    if (cameras.stream().noneMatch(c -> c.name().equals(d.camera()))) {
      return "There is no camera \""
          + d.camera()
          + "\" in the scene; there are "
          + cameras.stream().map(CameraLine::name).collect(Collectors.joining(", "))
          + ".";
    }
    if (scene != null && scene.scene().cameraNode(d.camera()) < 0) {
      return "The camera \""
          + d.camera()
          + "\" of the rig does not fit the scene: what it is fixed to or looks at is not there.";
    }
    try {
      if (scene != null) {
        scene.check(d.settings().settings());
      }
      return null;
    } catch (IllegalArgumentException e) {
      return e.getMessage() + ".";
    }
  }

  /** The frames over which all animations play; null if none does, or not all play. */
  private static FrameRange animation(StrandDocument d, SceneReport report) {
    List<AnimationLine> all = report.animations();
    if (all.isEmpty() || d.settings().clips() != null) {
      return null;
    }
    double start = all.stream().mapToDouble(AnimationLine::start).min().orElse(0);
    double end = all.stream().mapToDouble(AnimationLine::end).max().orElse(0);
    FrameRange range = FrameRange.ofAnimation(start, end, d.frameRate());
    return range.size() < 2 ? null : range;
  }
}
