package posada.server.scenes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import java.util.stream.Stream;
import org.springframework.stereotype.Service;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.rig.RigCamera;
import posada.core.rig.RigScene;
import posada.core.scene.Digest;
import posada.core.scene.Track;
import posada.core.settings.Denoising;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.Brightness;
import posada.core.trace.FrameRenderer;
import posada.core.trace.Meter;
import posada.core.trace.RenderScene;
import posada.formats.display.JpegFile;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.ImportedScene;
import posada.formats.gltf.SceneArchive;
import posada.formats.gltf.SceneImporter;
import posada.formats.gltf.SceneReport.CameraLine;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.RigDocument;
import posada.server.app.NotFoundException;
import posada.server.app.PosadaProperties;
import posada.server.app.RenderThreads;
import posada.server.definitions.Rigs;
import posada.server.productions.Production;
import posada.server.productions.ProductionPart;
import posada.server.productions.ProductionService;
import posada.server.storage.DataFolder;

/** Importing scenes and showing what is in them. */
@Service
public class SceneService implements ProductionPart {
  /** So few samples are enough, since the noise is taken out of small pictures. */
  private static final int LEAST_SAMPLES = 4;

  /** Most samples of a picture, if there is time for them in {@link #PICTURE_NANOS}. */
  private static final int MOST_SAMPLES = 32;

  private static final long PICTURE_NANOS = 1_500_000_000;

  /** A picture that waits behind a batch for longer is made in steps nobody would wait for. */
  private static final int PICTURE_ROUND = 2;

  /** Frames have seven digits at most. */
  private static final int LAST_FRAME = 9_999_999;

  private final SceneRepository repository;
  private final ProductionService productions;
  private final SceneLibrary library;
  private final RevisionService revisions;
  private final SceneFolders folders;
  private final Rigs rigs;
  private final DataFolder folder;
  private final RenderThreads pool;

  /** Times its own size that an archive unpacks to, at most; more than so many bytes at least. */
  private static final long UNPACKED_TIMES = 100, UNPACKED_ANYWAY = 256 << 20;

  private final long unpackLimit;
  private final ReentrantLock onePictureAtATime = new ReentrantLock(true);

  SceneService(
      SceneRepository repository,
      ProductionService productions,
      SceneLibrary library,
      RevisionService revisions,
      SceneFolders folders,
      Rigs rigs,
      DataFolder folder,
      RenderThreads pool,
      PosadaProperties properties) {
    this.rigs = rigs;
    this.repository = repository;
    this.productions = productions;
    this.library = library;
    this.revisions = revisions;
    this.folders = folders;
    this.folder = folder;
    this.pool = pool;
    unpackLimit = properties.unpackLimit();
  }

  /** Returns a production's revisions, newest first. */
  public List<Revision> revisions(long production) {
    return repository.all(productions.find(production).id());
  }

  /** Returns the production of a revision. */
  public Production productionOf(Revision r) {
    return productions.find(r.productionId());
  }

  /** Returns what the production adds to the scene of a revision; null for nothing. */
  public RigDocument rig(Revision r) {
    return rigs.document(r.productionId(), r.scene());
  }

  /** Returns a revision's scene with its rig in it. */
  public RenderScene rigged(Revision r) throws ImportException {
    return library.get(r, RenderDocument.DEFAULT.with(rig(r)));
  }

  /** Returns a revision's scene as its file has it. */
  RenderScene file(Revision r) throws ImportException {
    return library.get(r, RenderDocument.DEFAULT);
  }

  /** Returns what of the rig does not fit a revision. */
  public List<RigScene.Unfit> fit(Revision r) throws ImportException {
    return RenderDocument.DEFAULT.with(rig(r)).rigged(file(r).scene()).unfit();
  }

  /** Returns the names of the cameras of a revision: the file's, and then the rig's. */
  public List<String> cameras(Revision r) {
    RigDocument rig = rig(r);
    Stream<String> own = rig == null ? Stream.of() : rig.cameras().stream().map(RigCamera::name);
    return Stream.concat(r.report().cameras().stream().map(CameraLine::name), own)
        .distinct()
        .toList();
  }

  /** Returns a revision; the error names its number. */
  public Revision revision(long id) {
    return repository
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no scene revision " + id + "."));
  }

