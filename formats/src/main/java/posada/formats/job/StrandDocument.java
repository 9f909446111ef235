package posada.formats.job;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.scene.Digest;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameContent;
import posada.formats.files.Delivery;
import posada.formats.settings.RenderDocument;

/**
 * The frozen settings of a strand: all that its frames are made from beside the scene's files.
 *
 * @param schema number of this form; {@link #SCHEMA}
 * @param revision number of the scene's revision
 * @param sceneSha256 of the scene's files
 * @param sceneFile the scene file among them
 * @param frames as written, such as {@code 1-96x4}
 * @param frameRate frames per second
 * @param width pixels
 * @param height pixels
 * @param settings what is said about the pictures
 * @param version of the strand's files
 * @param date for file names, such as 2026-11-29
 */
public record StrandDocument(
    int schema,
    String production,
    String scene,
    int revision,
    String sceneSha256,
    String sceneFile,
    String shot,
    String camera,
    String frames,
    double frameRate,
    int width,
    int height,
    RenderDocument settings,
    int version,
    String date) {
  /** The number of today's form. */
  public static final int SCHEMA = 1;

  public StrandDocument {
    if (schema != SCHEMA) {
      throw new IllegalArgumentException(
          "schema must be " + SCHEMA + " (got " + schema + "): the document is of another version");
    }
    FrameRange.check(frames);
  }

  public FrameRate rate() {
    return new FrameRate(frameRate);
  }

  /** Returns when the frames are, in order. */
  public List<Moment> moments() {
    return FrameRange.parse(frames).frames().stream().map(rate()::moment).toList();
  }

  /** Returns the same for another version of the files. */
  public StrandDocument withVersion(int number) {
    return with(sceneSha256, number);
  }

  /** Returns the same of other scene files. */
  public StrandDocument of(String sha256) {
    return with(sha256, version);
  }

  /** Returns the same written otherwise. */
  public StrandDocument with(Delivery d) {
    return changed(sceneSha256, version, frames, width, height, settings.with(d));
  }

  /** Returns the same rendered otherwise. */
  public StrandDocument with(RenderSettings s) {
    return changed(sceneSha256, version, frames, width, height, settings.with(s));
  }

  /** Returns the same of other frames, as a range. */
  public StrandDocument withFrames(String range) {
    return changed(sceneSha256, version, range, width, height, settings);
  }

  /** Returns the same in another size, pixels. */
  public StrandDocument withSize(int w, int h) {
    return changed(sceneSha256, version, frames, w, h, settings);
  }

  private StrandDocument with(String sha256, int number) {
    return changed(sha256, number, frames, width, height, settings);
  }

  private StrandDocument changed(
      String sha256, int number, String range, int w, int h, RenderDocument s) {
    return new StrandDocument(
        schema,
        production,
        scene,
        revision,
        sha256,
        sceneFile,
        shot,
        camera,
        range,
        frameRate,
        w,
        h,
        s,
        number,
        date);
  }

  /**
   * Returns a fingerprint of all that a frame's content may depend on: while it is the same no
   * frame has changed. Quickly found, without the scene.
   */
  public String basis() {
    Layer.Region region = settings.layer().region();
    boolean together =
        region != null && region.fixed() == null || settings.recipe().irradiance().use();
    return Digest.of(
        sceneSha256,
        sceneFile,
        camera,
        together ? frames : "",
        frameRate,
        width,
        height,
        settings.text(),
        FrameContent.PICTURE_VERSION);
  }

  /**
   * Returns what is the same for strands that take the same and look the same, but for the names of
   * their layers and how many pixels and frames they have: what is found out about one holds for
   * all.
   */
  public String kind() {
    RenderSettings s = settings.settings();
    return Digest.of(
        sceneSha256,
        sceneFile,
        camera,
        frameRate,
        Math.round(1000.0 * width / height),
        settings.with(s.with(s.layer().named(Layer.MAIN.name()))).text());
  }

  /** Returns the values of the fields of file names, but for frame and pass. */
  Map<String, String> fields() {
    Map<String, String> f = new TreeMap<>();
    f.put("production", production);
    f.put("scene", scene);
    f.put("shot", shot);
    f.put("layer", settings.layer().name());
    f.put("camera", camera);
    f.put("version", Integer.toString(version));
    f.put("date", date);
    return f;
  }
}
