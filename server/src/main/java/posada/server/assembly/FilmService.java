package posada.server.assembly;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Service;
import org.springframework.transaction.event.TransactionalEventListener;
import posada.core.assembly.Assembler;
import posada.core.assembly.Input;
import posada.core.assembly.Source;
import posada.core.assembly.Stack;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.formats.assembly.FilmDocument;
import posada.formats.assembly.FilmDocument.Frame;
import posada.formats.assembly.FilmMaker;
import posada.formats.assembly.FilmOutput;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileTrouble;
import posada.formats.review.Footage;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.app.Stale;
import posada.server.assembly.FilmRepository.FilmTask;
import posada.server.assembly.FilmRepository.TaskState;
import posada.server.definitions.Definition;
import posada.server.definitions.Stacks;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.review.FootageService;
import posada.server.runs.OtherWork;
import posada.server.runs.RunService;
import posada.server.storage.DataFolder;
import posada.server.storage.StorageHealth;

/** Makes films and sequences, frame by frame in the queue of the batch. */
@Service
class FilmService implements OtherWork {
  private static final Logger LOG = LoggerFactory.getLogger(FilmService.class);

  private static final int MOST_ATTEMPTS = 3;

  /** Bytes of a pixel of a frame's file at the most: four halves, hardly packed. */
  private static final int BYTES_PER_PIXEL = 9;

  /** Between two words about how far films are, nanoseconds. */
  private static final long TELL_EVERY = 500_000_000L;

  /** By how much rates may differ, frames a second. */
  private static final double SAME_RATE = 1e-3;