  /**
   * Imports a scene file. A failure leaves nothing behind. It is read like the revision before it.
   *
   * @param name the file's name as the user knows it
   * @param hold true to let it wait where there is a revision before it; else it is taken at once,
   *     and shots of the scene follow it
   */
  public Imported take(long production, String name, InputStream in, boolean hold)
      throws IOException, ImportException {
    productions.find(production);
    Path incoming = folder.incoming();
    try {
      String safe = NamePattern.safe(name.substring(name.replace('\\', '/').lastIndexOf('/') + 1));
      Path stored = incoming.resolve("upload");
      String sha256 = SceneFolders.store(in, stored, Long.MAX_VALUE);
      boolean zip = safe.toLowerCase(Locale.ROOT).endsWith(".zip");
      Path files = Files.createDirectory(incoming.resolve("files"));
      Path scene;
      if (zip) {
        try (InputStream packed = Files.newInputStream(stored)) {
          long most = Math.max(UNPACKED_ANYWAY, UNPACKED_TIMES * Files.size(stored));
          scene = SceneArchive.unpack(safe, packed, files, Math.min(unpackLimit, most));
        }
      } else {
        scene = Files.move(stored, files.resolve(safe));
      }
      ImportedScene imported = SceneImporter.load(scene);
      String fileName = files.relativize(scene).toString();
      folders.hold(sha256);
      try {
        synchronized (folders.lock(sha256)) {
          return kept(production, imported, files, fileName, sha256, hold);
        }
      } finally {
        folders.release(sha256);
      }
    } finally {
      DataFolder.remove(incoming);
    }
  }

  /** Moves files to where they stay, and records them. */
  private Imported kept(
      long production,
      ImportedScene imported,
      Path files,
      String fileName,
      String sha256,
      boolean hold)
      throws IOException, ImportException {
    Path home = folder.revision(sha256);
    if (!Files.exists(home)) {
      folders.begin(sha256);
      Files.move(files, home);
    } else if (!Files.exists(home.resolve(fileName))) {
      // The same file under another name.
      Files.move(files.resolve(fileName), home.resolve(fileName));
    }
    return revisions.add(production, imported, fileName, sha256, hold);
  }

  private static int height(int width, Production p) {
    return Math.max(1, Math.round(width * (float) p.height() / p.width()));
  }

  private FrameImage small(
      RenderScene scene, String camera, Moment at, int width, int height, RenderSettings s) {
    FrameRenderer r = scene.frame(camera, at, width, height, s, pool.workers(), Stop.NEVER, null);
    long start = System.nanoTime();
    for (int n = PICTURE_ROUND; ; n += PICTURE_ROUND) {
      r.advance(n, pool.workers(), Stop.NEVER);
      long next = (System.nanoTime() - start) / n * (n + PICTURE_ROUND);
      if (n >= LEAST_SAMPLES && (n >= MOST_SAMPLES || next > PICTURE_NANOS)) {
        return r.image(s.passes().wanted(), pool.workers(), Stop.NEVER);
      }
    }
  }

  /**
   * Returns a small JPEG of what a camera sees at a frame; made once and kept. If most of it would
   * be too bright or too dark to be seen, it is shown as it is metered.
   *
   * @param width pixels, 16 .. 640
   */
  byte[] cameraPicture(long id, String camera, int frame, int width)
      throws IOException, ImportException {
    if (width < 16 || width > 640) {
      throw new IllegalArgumentException(
          "width must be 16 .. 640 pixels for a small picture (got " + width + ")");
    }
    if (frame < 0 || frame > LAST_FRAME) {
      throw new IllegalArgumentException(
          "frame must be 0 .. %d (got %d)".formatted(LAST_FRAME, frame));
    }
    Revision r = revision(id);
    Production p = productionOf(r);
    RigDocument rig = rig(r);
    String name =
        String.join(
            "_",
            r.sha256(),
            rig == null ? Digest.of(camera) : Digest.of(camera, Documents.write(rig)),
            frame + "",
            width + "x" + height(width, p),
            p.frameRate() + ".jpg");
    Optional<byte[]> made = folder.pictures().get(name);
    if (made.isPresent()) {
      return made.get();
    }
    onePictureAtATime.lock();
    try {
      // Not while it is read: that takes long, and batch frames would wait for it.
      RenderScene scene = rigged(r);
      int height = height(width, p);
      Moment at = new FrameRate(p.frameRate()).moment(frame);
      RenderSettings settings = RenderSettings.of(MOST_SAMPLES, 0).with(new Denoising(true, 1));
      FrameImage image;
      try (RenderThreads.Watched first = pool.watch()) {
        image = small(scene, camera, at, width, height, settings);
        if (Brightness.of(image).isLost() && !Double.isNaN(Meter.stops(List.of(image)))) {
          double stops =
              Meter.stops(
                  scene, camera, List.of(at), width, height, settings, pool.workers(), Stop.NEVER);
          RenderSettings metered = settings.with(settings.lens().exposed(Track.of(stops)));
          image = small(scene, camera, at, width, height, metered);
        }
      }
      DisplayImage shown = ViewTransform.beauty(image, 0, false);
      byte[] jpeg = JpegFile.encode(shown, 0.9f);
      folder.pictures().put(name, jpeg);
      return jpeg;
    } finally {
      onePictureAtATime.unlock();
    }
  }

  @Override
  public int order() {
    return 0;
  }

  @Override
  public void copy(Production from, Production to) {
    List<Revision> all = repository.all(from.id());
    for (int i = all.size() - 1; i >= 0; i--) {
      Revision r = all.get(i);
      String origin = repository.origin(r.id());
      repository.add(
          to.id(),
          r.scene(),
          SceneRepository.Files.of(r.fileName(), r.sha256(), origin),
          r.report(),
          false);
    }
  }
}
