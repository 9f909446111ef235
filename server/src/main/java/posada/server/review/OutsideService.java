package posada.server.review;

import jakarta.annotation.PostConstruct;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.image.DisplayImage;
import posada.formats.display.JpegFile;
import posada.formats.exr.ExrReader;
import posada.formats.files.AtomicFile;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneArchive;
import posada.formats.review.SequenceFolder;
import posada.formats.video.FilmFile;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Stale;
import posada.server.app.UnreadableException;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.storage.DataFolder;

/** Takes sequences from elsewhere in: folders, zips and films. */
@Service
class OutsideService {
  /** File beside the frames of a film that is still being read. */
  private static final String READING = "reading";

  private static final Logger LOG = LoggerFactory.getLogger(OutsideService.class);
  private static final long MOST_BYTES = 32L << 30;
  private static final float QUALITY = 0.95f;
  private static final int LONGEST_NAME = 200;
  private static final double LEAST_RATE = 1, MOST_RATE = 240;

  private final OutsideRepository sequences;
  private final ProductionService productions;
  private final DataFolder folder;
  private final EventHub events;

  /** Takes films apart. */
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "films"));

  private volatile boolean closed;

  OutsideService(
      OutsideRepository sequences,
      ProductionService productions,
      DataFolder folder,
      EventHub events) {
    this.sequences = sequences;
    this.productions = productions;
    this.folder = folder;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /** Removes folders whose sequences are gone, and reads on what a killed server was reading. */
  @PostConstruct
  void sweep() throws IOException {
    Set<String> kept = new HashSet<>();
    for (Production p : productions.all()) {
      for (OutsideSequence s : all(p.id())) {
        kept.addAll(folders(s));
        if (s.film() != null && Files.exists(Path.of(s.folder()).resolve(READING))) {
          AtomicFile.sweep(Path.of(s.folder()));
          thread.execute(() -> readOn(s));
        }
      }
    }
    try (Stream<Path> there = Files.list(folder.sequences())) {
      for (Path p : there.filter(f -> !kept.contains(f.toString())).toList()) {
        DataFolder.remove(p);
      }
    }
  }

  /** The folders of a sequence's files, and of the film that they were taken from. */
  private static List<String> folders(OutsideSequence s) {
    return s.film() == null
        ? List.of(s.folder())
        : List.of(s.folder(), String.valueOf(Path.of(s.film()).getParent()));
  }

  private Path own() throws IOException {
    return Files.createTempDirectory(folder.sequences(), "sequence-");
  }

  List<OutsideSequence> all(long production) {
    return sequences.all(production);
  }

  /**
   * Takes what lies at a path of this machine: a folder or one of its files, a zip, or a film.
   *
   * @return the sequences that were found, each by itself
   */
  List<OutsideSequence> take(long production, String path) throws IOException, ImportException {
    Path p;
    try {
      p = Path.of(path.strip()).toAbsolutePath().normalize();
    } catch (InvalidPathException e) {
      throw new IllegalArgumentException("\"" + path + "\" is no path of this machine.");
    }
    if (!Files.exists(p)) {
      throw new NotFoundException("There is nothing at " + p + ".");
    }
    Production of = productions.find(production);
    String name = p.getFileName() == null ? p.toString() : p.getFileName().toString();
    if (Files.isDirectory(p)) {
      return sequences(of, name, p, SequenceFolder.find(p));
    }
    if (isZip(name)) {
      try (InputStream in = Files.newInputStream(p)) {
        return unpacked(of, name, in);
      }
    }
    if (!PICTURES.contains(end(name))) {
      return List.of(film(of, name, p));
    }
    List<SequenceFolder.Sequence> around = around(p);
    return around.isEmpty()
        ? still(of, name, () -> Files.newInputStream(p))
        : sequences(of, name, p.getParent(), around);
  }

  /** Returns the sequences that a picture is of; none if it has no number. */
  private static List<SequenceFolder.Sequence> around(Path picture) throws IOException {
    try {
      return SequenceFolder.find(picture.getParent()).stream()
          .filter(s -> s.files().containsValue(picture))
          .toList();
    } catch (IllegalArgumentException noneAtAll) {
      return List.of();
    }
  }

  /** A picture by itself: a sequence of one frame, of a copy. */
  private List<OutsideSequence> still(Production of, String name, Sent.Open picture)
      throws IOException {
    Path into = own();
    try {
      int dot = name.lastIndexOf('.');
      Path copy =
          into.resolve(
              name.substring(0, dot) + ".0001" + name.substring(dot).toLowerCase(Locale.ROOT));
      try (InputStream in = picture.open()) {
        Files.copy(in, copy);
      }
      return sequences(of, name, into, SequenceFolder.find(into));
    } catch (IOException | RuntimeException e) {
      DataFolder.remove(into);
      throw e;
    }
  }

  private static final Set<String> PICTURES = Set.of("exr", "png", "tif", "tiff", "jpg", "jpeg");

  private static final Set<String> FILM = Set.of("mp4", "mov", "mkv", "webm", "avi", "m4v");

  private static String end(String name) {
    return name.substring(name.lastIndexOf('.') + 1).toLowerCase(Locale.ROOT);
  }

  private static boolean isZip(String name) {
    return end(name).equals("zip");
  }

  /** Takes files that were sent: a zip, a film, or numbered pictures. */
  List<OutsideSequence> take(long production, List<Sent> files)
      throws IOException, ImportException {
    Production of = productions.find(production);
    Sent first = files.get(0);
    if (files.size() == 1 && isZip(first.name)) {
      try (InputStream in = first.open()) {
        return unpacked(of, first.name, in);
      }
    }
    boolean numbered = first.name.matches(".*\\d\\.[^.]*");
    if (files.size() == 1 && !numbered && PICTURES.contains(end(first.name))) {
      return still(of, Path.of(first.name).getFileName().toString(), first.in);
    }
    Path into = own();
    try {
      for (Sent f : files) {
        try (InputStream in = f.open()) {
          Files.copy(in, into.resolve(Path.of(f.name).getFileName()));
        }
      }
      if (files.size() == 1 && FILM.contains(end(first.name))) {
        return List.of(film(of, first.name, into.resolve(Path.of(first.name).getFileName())));
      }
      return sequences(of, first.name, into, SequenceFolder.find(into));
    } catch (IOException | RuntimeException e) {
      DataFolder.remove(into);
      throw told(e, first.name);
    }
  }

  /** A file that was sent. */
  record Sent(String name, Open in) {
    interface Open {
      InputStream open() throws IOException;
    }

    InputStream open() throws IOException {
      return in.open();
    }
  }

  private List<OutsideSequence> unpacked(Production of, String name, InputStream in)
      throws IOException, ImportException {
    Path into = own();
    try {
      SceneArchive.files(name, in, into, MOST_BYTES);
      return sequences(of, name, into, SequenceFolder.find(into));
    } catch (IOException | RuntimeException | ImportException e) {
      DataFolder.remove(into);
      if (e instanceof ImportException wrong) {
        throw wrong;
      }
      throw told(e, name);
    }
  }

  /** Whoever sent something knows it by its name, not by where it was put. */
  private static RuntimeException told(Exception e, String name) throws IOException {
    if (e instanceof IllegalArgumentException) {
      return new IllegalArgumentException(
          "\""
              + name
              + "\" holds no sequence: pictures with numbers, ending in .exr, .png, .tif or"
              + " .jpg.");
    }
    if (e instanceof IOException io) {
      throw io;
    }
    return (RuntimeException) e;
  }

  private List<OutsideSequence> sequences(
      Production of, String name, Path where, List<SequenceFolder.Sequence> found)
      throws IOException {
    List<OutsideSequence> all = new ArrayList<>();
    for (SequenceFolder.Sequence s : found) {
      double rate = of.frameRate();
      Path first = s.files().firstEntry().getValue();
      try {
        if (!s.display() && ExrReader.header(first).rate() != null) {
          rate = ExrReader.header(first).rate().perSecond();
        }
      } catch (IOException damaged) {
        LOG.debug("the rate of {} is not known", first, damaged);
      }
      String called = found.size() == 1 && !name.equals(s.name()) ? name : s.name();
      all.add(add(of, called, where, s.name(), null, rate));
    }
    return all;
  }

  private OutsideSequence add(
      Production of, String name, Path where, String pattern, String film, double rate) {
    String shorter = name.length() > LONGEST_NAME ? name.substring(0, LONGEST_NAME) : name;
    OutsideSequence s =
        new OutsideSequence(
            0, of.id(), shorter, where.toString(), pattern, film, rate, Instant.now());
    long id = sequences.add(s);
    events.publish(new Stale(Stale.Kind.SEQUENCES));
    return sequences.find(id).orElseThrow();
  }

  /** Takes the frames of a film out, in the background: the sequence grows. */
  private OutsideSequence film(Production of, String name, Path file) throws IOException {
    FilmFile film;
    try {
      film = new FilmFile(file);
    } catch (IOException e) {
      throw new UnreadableException(e.getMessage() + ".");
    }
    Path into = own();
    String pattern = "frame.######.jpg";
    try {
      DisplayImage first = film.next();
      if (first == null) {
        throw new IllegalArgumentException("The film " + name + " has no pictures.");
      }
      write(into, 1, first);
      Files.createFile(into.resolve(READING));
    } catch (IOException | RuntimeException e) {
      film.close();
      DataFolder.remove(into);
      throw e;
    }
    OutsideSequence s = add(of, name, into, pattern, file.toString(), film.rate());
    thread.execute(() -> read(s, film, 2));
    return s;
  }

  /** Reads on where a server was killed: what is there stays. */
  private void readOn(OutsideSequence s) {
    try {
      read(s, new FilmFile(Path.of(s.film())), 1);
    } catch (IOException e) {
      LOG.warn("the film {} cannot be read on", s.film(), e);
    }
  }

  /**
   * Takes the frames of a film out.
   *
   * @param next number of its next frame
   */
  private void read(OutsideSequence s, FilmFile film, int next) {
    Path into = Path.of(s.folder());
    try (film) {
      int frame = next;
      DisplayImage p = film.next();
      while (p != null && !closed && sequences.find(s.id()).isPresent()) {
        if (!Files.exists(frameFile(into, frame))) {
          write(into, frame, p);
        }
        frame++;
        p = film.next();
      }
      if (p == null) {
        Files.deleteIfExists(into.resolve(READING));
      }
    } catch (IOException | RuntimeException e) {
      LOG.warn("the film {} could not be read to its end", s.film(), e);
    }
    events.publish(new Stale(Stale.Kind.SEQUENCES));
  }

  private static Path frameFile(Path into, int frame) {
    return into.resolve(String.format(Locale.ROOT, "frame.%06d.jpg", frame));
  }

  private static void write(Path into, int frame, DisplayImage picture) throws IOException {
    AtomicFile.publish(frameFile(into, frame), JpegFile.encode(picture, QUALITY), true);
  }

  /** Says at what rate a sequence is played. */
  OutsideSequence rate(long id, double rate) {
    if (!(rate >= LEAST_RATE && rate <= MOST_RATE)) {
      throw new IllegalArgumentException(
          "the frame rate must be 1 .. 240 frames a second (got " + rate + ")");
    }
    find(id);
    sequences.rate(id, rate);
    events.publish(new Stale(Stale.Kind.SEQUENCES));
    return find(id);
  }

  private OutsideSequence find(long id) {
    return sequences
        .find(id)
        .orElseThrow(() -> new NotFoundException("There is no sequence " + id + " any more."));
  }

  /** Takes a sequence out of the list; its files go only if they were copied here. */
  void remove(long id) throws IOException {
    OutsideSequence s = find(id);
    sequences.remove(id);
    Set<String> used = new HashSet<>();
    for (Production p : productions.all()) {
      all(p.id()).forEach(o -> used.addAll(folders(o)));
    }
    for (String f : folders(s)) {
      Path where = Path.of(f);
      if (!used.contains(f) && where.startsWith(folder.sequences()) && Files.isDirectory(where)) {
        DataFolder.remove(where);
      }
    }
    events.publish(new Stale(Stale.Kind.SEQUENCES));
  }
}
