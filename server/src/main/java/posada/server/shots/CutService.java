package posada.server.shots;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntConsumer;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Service;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Moment;
import posada.formats.display.PngFile;
import posada.formats.gltf.ImportException;
import posada.formats.preview.ContactSheet;
import posada.formats.preview.CutFilm;
import posada.formats.preview.PreviewFilm;
import posada.formats.preview.PreviewRecipe;
import posada.formats.settings.RenderDocument;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.storage.DataFolder;

/**
 * Draws several shots quickly: as one film, as films or pictures in a zip, as a contact sheet. Each
 * production has the newest one; asking for another stops it. They are not kept when the server
 * starts anew.
 */
@Service
public class CutService {
  /** Pixels of the width of a picture on a contact sheet, and pictures in a row. */
  private static final int TILE = 480, ACROSS = 6, PICKED = 3;

  private final ShotService shots;
  private final SceneService scenes;
  private final ProductionService productions;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final Path folder;
  private final NewestJobs<CutJob> jobs;

  CutService(
      ShotService shots,
      SceneService scenes,
      ProductionService productions,
      SceneLibrary library,
      RenderThreads pool,
      EventHub events,
      DataFolder data)
      throws IOException {
    this.shots = shots;
    this.scenes = scenes;
    this.productions = productions;
    this.library = library;
    this.pool = pool;
    folder = data.cuts();
    jobs = new NewestJobs<>("cut", events, pool, this::path);
  }

  /** Begins to draw. */
  CutJob start(long production, CutWish wish) {
    Production p = productions.find(production);
    List<Shot> all =
        shots.all(production).stream()
            .filter(s -> wish.shots().isEmpty() || wish.shots().contains(s.id()))
            .filter(s -> !wish.of(s).isEmpty())
            .toList();
    int total = all.stream().mapToInt(s -> wish.of(s).size()).sum();
    wish.check(total);
    PreviewRecipe r = recipe(wish, p);
    CutFilm film =
        new CutFilm(
            all.stream().map(s -> part(s, p, wish, r)).toList(),
            p.width(),
            p.height(),
            new FrameRate(p.frameRate()),
            r);
    int[] wh = r.size(p.width(), p.height(), true);
    CutJob job =
        new CutJob(
            jobs.number(),
            production,
            wish.form(),
            PreviewJob.State.DRAWING,
            0,
            total,
            0,
            wh[0],
            wh[1],
            null);
    return jobs.begin(job, (stop, done) -> made(job, film, all, wish, p, stop, done));
  }

  /** Pictures of a sheet are small, and show only what is picked. */
  private static PreviewRecipe recipe(CutWish w, Production p) {
    PreviewRecipe r = w.recipe();
    return new PreviewRecipe(
        r.look(),
        w.form().sheet() ? Math.min(100, 100.0 * TILE / p.width()) : r.scale(),
        r.every(),
        w.form().sheet() ? Set.of() : r.burnIns(),
        r.watermark(),
        r.quality());
  }

  /** A shot as it is drawn: its frames are picked already. */
  private CutFilm.Part part(Shot s, Production p, CutWish wish, PreviewRecipe r) {
    FrameRate rate = new FrameRate(p.frameRate());
    List<Moment> moments = wish.of(s).stream().map(rate::moment).toList();
    int[] size = CutFilm.fit(s.width(), s.height(), p.width(), p.height());
    PreviewRecipe each =
        new PreviewRecipe(r.look(), r.scale(), 1, r.burnIns(), r.watermark(), r.quality());
    return new CutFilm.Part() {
      @Override
      public String name() {
        return s.name();
      }

      @Override
      public PreviewFilm film() throws IOException {
        RenderDocument d = shots.document(s, null);
        Map<String, String> fields =
            Map.of(
                "shot", s.name(),
                "camera", s.camera(),
                "layer", d.settings().layer().name(),
                "date", LocalDate.now().toString());
        try {
          return new PreviewFilm(
              library.get(scenes.revision(s.revisionId()), d),
              s.camera(),
              moments,
              size[0],
              size[1],
              rate,
              d.settings(),
              each,
              fields);
        } catch (ImportException e) {
          throw new ConflictException("Shot \"" + s.name() + "\": " + e.getMessage());
        }
      }
    };
  }

