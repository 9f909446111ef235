package posada.server.runs;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import posada.core.plan.Fingerprint;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Denoising;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.formats.exr.ExrHeader;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.settings.SettingsJson;

/**
 * The frozen settings of a run: all that a worker needs beside the scene's files.
 *
 * @param sceneSha256 the scene's files
 * @param sceneFile the scene file among them
 * @param settings what else is said about rendering, after docs/settings.md
 * @param date of the run, for file names
 */
public record RunSettings(
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
    int samples,
    Map<String, Object> settings,
    List<String> passes,
    List<String> formats,
    String pattern,
    int version,
    String date) {
  /** Default layout below the version's folder: a folder for each pass. */
  public static final String PATTERN = "{pass}/{shot}_{layer}_{pass}.{frame:4}";

  public FrameRate rate() {
    return new FrameRate(frameRate);
  }

  /** Returns the name of the layer that the settings describe. */
  public String layer() {
    Object layer = settings == null ? null : settings.get("layer");
    Object name = layer instanceof Map<?, ?> l ? l.get("name") : null;
    return name == null ? Layer.MAIN.name() : name.toString();
  }

  private SettingsJson.Document document() {
    return SettingsJson.withoutSurroundings(settings == null ? Map.of() : settings);
  }

  /** Returns true if the frames are rendered with baked light. */
  public boolean bakesLight() {
    return document().settings().irradiance().use();
  }

  /** Returns the run's files under a folder. */
  public FrameFiles files(Path folder) {
    Set<Pass> set = new TreeSet<>();
    passes.forEach(p -> set.add(Pass.named(p)));
    SettingsJson.Document d = document();
    return new FrameFiles(
        folder,
        new NamePattern(pattern),
        formats.stream().map(FileFormat::named).toList(),
        d.settings().passes().with(set),
        Map.of(
            "production", production,
            "scene", scene,
            "shot", shot,
            "layer", layer(),
            "camera", camera,
            "version", Integer.toString(version),
            "date", date),
        rate(),
        d.settings().background(),
        d.files());
  }

  /** Returns what a frame's picture is made from; equal texts, equal pictures. */
  public String fingerprint(int frame) {
    return Fingerprint.of(
        sceneSha256,
        sceneFile,
        camera,
        Double.toString(frameRate),
        width + "x" + height,
        Integer.toString(samples),
        String.valueOf(settings == null ? Map.of() : new TreeMap<>(settings)),
        String.join(",", passes),
        String.join(",", formats),
        Integer.toString(frame));
  }

  /** Returns what a frame's header says beside the picture. */
  public Map<String, String> texts(int frame, double seconds) {
    Map<String, String> t = new TreeMap<>();
    t.put("posadaProduction", production);
    t.put("posadaShot", shot);
    t.put("posadaLayer", layer());
    t.put("posadaCamera", camera);
    t.put(ExrHeader.FRAME, Integer.toString(frame));
    t.put("posadaSamples", Integer.toString(samples));
    t.put("posadaSeconds", String.format(java.util.Locale.ROOT, "%.3f", seconds));
    RenderSettings s = document().settings();
    t.put(ExrHeader.EXPOSURE, Double.toString(s.lens().exposure().at(rate().secondsOf(frame))));
    Denoising denoising = s.denoising();
    if (denoising.picture()) {
      t.put(ExrHeader.DENOISED, Double.toString(denoising.amount()));
    }
    t.put(ExrHeader.FINGERPRINT, fingerprint(frame));
    return t;
  }
}
