package posada.server.scenes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Service;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;
import posada.core.plan.NamePattern;
import posada.core.plan.SceneDifference;
import posada.core.rig.RigScene.Unfit;
import posada.core.scene.Scene;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.ImportedScene;
import posada.formats.gltf.SceneImporter;
import posada.formats.gltf.SceneReading;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.RigDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.changes.ChangeLog;
import posada.server.changes.Changeable;
import posada.server.definitions.Layers;
import posada.server.definitions.Rigs;
import posada.server.storage.DataFolder;

/** Revisions of a scene: taking the next, going back to an older one, and mending what is read. */
@Service
public class RevisionService implements Changeable {
  private static final String KIND = "revision";

  /** State of a revision in the log that is read as it was uploaded; else its folder's name. */
  private static final String THERE = "{}";

  /** Letters of a scene's name that there is room for. */
  private static final int LONGEST_NAME = 200;

  /** Bytes of a picture that is added. */
  private static final long MOST_PICTURE = 1L << 30;

  private final SceneRepository repository;
  private final SceneFolders folders;
  private final SceneLibrary library;
  private final Rigs rigs;
  private final Layers layers;
  private final ChangeLog log;
  private final ObjectProvider<RevisionFollower> followers;
  private final TransactionTemplate transactions;
  private final DataFolder folder;
  private final EventHub events;
  private final Object adding = new Object();

  RevisionService(
      SceneRepository repository,
      SceneFolders folders,
      SceneLibrary library,
      Rigs rigs,
      Layers layers,
      ChangeLog log,
      ObjectProvider<RevisionFollower> followers,
      PlatformTransactionManager transactions,
      DataFolder folder,
      EventHub events) {
    this.repository = repository;
    this.folders = folders;
    this.library = library;
    this.rigs = rigs;
    this.layers = layers;
    this.log = log;
    this.followers = followers;
    this.transactions = new TransactionTemplate(transactions);
    this.folder = folder;
    this.events = events;
  }

  /**
   * An object or camera that has another name in another revision.
   *
   * @param from its name so far
   */
  public record Renaming(String from, String to) {}

  private static Map<String, String> names(List<Renaming> renamed) {
    Map<String, String> all = new HashMap<>();
    for (Renaming r : renamed) {
      if (r.from == null || r.to == null || all.put(r.from, r.to) != null) {
        throw new IllegalArgumentException(
            "renamed must give one new name for each old one (got " + r + ")");
      }
    }
    return all;
  }

  private Revision find(long id) {
    return repository
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no scene revision " + id + "."));
  }

  private Scene scene(Revision r) throws ImportException {
    return library.get(r, RenderDocument.DEFAULT).scene();
  }

  /**
   * Adds a scene as the next revision of its name; it is read like the newest before it.
   *
   * @param sha256 folder of the upload
   * @param hold true to let it wait if there is a revision before it
   */
  Imported add(
      long production, ImportedScene imported, String fileName, String sha256, boolean hold)
      throws IOException, ImportException {
    String whole = imported.scene().name();
    String name = whole.substring(0, Math.min(LONGEST_NAME, whole.length()));
    Revision before =
        repository.all(production).stream()
            .filter(r -> r.scene().equals(name))
            .findFirst()
            .orElse(null);
    SceneReading reading = before == null ? SceneReading.NONE : before.report().reading();
    List<Path> added = before == null ? List.of() : folders.added(before.sha256());
    String made = folders.made(sha256, fileName, reading, added);
    try {
      ImportedScene read =
          made.equals(sha256)
              ? imported
              : SceneImporter.load(folder.revision(made).resolve(fileName));
      boolean waiting = hold && before != null;
      SceneRepository.Files files = SceneRepository.Files.of(fileName, made, sha256);
      // Two at once would get the same number.
      synchronized (adding) {
        return transactions.execute(
            t -> {
              Revision r = repository.add(production, name, files, read.report(), waiting);
              if (waiting) {
                events.publish(new Stale(Stale.Kind.REVISIONS));
                return new Imported(r, List.of(), true);
              }
              return new Imported(r, taken(r, Map.of()), false);
            });
      }
    } finally {
      folders.release(made);
    }
  }