  private final FilmRepository films;
  private final AssemblyPictures pictures;
  private final Stacks stacks;
  private final FootageService footage;
  private final ProductionService productions;
  private final RunService runs;
  private final RenderThreads pool;
  private final StorageHealth storage;
  private final DataFolder folder;
  private final EventHub events;
  private final Set<Long> cancelled = ConcurrentHashMap.newKeySet();
  private final Map<Long, Stand> stands = new ConcurrentHashMap<>();
  private final AtomicLong written = new AtomicLong();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "films"));
  private volatile long told;
  private volatile boolean closed;

  FilmService(
      FilmRepository films,
      AssemblyPictures pictures,
      Stacks stacks,
      FootageService footage,
      ProductionService productions,
      RunService runs,
      RenderThreads pool,
      StorageHealth storage,
      DataFolder folder,
      EventHub events) {
    this.films = films;
    this.pictures = pictures;
    this.stacks = stacks;
    this.footage = footage;
    this.productions = productions;
    this.runs = runs;
    this.pool = pool;
    this.storage = storage;
    this.folder = folder;
    this.events = events;
  }

  @PostConstruct
  void takeUp() throws IOException {
    for (long id : films.begun()) {
      AtomicFile.sweep(Path.of(find(id).folder()));
    }
    films.waitAgain(null);
  }

  /** Ends films whose last frame was made when the server was killed. */
  @EventListener(ApplicationReadyEvent.class)
  @Order(1)
  void settleAll() {
    films.begun().forEach(this::settle);
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * A part of a film that is asked for: of a stack, or of footage as it is.
   *
   * @param frames null or empty for all
   */
  record NewSegment(String title, Long stackId, String footage, String frames) {
    NewSegment {
      if (title == null || title.isBlank()) {
        throw new IllegalArgumentException("a part of a film needs a title");
      }
    }
  }

  /**
   * A film that is asked for.
   *
   * @param width pixels; 0 for that of the first part; height likewise
   */
  record NewFilm(
      long productionId,
      String name,
      int width,
      int height,
      List<NewSegment> segments,
      FilmOutput output) {
    NewFilm {
      if (segments == null || segments.isEmpty() || segments.stream().anyMatch(Objects::isNull)) {
        throw new IllegalArgumentException("Say what the film is made of.");
      }
      output = output == null ? FilmOutput.DEFAULT : output;
    }
  }

  List<Film> all(long production) {
    return films.all(production);
  }

  Film find(long id) {
    return films
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no film " + id + " any more."));
  }

  /** Starts a film, or a sequence. */
  synchronized Film start(NewFilm n) {
    Production p = productions.find(n.productionId());
    String name = NamePattern.safe(n.name() == null ? "" : n.name().strip());
    if (name.isBlank() || name.length() > 60) {
      throw new IllegalArgumentException(
          "a film's name must be 1 .. 60 letters (got \"" + n.name() + "\")");
    }
    List<FilmDocument.Segment> parts =
        n.segments().stream().map(s -> segment(n.productionId(), s)).toList();
    Stack first = parts.get(0).stack();
    for (FilmDocument.Segment s : parts) {
      if (Math.abs(s.stack().rate() - first.rate()) > SAME_RATE) {
        throw new IllegalArgumentException(
            "Part \"%s\" has %s frames a second and \"%s\" %s, but a film has one rate: give their stacks the same."
                .formatted(
                    s.title(), plain(s.stack().rate()), parts.get(0).title(), plain(first.rate())));
      }
    }
    if (n.output().sound() != null && !Files.isReadable(Path.of(n.output().sound()))) {
      throw new IllegalArgumentException(
          "The sound " + n.output().sound() + " is not there, or cannot be read.");
    }
    int version = films.nextVersion(n.productionId(), name);
    while (Files.exists(folder.film(p.name(), name, version))) {
      version++;
    }
    FilmDocument d =
        new FilmDocument(
            FilmDocument.SCHEMA,
            p.name(),
            name,
            version,
            first.rate(),
            n.width() > 0 ? n.width() : first.width(),
            n.height() > 0 ? n.height() : first.height(),
            parts,
            n.output());
    Path into = folder.film(p.name(), name, version);
    long id = films.add(n.productionId(), d, into.toString(), d.frames().size());
    runs.otherChanged();
    return changed(id);
  }

  private static String plain(double rate) {
    return String.format(Locale.ROOT, "%.3f", rate).replaceAll("\\.?0+$", "");
  }

  private FilmDocument.Segment segment(long production, NewSegment s) {
    Stack stack;
    if (s.stackId() != null) {
      Definition<Stack> d = stacks.of(production, s.stackId());
      stack = d.document();
    } else if (s.footage() != null) {
      stack = plain(s.footage());
    } else {
      throw new IllegalArgumentException(
          "Part \"" + s.title() + "\" is of no stack and no footage.");
    }
    if (stack.taking().isEmpty()) {
      throw new IllegalArgumentException(
          "Part \"" + s.title() + "\" has no inputs; add one, or unmute one.");
    }
    String frames = s.frames() == null || s.frames().isBlank() ? stack.frames() : s.frames();
    return new FilmDocument.Segment(s.title(), s.stackId(), stack, frames);
  }

  /** Footage as it is. */
  private Stack plain(String key) {
    FootageService.Named n = footage.named(key);
    Footage f = n.footage();
    List<Integer> there = f.written();
    if (there.isEmpty()) {
      throw new NotFoundException("No frame of " + f.name() + " has been written yet.");
    }
    try {
      int[] size = f.size(there.get(0));
      String frames = new FrameRange(f.frames()).toString();
      Input in = Input.of("1", f.name(), Source.of(key, "beauty"));
      return new Stack(size[0], size[1], n.rate(), frames, List.of(in));
    } catch (IOException e) {
      throw new IllegalArgumentException(
          "Frame %d of %s cannot be read: %s".formatted(there.get(0), f.name(), e.getMessage()));
    }
  }

  private Film changed(long id) {
    told = System.nanoTime();
    events.publish(new Stale(Stale.Kind.FILMS));
    return find(id);
  }

  private void progressed() {
    if (System.nanoTime() - told > TELL_EVERY) {
      told = System.nanoTime();
      events.publish(new Stale(Stale.Kind.FILMS));
    }
  }

  Film cancel(long id) {
    Film f = find(id);
    if (f.state() != Film.State.RUNNING) {
      throw new ConflictException("The " + f.title() + " is not being made.");
    }
    cancelled.add(id);
    films.move(id, Film.State.CANCELLED);
    runs.otherChanged();
    return changed(id);
  }

  /** Goes on with a film that was cancelled or failed: its frames that are there stay. */
  Film resume(long id) {
    Film f = find(id);
    if (f.state() != Film.State.CANCELLED && f.state() != Film.State.FAILED) {
      throw new ConflictException("The " + f.title() + " has nothing to go on with.");
    }
    cancelled.remove(id);
    films.waitAgain(id);
    films.move(id, Film.State.RUNNING);
    runs.otherChanged();
    return changed(id);
  }

  /** Makes those frames again whose inputs are others by now, and the film of them. */
  synchronized Film update(long id) {
    Film f = find(id);
    if (f.state() == Film.State.RUNNING) {
      throw new ConflictException("The " + f.title() + " is being made.");
    }
    FilmDocument now = current(f);
    cancelled.remove(id);
    films.again(id, now, now.frames().size());
    stands.remove(id);
    runs.otherChanged();
    return changed(id);
  }

  /** The film as it would be made now: with its stacks as they are. */
  private FilmDocument current(Film f) {
    Map<Long, Stack> known =
        stacks.all(f.productionId()).stream()
            .collect(Collectors.toMap(Definition::id, Definition::document));
    List<FilmDocument.Segment> parts = new ArrayList<>();
    for (FilmDocument.Segment s : f.document().segments()) {
      Stack stack = s.stackId() == null ? null : known.get(s.stackId());
      parts.add(
          stack == null ? s : new FilmDocument.Segment(s.title(), s.stackId(), stack, s.frames()));
    }
    return f.document().with(parts);
  }

  /** Takes a film out of the list; its files stay unless they are to go, too. */
  void remove(long id, boolean files) throws IOException {
    Film f = find(id);
    if (f.state() == Film.State.RUNNING) {
      throw new ConflictException("The " + f.title() + " is being made; cancel it first.");
    }
    films.remove(id);
    if (files && Files.isDirectory(Path.of(f.folder()))) {
      DataFolder.remove(Path.of(f.folder()));
    }
    events.publish(new Stale(Stale.Kind.FILMS));
  }

  private FilmMaker maker(Film f, FilmDocument d) {
    return new FilmMaker(d, Path.of(f.folder()), pictures.plainShelf());
  }

  /** Returns where what is made of a film lies, or will. */
  Path made(Film f) {
    return maker(f, f.document()).made();
  }

  FilmMaker maker(Film f) {
    return maker(f, f.document());
  }

  // The queue.

  @Override
  public List<Open> open() {
    return films.open().stream().map(id -> new Open(id, 0)).toList();
  }

  @Override
  public List<Long> next(long of, int most, Set<Long> but) {
    return films.next(of, most, but);
  }

  @Override
  public void work(long id, boolean again, Stop stop) {
    FilmTask t = films.take(id, again).orElse(null);
    runs.otherArrived(id);
    if (t == null) {
      return; // Cancelled since the message was sent.
    }
    Film f = find(t.film());
    Stop either = () -> stop.asked() || cancelled.contains(t.film());
    long start = System.nanoTime();
    try {
      String said = t.place() == FilmRepository.WHOLE ? whole(f, either) : frame(f, t, either);
      double seconds = (System.nanoTime() - start) / 1e9;
      if (said == null) {
        films.ended(t, TaskState.WAITING, null, null, null);
      } else {
        films.ended(t, TaskState.FRESH, seconds, null, said.isEmpty() ? null : said);
        runs.otherWorked(t.film(), seconds);
      }
    } catch (IOException | RuntimeException | OutOfMemoryError e) {
      if (StorageHealth.isDown(e)) {
        throw (RuntimeException) e; // Its message is given again.
      }
      LOG.warn("a part of {} failed", f.title(), e);
      // A disk that is full is no fault of the film.
      boolean often = t.attempts() >= MOST_ATTEMPTS && storage.hasRoom(0);
      boolean last = often || e instanceof IllegalArgumentException;
      String why =
          e instanceof OutOfMemoryError
              ? "The server's memory was not enough for this."
              : FileTrouble.sentence(e);
      films.ended(t, last ? TaskState.FAILED : TaskState.WAITING, null, why, null);
    }
    storage.keep(() -> settle(t.film()), stop::asked);
  }

  /** Makes a frame; null if it was stopped. */
  private String frame(Film f, FilmTask t, Stop stop) throws IOException {
    FilmMaker maker = maker(f);
    Frame frame = f.document().frames().get(t.place());
    long most = (long) BYTES_PER_PIXEL * f.document().madeWidth() * f.document().madeHeight();
    if (stop.asked() || !storage.await(most, stop::asked)) {
      return null;
    }
    String print = maker.fingerprint(frame);
    if (maker.isFresh(frame, print)) {
      return "";
    }
    List<Assembler.Said> said = maker.make(frame, print, pool.workers());
    return said.stream().map(Assembler.Said::text).distinct().collect(Collectors.joining("\n"));
  }

  private String whole(Film f, Stop stop) throws IOException {
    FilmMaker maker = maker(f);
    maker.describe();
    return maker.finish(pool.workers(), stop, x -> progressed()) ? "" : null;
  }

  private void settle(long id) {
    Film f = find(id);
    if (f.state() != Film.State.RUNNING) {
      return;
    }
    boolean waits =
        films.howMany(id, TaskState.WAITING) + films.howMany(id, TaskState.RENDERING) > 0;
    if (f.done() == f.total()) {
      films.move(id, Film.State.FINISHED);
      stands.put(id, new Stand(stamp(f), 0));
      changed(id);
    } else if (f.failed() > 0 && (!waits || films.next(id, 1, Set.of()).isEmpty())) {
      films.move(id, Film.State.FAILED);
      changed(id);
    } else {
      progressed();
    }
    runs.otherChanged();
  }

  // What is stale.

  /**
   * How many frames of a film are stale.
   *
   * @param stamp of what they may have been made from; -1 frames while it is being found out
   */
  private record Stand(String stamp, int frames) {}

  @TransactionalEventListener(fallbackExecution = true)
  void written(RunService.FrameWritten w) {
    written.incrementAndGet();
  }

  private String stamp(Film f) {
    StringBuilder s = new StringBuilder().append(written.get());
    for (FilmDocument.Segment p : f.document().segments()) {
      if (p.stackId() != null) {
        stacks.all(f.productionId()).stream()
            .filter(d -> d.id() == p.stackId())
            .forEach(d -> s.append(' ').append(d.id()).append('.').append(d.version()));
      }
    }
    return s.toString();
  }

  /** Returns how many frames of a finished film are stale; -1 while that is being found out. */
  int stale(Film f) {
    if (f.state() != Film.State.FINISHED) {
      return 0;
    }
    String stamp = stamp(f);
    Stand known = stands.get(f.id());
    if (known == null || !known.stamp.equals(stamp)) {
      stands.put(f.id(), new Stand(stamp, known == null ? -1 : known.frames));
      thread.execute(() -> look(f, stamp));
    }
    return stands.get(f.id()).frames;
  }

  private void look(Film f, String stamp) {
    try {
      FilmDocument now = current(f);
      FilmMaker maker = maker(f, now);
      int stale = 0;
      for (Frame frame : now.frames()) {
        if (closed) {
          return;
        }
        stale += maker.isFresh(frame, maker.fingerprint(frame)) ? 0 : 1;
      }
      stands.put(f.id(), new Stand(stamp, stale));
      events.publish(new Stale(Stale.Kind.FILMS));
    } catch (IOException | RuntimeException e) {
      LOG.warn("how {} stands cannot be found out", f.title(), e);
    }
  }
}
