package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.assembly.LayerMerge;
import posada.core.motion.Values;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.scene.Camera;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.trace.Meter;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.ShotDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.app.Stale;
import posada.server.changes.ChangeLog;
import posada.server.changes.Changeable;
import posada.server.definitions.Definition;
import posada.server.definitions.DefinitionUser;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.productions.Production;
import posada.server.productions.ProductionPart;
import posada.server.scenes.Revision;
import posada.server.scenes.RevisionFollower;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;

/** Making and changing shots. */
@Service
public class ShotService implements RevisionFollower, Changeable, DefinitionUser, ProductionPart {
  private static final String KIND = "shot";

  /** The recipe of a new shot, if there is one of this name; else the first. */
  private static final String FIRST_RECIPE = "medium";

  private final ShotRepository shots;
  private final SceneService scenes;
  private final StrandRepository strands;
  private final StrandSettings settings;
  private final Layers layers;
  private final Recipes recipes;
  private final Deliveries deliveries;
  private final ChangeLog log;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;

  /** What is metered now, by shot; one that is taken away stops. */
  private final Map<Long, Object> metering = new ConcurrentHashMap<>();

  ShotService(
      ShotRepository shots,
      SceneService scenes,
      StrandRepository strands,
      StrandSettings settings,
      Layers layers,
      Recipes recipes,
      Deliveries deliveries,
      ChangeLog log,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events) {
    this.pool = pool;
    this.library = library;
    this.shots = shots;
    this.scenes = scenes;
    this.strands = strands;
    this.settings = settings;
    this.layers = layers;
    this.recipes = recipes;
    this.deliveries = deliveries;
    this.log = log;
    this.events = events;
  }

  /** Returns a production's shots in their order. */
  public List<Shot> all(long production) {
    return shots.all(production);
  }

  /** Returns a shot; the error names its number. */
  public Shot find(long id) {
    return shots
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no shot " + id + " any more."));
  }

