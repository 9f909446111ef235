package posada.server.assembly;

import io.swagger.v3.oas.annotations.media.Schema;
import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.assembly.Stack;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.formats.assembly.FilmDocument;
import posada.formats.assembly.FilmMaker;
import posada.formats.files.FileFormat;
import posada.formats.files.FileTrouble;
import posada.formats.files.FrameFiles;
import posada.formats.handover.Handover;
import posada.formats.handover.HandoverCheck;
import posada.formats.handover.Manifest;
import posada.formats.review.Footage;
import posada.formats.settings.Documents;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.definitions.Definition;
import posada.server.definitions.Stacks;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.review.FootageService;
import posada.server.review.Judged;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;
import posada.server.shots.ShotService;
import posada.server.storage.DataFolder;
import posada.server.storage.StorageHealth;

/** Writes what is passed on to the next person, one handover after the other. */
@Service
class HandoverService {
  private static final Logger LOG = LoggerFactory.getLogger(HandoverService.class);

  /** Zips that are kept to be fetched; the oldest goes first. */
  private static final int MOST_ZIPS = 3;

  private static final String ZIP = ".zip", PART = ".part", PACKING = "packing-";

  private static final long TELL_EVERY = 500_000_000L;

  private final HandoverRepository handovers;
  private final Sources sources;
  private final FilmService films;
  private final RunService runs;
  private final FootageService footage;
  private final ShotService shots;
  private final Judged judged;
  private final Stacks stacks;
  private final ProductionService productions;
  private final DataFolder folder;
  private final StorageHealth storage;
  private final EventHub events;
  private final Map<Long, Double> progress = new ConcurrentHashMap<>();
  private final Set<Long> cancelled = ConcurrentHashMap.newKeySet();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "handover"));
  private volatile boolean closed;
  private volatile long told;

  HandoverService(
      HandoverRepository handovers,
      Sources sources,
      FilmService films,
      RunService runs,
      FootageService footage,
      ShotService shots,
      Judged judged,
      Stacks stacks,
      ProductionService productions,
      DataFolder folder,
      StorageHealth storage,
      EventHub events) {
    this.handovers = handovers;
    this.sources = sources;
    this.films = films;
    this.runs = runs;
    this.footage = footage;
    this.shots = shots;
    this.judged = judged;
    this.stacks = stacks;
    this.productions = productions;
    this.folder = folder;
    this.storage = storage;
    this.events = events;
  }

  /** Removes what a killed server was writing. */
  @PostConstruct
  void begin() throws IOException {
    handovers.cutOff().stream().filter(h -> !h.zip()).forEach(h -> discard(Path.of(h.path())));
    try (Stream<Path> all = Files.list(folder.handovers())) {
      for (Path p : all.filter(HandoverService::isPassing).toList()) {
        DataFolder.remove(p);
      }
    }
  }

  /** Returns whether something is there only while a zip is packed. */
  private static boolean isPassing(Path p) {
    String name = p.getFileName().toString();
    return name.startsWith(PACKING) || name.endsWith(PART);
  }

  private static void discard(Path folder) {
    try {
      Handover.discard(folder);
    } catch (IOException e) {
      LOG.warn("what was written in {} cannot be removed", folder, e);
    }
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * Something that was handed over.
   *
   * @param path of the folder or the zip, absolute
   * @param done share of its bytes that are written, 0 .. 1
   * @param failure why it is not there; null if that is not so
   */
  record Handed(
      long id,
      String path,
      boolean zip,
      State state,
      List<String> titles,
      int files,
      long bytes,
      double done,
      @Schema(types = {"string", "null"}) String failure,
      Instant startedAt) {
    enum State {
      RUNNING,
      FINISHED,
      FAILED,
      CANCELLED
    }

    private Handed with(Double share) {
      return share == null
          ? this
          : new Handed(id, path, zip, state, titles, files, bytes, share, failure, startedAt);
    }
  }

  List<Handed> all(long production) {
    return handovers.all(production).stream().map(h -> h.with(progress.get(h.id()))).toList();
  }

  Handed find(long id) {
    return handovers
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no handover " + id + " any more."));
  }

  /**
   * Something that can be handed over.
   *
   * @param key {@code strand-12} or {@code film-3}
   * @param warnings what should be known before: not approved, open findings, stale
   */
  record Offer(
      String key,
      String title,
      String what,
      boolean isFilm,
      int frames,
      long bytes,
      List<String> warnings) {}

  /** Returns what can be handed over, in the order of the shots; films behind. */
  List<Offer> offers(long production) throws IOException {
    List<Offer> all = new ArrayList<>();
    Map<String, Integer> checked = judged.counts(production);
    for (Sources.Offered o : sources.all(production)) {
      long strand = Long.parseLong(o.key().substring(o.key().indexOf('-') + 1));
      Footage f = footage.named(o.key()).footage();
      List<Integer> there = f.written();
      long bytes = 0;
      for (int frame : there) {
        for (FrameFiles.Part p : f.parts().apply(frame)) {
          bytes += Files.exists(p.path()) ? Files.size(p.path()) : 0;
        }
      }
      List<String> warnings = new ArrayList<>();
      Judged.Decided said = judged.decision(production, strand).orElse(null);
      if (said == null || !said.approved()) {
        warnings.add(said == null ? "nobody has approved it" : said.text());
      }
      Integer open = checked.get(o.key());
      if (open == null) {
        warnings.add("not checked yet");
      } else if (open > 0) {
        warnings.add(open + (open == 1 ? " open finding" : " open findings"));
      }
      if (there.size() < f.frames().size()) {
        warnings.add((f.frames().size() - there.size()) + " frames are missing");
      }
      all.add(
          new Offer(
              o.key(),
              title(o.shot(), o.layer(), o.version()),
              o.passes().size() + (o.passes().size() == 1 ? " pass" : " passes"),
              false,
              there.size(),
              bytes,
              warnings));
    }
    for (Film f : films.all(production)) {
      if (f.state() == Film.State.FINISHED) {
        int stale = films.stale(f);
        Path made = films.made(f);
        long bytes = Files.isRegularFile(made) ? Files.size(made) : 0;
        all.add(
            new Offer(
                "film-" + f.id(),
                title(f.name(), "", f.version()),
                f.document().output().kind().name(),
                true,
                f.total() - 1,
                bytes,
                stale > 0 ? List.of(stale + " frames are stale") : List.of()));
      }
    }
    return all;
  }

  private static String title(String shot, String layer, int version) {
    return String.format(
        Locale.ROOT, "%s%s v%03d", shot, layer.isEmpty() ? "" : " " + layer, version);
  }

  /**
   * What is asked for.
   *
   * @param keys in the order of the cut
   * @param path of an empty folder or one that is not there yet; null for a zip
   * @param copy false to leave the files where they are; a zip always has them
   */
  record NewHandover(
      long productionId,
      List<String> keys,
      @Schema(types = {"string", "null"}) String path,
      boolean copy) {}

  synchronized Handed start(NewHandover n) throws IOException {
    Production p = productions.find(n.productionId());
    if (n.keys() == null || n.keys().isEmpty() || n.keys().stream().anyMatch(Objects::isNull)) {
      throw new IllegalArgumentException("Choose what is handed over.");
    }
    boolean zip = n.path() == null;
    Path into = zip ? null : path(n.path());
    try {
      if (into != null) {
        Handover.checkEmpty(into);
      }
    } catch (FileAlreadyExistsException e) {
      throw new ConflictException(e.getMessage() + ".");
    }
    List<Handover.Item> items = new ArrayList<>();
    for (String key : n.keys()) {
      items.add(item(p, key));
    }
    Map<String, String> json = new TreeMap<>();
    for (Definition<Stack> d : stacks.all(p.id())) {
      json.put(d.name(), Documents.write(d.document()));
    }
    Handover h = new Handover(p.name(), items, json, zip || n.copy());
    long room = zip ? 2 * h.bytes() : n.copy() ? h.bytes() : 0;
    if (zip && room > folder.freeBytes()) {
      throw new ConflictException(
          "A zip needs %.1f GB while it is packed, and %.1f GB are free; hand a folder over instead."
              .formatted(room / 1e9, folder.freeBytes() / 1e9));
    }
    List<String> titles = items.stream().map(Handover.Item::title).toList();
    Path target = zip ? zipOf(p) : into;
    long id = handovers.add(p.id(), target.toString(), zip, titles);
    thread.execute(() -> run(id, h, target, zip));
    events.publish(new Stale(Stale.Kind.HANDOVERS));
    return find(id);
  }

  /** Returns a zip that no other handover has. */
  private Path zipOf(Production p) throws IOException {
    String now = Instant.now().toString().substring(0, 19).replaceAll("[^0-9]", "");
    for (int k = 1; ; k++) {
      String more = k == 1 ? "" : "-" + k;
      Path zip =
          folder.handovers().resolve("%s-handover-%s%s%s".formatted(p.address(), now, more, ZIP));
      if (!Files.exists(zip) && handovers.all(p.id()).stream().noneMatch(h -> is(h, zip))) {
        return zip;
      }
    }
  }

  private static boolean is(Handed h, Path zip) {
    return h.path().equals(zip.toString());
  }

  private static Path path(String text) {
    try {
      Path p = Path.of(text.strip());
      if (!p.isAbsolute()) {
        throw new IllegalArgumentException(
            "the folder must begin at the root, such as /films/handover (got \"" + text + "\")");
      }
      return p.normalize();
    } catch (InvalidPathException e) {
      throw new IllegalArgumentException("\"" + text + "\" is no folder's name", e);
    }
  }

  private Handover.Item item(Production p, String key) throws IOException {
    if (key.matches("film-\\d{1,18}")) {
      return film(films.find(Long.parseLong(key.substring(5))));
    }
    if (!key.matches("strand-\\d{1,18}")) {
      throw new NotFoundException("There is nothing called \"" + key + "\".");
    }
    RunStrand r = runs.find(Long.parseLong(key.substring(7)));
    if (r.productionId() != p.id()) {
      throw new NotFoundException(r.title() + " is of another production.");
    }
    FootageService.Named n = footage.named(key);
    List<Integer> frames = n.footage().frames();
    int step = frames.size() < 2 ? 1 : frames.get(1) - frames.get(0);
    Handover.Item whole =
        new Handover.Item(
            title(r.shot(), r.layer(), r.number()),
            r.shot(),
            r.layer(),
            r.number(),
            step,
            n.rate() / step,
            n.footage(),
            null,
            judged.decision(p.id(), r.id()).map(Judged.Decided::text).orElse("not approved yet"),
            judged.open(r.id()));
    // Handles are those of the shot as it is, where all of its frames are there.
    return shots.all(p.id()).stream()
        .filter(
            s ->
                Objects.equals(s.id(), r.shotId())
                    && FrameRange.parse(s.frames()).frames().equals(frames))
        .findFirst()
        .map(s -> whole.withHandles(s.settings().headHandle(), s.settings().tailHandle()))
        .orElse(whole);
  }

  private Handover.Item film(Film f) {
    FilmDocument d = f.document();
    String title = title(f.name(), "", f.version());
    boolean single = d.output().kind().single();
    FrameRate rate = d.filmRate();
    if (single) {
      return new Handover.Item(
          title,
          f.name(),
          "",
          f.version(),
          1,
          rate.perSecond(),
          null,
          films.made(f),
          "put together",
          List.of());
    }
    FilmMaker maker = films.maker(f);
    List<Integer> frames = d.frames().stream().map(FilmDocument.Frame::number).sorted().toList();
    int step = frames.size() < 2 ? 1 : frames.get(1) - frames.get(0);
    FileFormat format =
        switch (d.output().kind()) {
          case PNG -> FileFormat.PNG16;
          case TIFF -> FileFormat.TIFF16;
          case JPEG -> FileFormat.JPEG;
          default -> FileFormat.EXR;
        };
    Footage made =
        new Footage(
            title,
            frames,
            frame ->
                List.of(new FrameFiles.Part(format, Set.of(Pass.BEAUTY), maker.madeFile(frame))));
    return new Handover.Item(
        title,
        f.name(),
        "",
        f.version(),
        step,
        rate.perSecond(),
        made,
        null,
        "put together",
        List.of());
  }

  private void run(long id, Handover h, Path target, boolean zip) {
    Path work = target;
    try {
      if (zip) {
        work = folder.handovers().resolve(PACKING + id);
      }
      Manifest m = h.write(work, () -> closed || cancelled.contains(id), x -> at(id, x));
      if (m == null) {
        ended(id, Handed.State.CANCELLED, 0, 0, null);
        return;
      }
      if (zip) {
        pack(work, target);
        DataFolder.remove(work);
        sweep(target);
      }
      int files = m.sequences().stream().mapToInt(q -> q.files().size()).sum();
      long bytes =
          m.sequences().stream()
              .flatMap(q -> q.files().stream())
              .mapToLong(Manifest.FileLine::bytes)
              .sum();
      ended(id, Handed.State.FINISHED, files, bytes, null);
    } catch (IOException | RuntimeException e) {
      LOG.warn("the handover {} failed", target, e);
      ended(id, Handed.State.FAILED, 0, 0, FileTrouble.sentence(e));
    } finally {
      progress.remove(id);
      cancelled.remove(id);
      if (zip && Files.isDirectory(work)) {
        removed(work);
      }
      events.publish(new Stale(Stale.Kind.HANDOVERS));
    }
  }

  /** Keeps what became of it, however long the database is down: the disk may be full of it. */
  private void ended(long id, Handed.State state, int files, long bytes, String failure) {
    storage.keep(() -> handovers.ended(id, state, files, bytes, failure), () -> closed);
  }

  private static void removed(Path folder) {
    try {
      DataFolder.remove(folder);
    } catch (IOException e) {
      LOG.warn("{} cannot be removed", folder, e);
    }
  }

  private void at(long id, double share) {
    progress.put(id, share);
    if (System.nanoTime() - told > TELL_EVERY) {
      told = System.nanoTime();
      events.publish(new Stale(Stale.Kind.HANDOVERS));
    }
  }

  private static void pack(Path from, Path zip) throws IOException {
    Path part = zip.resolveSibling(zip.getFileName() + PART);
    try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(part));
        Stream<Path> all = Files.walk(from)) {
      // Pictures are packed already.
      out.setLevel(Deflater.NO_COMPRESSION);
      for (Path p : all.filter(Files::isRegularFile).sorted().toList()) {
        out.putNextEntry(new ZipEntry(from.relativize(p).toString().replace('\\', '/')));
        Files.copy(p, out);
        out.closeEntry();
      }
    }
    Files.move(part, zip);
  }

  /** Removes the oldest zips. */
  private void sweep(Path newest) throws IOException {
    List<Path> zips;
    try (Stream<Path> all = Files.list(folder.handovers())) {
      zips =
          all.filter(p -> p.toString().endsWith(ZIP) && !p.equals(newest))
              .sorted(java.util.Comparator.comparing(p -> p.toFile().lastModified()))
              .toList();
    }
    for (Path p : zips.subList(0, Math.max(0, zips.size() - MOST_ZIPS + 1))) {
      Files.deleteIfExists(p);
    }
  }

  Handed cancel(long id) {
    Handed h = find(id);
    if (h.state() != Handed.State.RUNNING) {
      throw new ConflictException("This handover is not being written.");
    }
    cancelled.add(id);
    return h;
  }

  /** Takes one out of the list; a zip goes, a folder stays. */
  void remove(long id) throws IOException {
    Handed h = find(id);
    if (h.state() == Handed.State.RUNNING) {
      throw new ConflictException("This handover is being written; cancel it first.");
    }
    handovers.remove(id);
    if (h.zip()) {
      Files.deleteIfExists(Path.of(h.path()));
    }
    events.publish(new Stale(Stale.Kind.HANDOVERS));
  }

  /** Reads a folder back. */
  HandoverCheck check(long id) throws IOException {
    Handed h = find(id);
    if (h.zip()) {
      throw new IllegalArgumentException("A zip is checked where it is unpacked.");
    }
    return HandoverCheck.of(Path.of(h.path()), () -> closed);
  }
}