  /** Makes the file of a job; false if it was stopped. */
  private boolean made(
      CutJob job,
      CutFilm film,
      List<Shot> all,
      CutWish wish,
      Production p,
      Stop stop,
      IntConsumer done)
      throws IOException {
    Path file = path(job);
    if (job.form() == CutWish.Form.FILM) {
      return film.film(file, pool.workers(), stop, done);
    }
    if (job.form().sheet()) {
      List<ContactSheet.Tile> tiles = film.tiles(pool.workers(), stop, done);
      if (tiles == null) {
        return false;
      }
      int across = wish.picks() == PICKED ? PICKED : ACROSS;
      Files.write(
          file,
          job.form() == CutWish.Form.PAGES
              ? ContactSheet.pdf(tiles, across, p.name())
              : PngFile.encode(ContactSheet.of(tiles, across), 8, Map.of()));
      return true;
    }
    Path parts = Files.createTempDirectory(folder, "parts-");
    try {
      int before = 0;
      for (int i = 0; i < all.size(); i++) {
        Shot s = all.get(i);
        int sum = before;
        String name = String.format(Locale.ROOT, "%02d-%s", i + 1, NamePattern.safe(s.name()));
        PreviewFilm one = film.parts().get(i).film();
        IntConsumer counted = n -> done.accept(sum + n);
        boolean whole =
            job.form() == CutWish.Form.FILMS
                ? one.film(
                    parts.resolve(name + PreviewFilm.FILM), true, pool.workers(), stop, counted)
                : one.sequence(
                    Files.createDirectory(parts.resolve(name)),
                    new NamePattern(name + ".{frame:4}"),
                    false,
                    true,
                    pool.workers(),
                    stop,
                    counted);
        if (!whole) {
          return false;
        }
        before += wish.of(s).size();
      }
      zip(parts, file);
      return true;
    } finally {
      DataFolder.remove(parts);
    }
  }

  private static void zip(Path parts, Path file) throws IOException {
    try (OutputStream out = Files.newOutputStream(file);
        ZipOutputStream zip = new ZipOutputStream(out);
        Stream<Path> all = Files.walk(parts)) {
      zip.setLevel(Deflater.NO_COMPRESSION);
      List<Path> files = new ArrayList<>(all.filter(Files::isRegularFile).toList());
      files.sort(Comparator.naturalOrder());
      for (Path f : files) {
        zip.putNextEntry(new ZipEntry(parts.relativize(f).toString().replace('\\', '/')));
        Files.copy(f, zip);
      }
    }
  }

  /** Returns the newest of a production, if there is one. */
  Optional<CutJob> newest(long production) {
    productions.find(production);
    return jobs.newest(production);
  }

  /** Stops drawing; what is finished stays. */
  CutJob stop(long production) {
    CutJob job =
        newest(production)
            .orElseThrow(() -> new NotFoundException("Nothing is drawn of this production."));
    return jobs.stop(job, job.done(), job.seconds());
  }

  /** A finished file. */
  record Made(Path file, String name, String type) {}

  Made file(long production, long id) {
    CutJob job = newest(production).orElse(null);
    if (job == null || job.id() != id || job.state() != PreviewJob.State.READY) {
      throw new NotFoundException("Preview " + id + " is not there any more; make it again.");
    }
    String name = NamePattern.safe(productions.find(production).name());
    String what = job.form().sheet() ? "contact-sheet" : "preview";
    return new Made(path(job), name + "-" + what + "." + job.form().ending(), job.form().type());
  }

  private Path path(CutJob job) {
    return folder.resolve("cut-" + job.id() + "." + job.form().ending());
  }
}