  private static void onceDone(Runnable then) {
    TransactionSynchronizationManager.registerSynchronization(
        new TransactionSynchronization() {
          @Override
          public void afterCompletion(int status) {
            then.run();
          }
        });
  }

  /**
   * Adds the picture of the rig's sky to a revision's files if only another revision of the scene
   * has it.
   */
  private Revision withSky(Revision r) throws IOException, ImportException {
    RigDocument rig = rigs.document(r.productionId(), r.scene());
    if (rig == null || rig.sky() == null || rig.sky().picture() == null) {
      return r;
    }
    Path file = Path.of(rig.sky().picture().file());
    boolean added = Path.of(SceneFolders.ADDED).equals(file.getParent());
    if (!added || Files.exists(folder.revision(r.sha256()).resolve(file))) {
      return r;
    }
    List<Path> pictures = new ArrayList<>(folders.added(r.sha256()));
    for (Revision o : repository.all(r.productionId())) {
      Path there = folder.revision(o.sha256()).resolve(file);
      if (o.scene().equals(r.scene()) && Files.isRegularFile(there)) {
        pictures.add(there);
        return mend(r, r.report().reading(), pictures, "picture " + file.getFileName());
      }
    }
    return r;
  }

  /** Records a revision as taken and carries over what hangs on the one before. */
  private List<String> taken(Revision r, Map<String, String> renamed) {
    String sentence = "import of " + r.scene() + " r" + r.number();
    log.record(r.productionId(), KIND, r.id(), null, state(r.id()), sentence);
    events.publish(new Stale(Stale.Kind.REVISIONS));
    return carry(r, renamed);
  }

  private List<String> carry(Revision r, Map<String, String> renamed) {
    if (!renamed.isEmpty()) {
      rigs.rename(r.productionId(), r.scene(), renamed);
      boolean others =
          repository.all(r.productionId()).stream().anyMatch(o -> !o.scene().equals(r.scene()));
      layers.rename(r.productionId(), renamed, others);
    }
    return followers.stream().flatMap(f -> f.follow(r, renamed).stream()).toList();
  }

  /** Returns a production's revisions that wait to be taken, newest first. */
  List<Revision> waiting(long production) {
    return repository.waiting(production);
  }

  /** Returns what is another in a revision than in another one. */
  SceneDifference difference(long from, long to) throws ImportException {
    return SceneDifference.of(scene(find(from)), scene(find(to)));
  }

  /** Returns a sentence for each thing that would not fit a revision. */
  List<String> unfit(long id, List<Renaming> renamed) throws ImportException {
    Revision r = find(id);
    Map<String, String> names = names(renamed);
    List<String> all = new ArrayList<>();
    followers.stream().forEach(f -> all.addAll(f.unfit(r, names)));
    RigDocument rig = rigs.document(r.productionId(), r.scene());
    if (rig != null) {
      RenderDocument d = RenderDocument.DEFAULT.with(rig.renamed(names));
      d.rigged(scene(r)).unfit().stream().map(Unfit::why).forEach(all::add);
    }
    return all;
  }

  /** Takes a revision that waits; shots, layers and the rig follow it. */
  @Transactional
  Imported accept(long id, List<Renaming> renamed) throws IOException, ImportException {
    Revision r = withSky(waits(id));
    repository.accept(id);
    return new Imported(r, taken(r, names(renamed)), false);
  }

  private Revision waits(long id) {
    Revision r = find(id);
    if (!repository.waits(id)) {
      throw new ConflictException(
          r.scene() + " r" + r.number() + " waits no more: it was taken or thrown away.");
    }
    return r;
  }

