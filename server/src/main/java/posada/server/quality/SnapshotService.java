package posada.server.quality;

import jakarta.annotation.PostConstruct;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.assembly.LayerMerge;
import posada.core.image.FrameImage;
import posada.core.settings.Recipe;
import posada.formats.display.DisplayFile;
import posada.formats.display.PngFile;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.ShotDocument;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.quality.SnapshotRepository.Kept;
import posada.server.shots.LastSeen;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.StrandSettings;
import posada.server.storage.DataFolder;

/** Keeps pictures with the settings that made them, and brings these back. */
@Service
class SnapshotService {
  private static final int BITS = 8;
  private static final int LONGEST_NAME = 100;

  private final SnapshotRepository snapshots;
  private final LastSeen seen;
  private final ShotService shots;
  private final StrandSettings settings;
  private final Layers layers;
  private final Recipes recipes;
  private final DataFolder folder;
  private final EventHub events;

  SnapshotService(
      SnapshotRepository snapshots,
      LastSeen seen,
      ShotService shots,
      StrandSettings settings,
      Layers layers,
      Recipes recipes,
      DataFolder folder,
      EventHub events) {
    this.snapshots = snapshots;
    this.seen = seen;
    this.shots = shots;
    this.settings = settings;
    this.layers = layers;
    this.recipes = recipes;
    this.folder = folder;
    this.events = events;
  }

  /** Removes pictures whose snapshots have gone with their shot or layer. */
  @PostConstruct
  void sweep() throws IOException {
    Set<String> kept = snapshots.ids().stream().map(id -> id + ".png").collect(Collectors.toSet());
    try (Stream<Path> files = Files.list(folder.snapshots())) {
      for (Path p : files.filter(f -> !kept.contains(f.getFileName().toString())).toList()) {
        Files.delete(p);
      }
    }
  }

  List<Snapshot> all(long production) {
    return snapshots.all(production);
  }

  /** Keeps what a viewer sees. */
  @Transactional
  Snapshot keep(long shotId, Long layerId, String viewer, String name) throws IOException {
    Shot s = shots.find(shotId);
    long production = shots.productionOf(s).id();
    LastSeen.Seen p =
        seen.of(viewer)
            .orElseThrow(
                () ->
                    new IllegalArgumentException(
                        "There is no picture to keep yet; wait until the first one is there."));
    long layer = shots.layer(s, layerId).id();
    RenderDocument d = p.document();
    Snapshot made =
        new Snapshot(
            0,
            production,
            shotId,
            layer,
            p.frame(),
            name == null || name.isBlank() ? free(production, "frame " + p.frame()) : checked(name),
            Instant.now(),
            p.image().width(),
            p.image().height(),
            p.samples(),
            Double.isNaN(p.noise()) ? null : p.noise(),
            p.seconds(),
            d.recipe());
    long id = snapshots.add(made, d, s);
    Files.write(file(id), PngFile.encode(p.image(), BITS, Map.of()));
    events.publish(new Stale(Stale.Kind.SNAPSHOTS));
    return find(id).snapshot();
  }

  private String free(long production, String name) {
    List<String> taken = snapshots.all(production).stream().map(Snapshot::name).toList();
    String free = name;
    for (int k = 2; taken.contains(free); k++) {
      free = name + " (" + k + ")";
    }
    return free;
  }

  private static String checked(String name) {
    if (name.isBlank() || name.length() > LONGEST_NAME) {
      throw new IllegalArgumentException("a snapshot's name needs 1 .. 100 letters");
    }
    return name.strip();
  }

  private Kept find(long id) {
    return snapshots
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no snapshot " + id + " any more."));
  }

  Path picture(long id) throws IOException {
    find(id);
    Path p = file(id);
    if (!Files.exists(p)) {
      throw new NotFoundException("The picture of snapshot " + id + " is gone.");
    }
    return p;
  }

  private Path file(long id) throws IOException {
    return folder.snapshots().resolve(id + ".png");
  }

  Snapshot rename(long id, String name) {
    snapshots.rename(id, checked(name));
    events.publish(new Stale(Stale.Kind.SNAPSHOTS));
    return find(id).snapshot();
  }

  void remove(long id) throws IOException {
    find(id);
    snapshots.remove(id);
    Files.deleteIfExists(file(id));
    events.publish(new Stale(Stale.Kind.SNAPSHOTS));
  }

  /** Brings the settings of a snapshot back: recipe, layer and lens; all of them are one step. */
  @Transactional
  Snapshot restore(long id) throws ImportException {
    Kept k = find(id);
    RenderDocument d = k.settings();
    Shot now = shots.find(k.snapshot().shotId());
    Definition<LayerDocument> layer = layers.find(k.snapshot().layerId());
    Definition<Recipe> recipe = settings.recipe(now, layer);
    if (!recipe.document().equals(d.recipe())) {
      recipes.change(recipe.with(d.recipe()));
    }
    LayerDocument said = layer.document();
    LayerDocument as =
        new LayerDocument(
            d.layer().named(layer.name()),
            said.passes(),
            d.background(),
            d.environment(),
            said.recipeId(),
            said.deliveryId());
    if (!as.equals(said)) {
      layers.change(layer.with(as));
    }
    ShotDocument lens = ShotDocument.of(d);
    if (!now.settings().equals(lens) || !now.camera().equals(k.shot().camera())) {
      shots.change(now.with(k.shot().camera(), lens));
    }
    return k.snapshot();
  }

  /**
   * Returns how far two pictures are apart, see {@link LayerMerge#apart}.
   *
   * @throws IllegalArgumentException if they are not of one size
   */
  double apart(long a, long b) throws IOException {
    FrameImage x = DisplayFile.linear(picture(a)), y = DisplayFile.linear(picture(b));
    if (x.width() != y.width() || x.height() != y.height()) {
      throw new IllegalArgumentException(
          "The two pictures are %d x %d and %d x %d px; only pictures of one size are compared."
              .formatted(x.width(), x.height(), y.width(), y.height()));
    }
    return LayerMerge.apart(x, y);
  }
}
