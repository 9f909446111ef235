package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Service;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.Meter;
import posada.core.trace.RenderScene;
import posada.formats.files.Delivery;
import posada.formats.files.FileFormat;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneReport.CameraLine;
import posada.formats.settings.RenderDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.scenes.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.RevisionFollower;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneRepository;

/** Making and changing shots. */
@Service
public class ShotService implements RevisionFollower {
  /** What a new shot says about its pictures. */
  private static final RenderDocument FIRST =
      RenderDocument.DEFAULT
          .with(
              RenderSettings.DEFAULT.with(
                  Set.of(Pass.BEAUTY, Pass.DEPTH, Pass.NORMAL, Pass.ALBEDO)))
          .with(Delivery.DEFAULT.as(List.of(FileFormat.EXR, FileFormat.PNG8)));

  private final ShotRepository shots;
  private final SceneRepository scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;

  /** What is metered now, by shot; one that is taken away stops. */
  private final Map<Long, Object> metering = new ConcurrentHashMap<>();

  ShotService(
      ShotRepository shots,
      SceneRepository scenes,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events) {
    this.pool = pool;
    this.library = library;
    this.shots = shots;
    this.scenes = scenes;
    this.events = events;
  }

  List<Shot> all() {
    return shots.all();
  }

  /** Returns a shot; the error names its number. */
  public Shot find(long id) {
    return shots
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no shot " + id + " any more."));
  }

  /** Adds a shot of a camera over the animation's whole length, at the production's size. */
  public Shot add(long revisionId, String camera) {
    Revision r = revision(revisionId);
    Production p = scenes.production();
    checkCamera(r, camera);
    String name = camera;
    for (int k = 2; sharing(0, name).isPresent(); k++) {
      name = camera + "-" + k;
    }
    Shot made =
        shots.add(
            p.id(),
            new Shot(
                0,
                1,
                revisionId,
                name,
                camera,
                r.first() == r.last() ? "" + r.first() : r.first() + "-" + r.last(),
                p.width(),
                p.height(),
                50,
                FIRST));
    events.publish("shot", made.id());
    return made;
  }

  /** Changes a shot; its camera must be there. */
  public Shot change(Shot s) throws ImportException {
    Revision r = revision(s.revisionId());
    checkCamera(r, s.camera());
    library.get(r, s.settings()).check(s.settings().settings());
    refuseShared(s);
    Shot changed = shots.change(s);
    events.publish("shot", s.id());
    return changed;
  }

  /** Returns another shot whose files would lie in the folder of a shot of this name. */
  private Optional<Shot> sharing(long id, String name) {
    String folder = NamePattern.folded(name);
    return shots.all().stream()
        .filter(s -> s.id() != id && NamePattern.folded(s.name()).equals(folder))
        .findFirst();
  }

  private void refuseShared(Shot s) {
    Optional<Shot> other = sharing(s.id(), s.name());
    if (other.isPresent()) {
      throw new ConflictException(
          "Shot \""
              + s.name()
              + "\" would share the folder \""
              + NamePattern.safe(s.name())
              + "\" with shot \""
              + other.get().name()
              + "\"; choose another name.");
    }
  }

  /**
   * What a frame of a shot costs, known before it is rendered.
   *
   * @param rays a sentence
   * @param memoryBytes of scene and frame together
   */
  public record Estimate(String rays, long memoryBytes) {}

  /** Returns what a frame of a shot costs. */
  Estimate estimate(long id) throws ImportException {
    Shot s = find(id);
    Revision r = revision(s.revisionId());
    RenderScene scene = library.get(r, s.settings());
    RenderSettings settings = s.settings().settings();
    return new Estimate(
        settings.rays().sentence(),
        scene.bytes() + scene.frameBytes(s.scaledWidth(), s.scaledHeight(), settings));
  }

  /**
   * The exposure that a shot's camera asks for.
   *
   * @param stops see {@link Meter}; null if it was stopped
   */
  record Metered(@Schema(types = {"number", "null"}) Double stops) {}

  Metered meter(long id) throws ImportException {
    Shot s = find(id);
    Object mine = new Object();
    metering.put(id, mine);
    try {
      RenderScene scene = library.get(revision(s.revisionId()), s.settings());
      FrameRate rate = new FrameRate(scenes.production().frameRate());
      List<Moment> moments =
          FrameRange.parse(s.frames()).frames().stream().map(rate::moment).toList();
      try (RenderThreads.Watched first = pool.watch()) {
        double stops =
            Meter.stops(
                scene,
                s.camera(),
                moments,
                s.scaledWidth(),
                s.scaledHeight(),
                s.settings().settings(),
                pool.workers(),
                () -> metering.get(id) != mine);
        return new Metered(Double.isNaN(stops) ? null : Double.valueOf(stops));
      }
    } finally {
      metering.remove(id, mine);
    }
  }

  /** Stops what {@link #meter} is doing for a shot, if anything. */
  void stopMetering(long id) {
    metering.remove(id);
  }

  void remove(long id) {
    find(id);
    shots.remove(id);
    events.publish("shot", id);
  }

  /** Puts a removed shot back as it was, under a new number. */
  Shot restore(Shot s) {
    checkCamera(revision(s.revisionId()), s.camera());
    refuseShared(s);
    Shot back = shots.add(scenes.production().id(), s);
    events.publish("shot", back.id());
    return back;
  }

  /**
   * Moves all shots of a scene to its new revision.
   *
   * @return a sentence for each shot that cannot follow, since its camera is gone
   */
  @Override
  public List<String> follow(Revision newest) {
    List<String> unfit = new ArrayList<>();
    for (Shot s : shots.all()) {
      Revision old = revision(s.revisionId());
      if (!old.scene().equals(newest.scene()) || old.id() == newest.id()) {
        continue;
      }
      if (has(newest, s.camera())) {
        shots.change(s.at(newest.id()));
      } else {
        unfit.add(
            "Shot \""
                + s.name()
                + "\" stays with revision "
                + old.number()
                + ": camera \""
                + s.camera()
                + "\" is gone.");
      }
    }
    events.publish("shot", 0);
    return unfit;
  }

  private Revision revision(long id) {
    return scenes
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no scene revision " + id + "."));
  }

  private static boolean has(Revision r, String camera) {
    return r.report().cameras().stream().anyMatch(c -> c.name().equals(camera));
  }

  private static void checkCamera(Revision r, String camera) {
    if (!has(r, camera)) {
      throw new IllegalArgumentException(
          "There is no camera \""
              + camera
              + "\" in "
              + r.scene()
              + "; there are "
              + String.join(", ", r.report().cameras().stream().map(CameraLine::name).toList())
              + ".");
    }
  }
}