  /** Adds a shot of a camera over the animation's whole length, at the production's size. */
  @Transactional
  public Shot add(long revisionId, String camera) {
    Revision r = revision(revisionId);
    Production p = scenes.productionOf(r);
    checkCamera(r, camera);
    String name = free(p.id(), camera);
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
                all(p.id()).stream().mapToInt(Shot::place).max().orElse(-1) + 1,
                recipes.named(p.id(), FIRST_RECIPE).orElse(recipes.first(p.id())).id(),
                deliveries.first(p.id()).id(),
                ShotDocument.DEFAULT));
    recorded(p.id(), null, made);
    // Its strands come and go with it.
    strands.put(new Strand(0, made.id(), layers.first(p.id()).id(), true, null, null, null));
    events.publish(new Stale(Stale.Kind.STRANDS));
    return made;
  }

  /** Changes a shot; its camera must be there. */
  @Transactional
  public Shot change(Shot s) throws ImportException {
    Shot before = find(s.id());
    if (before.version() != s.version()) {
      throw log.overtaken(KIND, s.id(), "shot \"" + before.name() + "\"");
    }
    Revision r = revision(s.revisionId());
    checkCamera(r, s.camera());
    checkNamed(r.productionId(), s.recipeId(), s.deliveryId());
    for (RenderDocument d : settings.all(s, r.productionId())) {
      library.get(r, d).check(d.settings());
    }
    refuseShared(r.productionId(), s);
    Shot changed = shots.change(s);
    recorded(r.productionId(), before, changed);
    return changed;
  }

  /** Adds a shot of each camera of a revision that no shot of its scene has; returns them. */
  @Transactional
  public List<Shot> addAll(long revisionId) {
    Revision r = revision(revisionId);
    Set<String> taken =
        all(r.productionId()).stream()
            .filter(s -> revision(s.revisionId()).scene().equals(r.scene()))
            .map(Shot::camera)
            .collect(Collectors.toSet());
    List<Shot> made = new ArrayList<>();
    for (String camera : scenes.cameras(r)) {
      if (!taken.contains(camera)) {
        made.add(add(revisionId, camera));
      }
    }
    if (made.isEmpty()) {
      throw new ConflictException(
          "Every camera of " + r.scene() + " has a shot; add another one in Shots.");
    }
    return made;
  }

  /** Returns what a shot's camera sees at frames, behind the shot's lens; see the API. */
  List<Double> views(long id, int first, int count) throws ImportException {
    Shot s = find(id);
    RenderDocument d = document(s, null);
    Scene scene = library.get(revision(s.revisionId()), d).scene();
    int node = scene.cameraNode(s.camera());
    if (node < 0 || count < 1 || count > 5000) {
      throw new IllegalArgumentException(
          node < 0
              ? "there is no camera \"" + s.camera() + "\" in the scene"
              : "frames must be 1 .. 5000 (got " + count + ")");
    }
    FrameRate rate = new FrameRate(productionOf(s).frameRate());
    List<Double> all = new ArrayList<>();
    for (int f = first; f < first + count; f++) {
      double seconds = rate.moment(f).seconds();
      Camera c =
          Values.at(scene, seconds, d.settings().clips())
              .cameras()
              .get(scene.nodes().get(node).camera());
      all.add(
          c.perspective()
              ? Math.toDegrees(
                  d.lens().verticalAngle(c.verticalAngle(), s.width(), s.height(), seconds))
              : 2 * c.halfHeight());
    }
    return all;
  }

  /**
   * Brings shots into an order.
   *
   * @param ids of the production's shots, the first first; those that are left out come last
   */
  @Transactional
  public List<Shot> order(long production, List<Long> ids) {
    List<Shot> all = new ArrayList<>(all(production));
    all.sort(
        Comparator.comparingInt(
            s -> ids.contains(s.id()) ? ids.indexOf(s.id()) : ids.size() + s.place()));
    for (int i = 0; i < all.size(); i++) {
      Shot s = all.get(i);
      if (s.place() != i) {
        recorded(production, s, shots.change(s.at(i)));
      }
    }
    return all(production);
  }

  /** Refuses a recipe or delivery, if there is one, that the production does not have. */
  void checkNamed(long production, Long recipe, Long delivery) {
    if (recipe != null) {
      recipes.of(production, recipe);
    }
    if (delivery != null) {
      deliveries.of(production, delivery);
    }
  }

  /** Returns a name that no shot of a production has; what is too long is cut. */
  String free(long production, String wanted) {
    String name = cut(wanted, "");
    for (int k = 2; sharing(production, 0, name).isPresent(); k++) {
      name = cut(wanted, "-" + k);
    }
    return name;
  }

  private static String cut(String name, String end) {
    int most = Shot.LONGEST_NAME - end.length();
    int to = Math.min(most, name.length());
    // A sign of two parts is not cut in half.
    boolean half = to < name.length() && Character.isHighSurrogate(name.charAt(to - 1));
    return name.substring(0, half ? to - 1 : to) + end;
  }

  /** Returns another shot whose files would lie in the folder of a shot of this name. */
  Optional<Shot> sharing(long production, long id, String name) {
    String folder = NamePattern.folded(name);
    return shots.all(production).stream()
        .filter(s -> s.id() != id && NamePattern.folded(s.name()).equals(folder))
        .findFirst();
  }

  void refuseShared(long production, Shot s) {
    Optional<Shot> other = sharing(production, s.id(), s.name());
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

  /** Returns the strands of a production that are on, shot by shot. */
  public List<StrandSettings.On> on(long production) {
    return settings.on(production, all(production));
  }

  /**
   * Returns how pictures of layers of a shot are put onto those below them.
   *
   * @param some the lowest first
   */
  public List<LayerMerge.How> mergeWays(long shot, List<Layer> some) {
    return LayerMerge.ways(scene(shot), some);
  }

  /** Returns true if a layer of a shot sees every object. */
  public boolean seesAll(long shot, Layer layer) {
    Scene scene = scene(shot);
    List<Layer.Role> roles = layer.roles(scene);
    for (int i = 0; i < roles.size(); i++) {
      if (scene.nodes().get(i).mesh() >= 0 && roles.get(i) != Layer.Role.SEEN) {
        return false;
      }
    }
    return true;
  }

  private Scene scene(long shot) {
    Revision r = revision(find(shot).revisionId());
    try {
      return scenes.rigged(r).scene();
    } catch (ImportException e) {
      throw new ConflictException("The scene of this shot cannot be read: " + e.getMessage());
    }
  }

  /** Returns the production of a shot. */
  public Production productionOf(Shot s) {
    return scenes.productionOf(revision(s.revisionId()));
  }

  /** Returns all that is said about the pictures of a shot's layer; see {@link StrandSettings}. */
  public RenderDocument document(Shot s, Long layerId) {
    return settings.of(s, productionOf(s).id(), layerId);
  }

  /**
   * Returns all that is said about the pictures of a shot's layers that are on, the lowest first.
   */
  public List<RenderDocument> documents(Shot s) {
    return settings.all(s, productionOf(s).id());
  }

  /** Returns a layer; see {@link StrandSettings#of} for what null means. */
  public Definition<LayerDocument> layer(Shot s, Long layerId) {
    return settings.layer(s, productionOf(s).id(), layerId);
  }

  /** Returns what a frame of a shot's layer costs. */
  Estimate estimate(long id, Long layer) throws ImportException {
    Shot s = find(id);
    Revision r = revision(s.revisionId());
    RenderDocument d = document(s, layer);
    RenderScene scene = library.get(r, d);
    return new Estimate(
        d.settings().rays().sentence(),
        scene.bytes() + scene.frameBytes(s.scaledWidth(), s.scaledHeight(), d.settings()));
  }

  /**
   * The exposure that a shot's camera asks for.
   *
   * @param stops see {@link Meter}; null if it was stopped
   */
  record Metered(@Schema(types = {"number", "null"}) Double stops) {}

  Metered meter(long id, Long layer) throws ImportException {
    Shot s = find(id);
    Object mine = new Object();
    metering.put(id, mine);
    try {
      RenderDocument d = document(s, layer);
      RenderScene scene = library.get(revision(s.revisionId()), d);
      FrameRate rate = new FrameRate(productionOf(s).frameRate());
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
                d.settings(),
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

  @Transactional
  void remove(long id) {
    Shot s = find(id);
    shots.remove(id);
    recorded(revision(s.revisionId()).productionId(), s, null);
  }

  /** Records a change and tells of it. */
  void recorded(long production, Shot before, Shot after) {
    Shot one = after == null ? before : after;
    log.record(
        production, KIND, one.id(), text(before), text(after), ShotDifference.of(before, after));
    events.publish(new Stale(Stale.Kind.SHOTS));
  }

  private static String text(Shot s) {
    return s == null ? null : Documents.write(s.with(0));
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String state(long id) {
    return shots.find(id).map(ShotService::text).orElse(null);
  }

  @Override
  public void bring(long id, String state) {
    if (state == null) {
      shots.remove(id);
    } else {
      Shot s = Documents.read(state, Shot.class);
      long production = revision(s.revisionId()).productionId();
      refuseShared(production, s);
      checkNamed(production, s.recipeId(), s.deliveryId());
      shots.bring(s);
    }
    events.publish(new Stale(Stale.Kind.SHOTS));
  }

  @Override
  public List<String> users(String kind, Definition<?> d) {
    return all(d.productionId()).stream()
        .filter(
            s ->
                kind.equals(Recipes.KIND) && s.recipeId() == d.id()
                    || kind.equals(Deliveries.KIND) && s.deliveryId() == d.id())
        .map(s -> "shot " + s.name())
        .toList();
  }

  @Override
  public int order() {
    return 2; // Behind scenes and layers.
  }

  @Override
  public void copy(Production from, Production to) {
    List<Revision> revisions = scenes.revisions(to.id());
    for (Shot s : shots.all(from.id())) {
      Revision old = revision(s.revisionId());
      long same =
          revisions.stream()
              .filter(r -> r.scene().equals(old.scene()) && r.sha256().equals(old.sha256()))
              .findFirst()
              .orElseThrow()
              .id();
      shots.add(
          to.id(),
          s.at(
              same,
              recipes.sameIn(s.recipeId(), to.id()),
              deliveries.sameIn(s.deliveryId(), to.id())));
    }
  }

  @Override
  public List<String> unfit(Revision to, Map<String, String> renamed) {
    List<String> cameras = scenes.cameras(to);
    return following(to)
        .filter(s -> !cameras.contains(camera(s, cameras, renamed)))
        .map(
            s ->
                "Shot \""
                    + s.name()
                    + "\" stays with r"
                    + revision(s.revisionId()).number()
                    + ": camera \""
                    + s.camera()
                    + "\" is gone.")
        .toList();
  }

  @Override
  public List<String> follow(Revision to, Map<String, String> renamed) {
    List<String> unfit = unfit(to, renamed);
    List<String> cameras = scenes.cameras(to);
    for (Shot s : following(to).toList()) {
      String camera = camera(s, cameras, renamed);
      if (cameras.contains(camera)) {
        recorded(
            to.productionId(),
            s,
            shots.change(s.at(to.id(), s.recipeId(), s.deliveryId()).with(camera, s.settings())));
      }
    }
    events.publish(new Stale(Stale.Kind.SHOTS));
    return unfit;
  }

  /** Returns the shots of another revision of the same scene. */
  private Stream<Shot> following(Revision to) {
    return shots.all(to.productionId()).stream()
        .filter(
            s -> s.revisionId() != to.id() && revision(s.revisionId()).scene().equals(to.scene()));
  }

  private static String camera(Shot s, List<String> cameras, Map<String, String> renamed) {
    return cameras.contains(s.camera()) ? s.camera() : renamed.getOrDefault(s.camera(), s.camera());
  }

  private Revision revision(long id) {
    return scenes.revision(id);
  }

  void checkCamera(Revision r, String camera) {
    List<String> cameras = scenes.cameras(r);
    if (!cameras.contains(camera)) {
      throw new IllegalArgumentException(
          "There is no camera \""
              + camera
              + "\" in "
              + r.scene()
              + "; there are "
              + String.join(", ", cameras)
              + ".");
    }
  }
}
