package posada.formats.settings;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.parallel.Workers;
import posada.core.rig.Rig;
import posada.core.rig.RigScene;
import posada.core.scene.Scene;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.RenderScene;
import posada.formats.files.Delivery;

/**
 * All that can be said about pictures beside scene, camera, frames and size; documented in {@code
 * docs/settings.md}.
 *
 * @param schema number of this form; {@link #SCHEMA}
 * @param recipe how well they are rendered
 * @param lens in front of the film
 * @param shutter while the film is exposed
 * @param crop region of the picture; null for all of it
 * @param clips names of the animations that play; null for all
 * @param background true if the environment is seen behind the objects
 * @param passes into which pictures are taken apart
 * @param layer which objects take part and how
 * @param environment environment in place of the scene's; null for the scene's
 * @param delivery how they are written
 * @param rig what is added to the scene; null for nothing
 */
public record RenderDocument(
    int schema,
    Recipe recipe,
    Lens lens,
    Shutter shutter,
    Crop crop,
    List<String> clips,
    boolean background,
    PassSettings passes,
    Layer layer,
    EnvironmentDocument environment,
    Delivery delivery,
    RigDocument rig) {
  /** The number of today's form. */
  public static final int SCHEMA = 1;

  public static final RenderDocument DEFAULT = of(RenderSettings.DEFAULT, null, Delivery.DEFAULT);

  public RenderDocument {
    if (schema != SCHEMA) {
      throw new IllegalArgumentException(
          "schema must be " + SCHEMA + " (got " + schema + "): the document is of another version");
    }
    clips = clips == null ? null : List.copyOf(clips);
    rig = rig == null || rig.empty() ? null : rig;
    passes = rig == null ? passes : passes.with(rig.rig().lightGroups());
  }

  /** Returns a document that says these settings, without a rig. */
  public static RenderDocument of(
      RenderSettings s, EnvironmentDocument environment, Delivery delivery) {
    return of(s, environment, delivery, null);
  }

  private static RenderDocument of(
      RenderSettings s, EnvironmentDocument environment, Delivery delivery, RigDocument rig) {
    return new RenderDocument(
        SCHEMA,
        s.recipe(),
        s.lens(),
        s.shutter(),
        s.crop(),
        s.clips() == null ? null : List.copyOf(s.clips()),
        s.background(),
        s.passes(),
        s.layer(),
        environment,
        delivery,
        rig);
  }

  /** Returns what the renderer takes of it. */
  public RenderSettings settings() {
    return new RenderSettings(
        recipe,
        lens,
        shutter,
        crop,
        clips == null ? null : Set.copyOf(clips),
        background,
        passes,
        layer);
  }

  /** Texts of documents that were asked for lately: the same are asked for over and over. */
  private static final Map<RenderDocument, String> TEXTS =
      Collections.synchronizedMap(
          new LinkedHashMap<>(16, 0.75f, true) {
            private static final long serialVersionUID = 1;

            @Override
            protected boolean removeEldestEntry(Map.Entry<RenderDocument, String> eldest) {
              return size() > MOST_TEXTS;
            }
          });

  private static final int MOST_TEXTS = 4000;

  /** Returns the document as it is written. */
  public String text() {
    return TEXTS.computeIfAbsent(this, Documents::write);
  }

  /** Returns the same with other settings. */
  public RenderDocument with(RenderSettings s) {
    return of(s, environment, delivery, rig);
  }

  /** Returns the same written otherwise. */
  public RenderDocument with(Delivery d) {
    return of(settings(), environment, d, rig);
  }

  /** Returns the same with another rig; null for none. */
  public RenderDocument with(RigDocument other) {
    return of(settings(), environment, delivery, other);
  }

  /** Returns true if it changes the scene itself. */
  public boolean changesScene() {
    return environment != null || rig != null;
  }

  /** Returns what of it changes the scene, to tell scenes apart by. */
  public Object sceneKey() {
    return Arrays.asList(environment, rig, rig == null ? null : clips);
  }

  /**
   * Returns a scene with what this adds to it: its rig, then its environment.
   *
   * @param scene as its file has it
   * @param folder where pictures are looked for; null if none may be named
   * @throws IOException naming a picture's file if it is missing or damaged
   */
  public RenderScene changed(RenderScene scene, Path folder, Workers workers) throws IOException {
    RenderScene now = scene;
    if (rig != null) {
      now = now.changed(rigged(scene.scene()).scene(), workers);
      now = rig.sky() == null ? now : now.withEnvironment(rig.sky().read(folder));
    }
    return environment == null ? now : now.withEnvironment(environment.read(folder));
  }

  /** Returns a scene with the rig in it. */
  public RigScene.Rigged rigged(Scene scene) {
    return RigScene.apply(
        scene, rig == null ? Rig.NONE : rig.rig(), clips == null ? null : Set.copyOf(clips));
  }
}