  /** Throws a revision away that waits. */
  @Transactional
  void discard(long id) throws IOException {
    Revision r = waits(id);
    String origin = repository.origin(id);
    repository.forget(id);
    for (String sha256 : List.of(r.sha256(), origin)) {
      folders.begin(sha256);
      onceDone(() -> folders.settle(sha256));
    }
    events.publish(new Stale(Stale.Kind.REVISIONS));
  }

  /** Lets shots, layers and the rig of a scene go to another of its revisions, such as back. */
  @Transactional
  Imported use(long id, List<Renaming> renamed) throws IOException, ImportException {
    Revision r = find(id);
    if (!repository.there(id)) {
      throw new ConflictException(r.scene() + " r" + r.number() + " is not there; reload.");
    }
    r = withSky(r);
    return new Imported(r, carry(r, names(renamed)), false);
  }

  /** Lets a revision be read otherwise. */
  @Transactional
  Revision read(long id, SceneReading reading) throws IOException, ImportException {
    Revision r = find(id);
    return mend(r, reading, folders.added(r.sha256()), "reading");
  }

  /**
   * A file that was added.
   *
   * @param file its name in the scene's folder
   */
  record AddedPicture(Revision revision, String file) {}

  /**
   * Adds a picture to a revision's files.
   *
   * @param name of the picture's file
   * @param instead name of a missing file in whose place it is used; null for none
   */
  @Transactional
  AddedPicture add(long id, String name, InputStream in, String instead)
      throws IOException, ImportException {
    Revision r = find(id);
    Path incoming = folder.incoming();
    try {
      Path stored = incoming.resolve("picture");
      String sha256 = SceneFolders.store(in, stored, MOST_PICTURE);
      String safe = NamePattern.safe(name.substring(name.replace('\\', '/').lastIndexOf('/') + 1));
      String kept = sha256.substring(0, 12) + "-" + safe.toLowerCase(Locale.ROOT);
      Path file = Files.move(stored, incoming.resolve(kept));
      SceneReading.check(file);
      String path = SceneFolders.ADDED + "/" + kept;
      List<Path> added = new ArrayList<>(folders.added(r.sha256()));
      if (added.stream().noneMatch(p -> p.getFileName().toString().equals(kept))) {
        added.add(file);
      }
      SceneReading reading = r.report().reading();
      if (instead != null) {
        Map<String, String> files = new HashMap<>(reading.files());
        files.put(instead, path);
        reading =
            new SceneReading(reading.scale(), reading.up(), reading.without(), Map.copyOf(files));
      }
      return new AddedPicture(mend(r, reading, added, "picture " + safe), path);
    } finally {
      DataFolder.remove(incoming);
    }
  }

  private Revision mend(Revision r, SceneReading reading, List<Path> added, String what)
      throws IOException, ImportException {
    String before = state(r.id());
    String made = folders.made(repository.origin(r.id()), r.fileName(), reading, added);
    onceDone(() -> folders.release(made));
    if (!made.equals(r.sha256())) {
      put(r, made);
      log.record(
          r.productionId(),
          KIND,
          r.id(),
          before,
          state(r.id()),
          what + " of " + r.scene() + " r" + r.number());
    }
    return find(r.id());
  }

  private void put(Revision r, String sha256) throws ImportException {
    repository.mend(
        r.id(), sha256, SceneImporter.load(folder.revision(sha256).resolve(r.fileName())).report());
    events.publish(new Stale(Stale.Kind.REVISIONS));
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String state(long id) {
    if (!repository.there(id)) {
      return null;
    }
    Revision r = find(id);
    return repository.origin(id).equals(r.sha256()) ? THERE : r.sha256();
  }

  @Override
  public void bring(long id, String state) {
    repository.remove(id, state == null);
    if (state != null) {
      Revision r = find(id);
      String sha256 = state.equals(THERE) ? repository.origin(id) : state;
      if (!sha256.equals(r.sha256())) {
        try {
          put(r, sha256);
        } catch (ImportException e) {
          throw new ConflictException("The scene cannot be read any more: " + e.getMessage());
        }
      }
    }
    events.publish(new Stale(Stale.Kind.REVISIONS));
  }
}
