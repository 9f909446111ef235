package posada.formats.handover;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.DoubleConsumer;
import java.util.stream.Stream;
import posada.core.image.DisplayImage;
import posada.core.image.Resample;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.review.Look;
import posada.formats.display.PngFile;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.files.AtomicFile;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.files.Sha256;
import posada.formats.handover.Manifest.FileLine;
import posada.formats.handover.Manifest.PassLine;
import posada.formats.preview.ContactSheet;
import posada.formats.review.ChannelGroup;
import posada.formats.review.Footage;
import posada.formats.settings.Documents;

/** Writes a handover: what was rendered, and all that somebody must know who has no Posada. */
public final class Handover {
  /** Names of what is in it beside the sequences. */
  static final String TIMELINE = "cut.otio",
      README = "READ-ME.txt",
      TABLE = "manifest.csv",
      SHEET = "contact-sheet.png";

  private static final String SEQUENCES = "sequences/", FILMS = "films/", STACKS = "stacks/";

  /** Size of a picture on the contact sheet, and how many stand in a row. */
  private static final int TILE_WIDTH = 320, TILE_HEIGHT = 180, ACROSS = 3;

  private final String production;
  private final List<Item> items;
  private final Map<String, String> stacks;
  private final boolean copy;

  /**
   * Something that is handed over.
   *
   * @param shot a film's name for a film
   * @param layer empty for a film
   * @param step from one frame to the next
   * @param rate frames for each second: of those that are there
   * @param footage its frames; null for a film
   * @param film its file; null for frames
   * @param approval what was decided about it, in words
   * @param open findings that nobody has called fine
   */
  public record Item(
      String title,
      String shot,
      String layer,
      int version,
      int step,
      double rate,
      Footage footage,
      Path film,
      String approval,
      List<String> open,
      int head,
      int tail) {
    /** A thing without handles. */
    public Item(
        String title,
        String shot,
        String layer,
        int version,
        int step,
        double rate,
        Footage footage,
        Path film,
        String approval,
        List<String> open) {
      this(title, shot, layer, version, step, rate, footage, film, approval, open, 0, 0);
    }

    /** Returns the same with frames at its ends that are not in the cut. */
    public Item withHandles(int atHead, int atTail) {
      return new Item(
          title, shot, layer, version, step, rate, footage, film, approval, open, atHead, atTail);
    }
  }

  /**
   * @param items in the order of the cut
   * @param stacks JSON by name
   * @param copy false to leave the files where they are and to say where that is
   */
  public Handover(String production, List<Item> items, Map<String, String> stacks, boolean copy) {
    this.production = production;
    this.items = List.copyOf(items);
    this.stacks = Map.copyOf(stacks);
    this.copy = copy;
  }

  /**
   * Refuses a folder in which something is.
   *
   * @throws FileAlreadyExistsException saying so
   */
  public static void checkEmpty(Path folder) throws IOException {
    if (!Files.exists(folder)) {
      return;
    }
    if (!Files.isDirectory(folder)) {
      throw new FileAlreadyExistsException(folder + " is a file; choose another folder");
    }
    try (Stream<Path> all = Files.list(folder)) {
      if (all.findAny().isPresent()) {
        throw new FileAlreadyExistsException(
            folder + " is not empty; choose a folder that is not there yet, or an empty one");
      }
    }
  }

  /**
   * Removes what was written of a handover that did not come to its end, but not the folder itself.
   * A handover with a manifest has come to its end, and stays.
   */
  public static void discard(Path folder) throws IOException {
    if (!Files.isDirectory(folder) || Files.exists(folder.resolve(Manifest.NAME))) {
      return;
    }
    AtomicFile.sweep(folder);
    for (String part : List.of(SEQUENCES, FILMS, STACKS, TIMELINE, SHEET, TABLE, README)) {
      remove(folder.resolve(part));
    }
  }

  private static void remove(Path p) throws IOException {
    if (Files.exists(p)) {
      try (Stream<Path> all = Files.walk(p)) {
        for (Path each : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(each);
        }
      }
    }
  }

  /** Returns how many bytes are copied. */
  public long bytes() throws IOException {
    long sum = 0;
    for (Item i : items) {
      for (Source s : files(i)) {
        sum += Files.size(s.file);
      }
    }
    return sum;
  }

  /** A file and the frame that it is of. */
  private record Source(int frame, Path file, Path below) {}

  private static List<Source> files(Item i) {
    if (i.film != null) {
      return List.of(new Source(0, i.film, i.film.getFileName()));
    }
    List<Source> all = new ArrayList<>();
    Path root = root(i);
    for (int f : i.footage.frames()) {
      for (FrameFiles.Part p : i.footage.parts().apply(f)) {
        if (Files.exists(p.path())) {
          all.add(new Source(f, p.path(), root.relativize(p.path())));
        }
      }
    }
    return all;
  }

  /** The folder that all files of an item are below. */
  private static Path root(Item i) {
    Path root = null;
    for (int f : i.footage.frames()) {
      for (FrameFiles.Part p : i.footage.parts().apply(f)) {
        Path folder = p.path().getParent();
        while (root != null && !folder.startsWith(root)) {
          root = root.getParent();
        }
        root = root == null ? folder : root;
      }
    }
    return root;
  }

  /** Names of files and folders that no file system takes for one. */
  private static final class Names {
    private final Set<String> taken = new HashSet<>();

    /** Returns a path; if it is taken, with a number behind its first part. */
    String free(String first, String rest) {
      String path = first + rest;
      for (int k = 2; !taken.add(NamePattern.foldedPath(path)); k++) {
        path = first + "-" + k + rest;
      }
      return path;
    }
  }

  /** Returns where files of an item lie: in front of their paths below its own folder. */
  private static String place(Item i, Names names) {
    if (i.film != null) {
      String file = i.film.getFileName().toString();
      int dot = file.lastIndexOf('.');
      return names.free(FILMS + file.substring(0, dot), file.substring(dot));
    }
    String layer = i.layer.isEmpty() ? "" : NamePattern.safe(i.layer) + "/";
    String rest = String.format(Locale.ROOT, "/%sv%03d/", layer, i.version);
    return names.free(SEQUENCES + NamePattern.safe(i.shot), rest);
  }

  /**
   * Writes it. The manifest comes last: a folder without one is not complete. If it does not come
   * to its end nothing is left.
   *
   * @param progress hears the share that is done, 0 .. 1
   * @return the manifest; null if it was stopped
   */
  public Manifest write(Path into, Stop stop, DoubleConsumer progress) throws IOException {
    checkEmpty(into);
    boolean there = Files.exists(into);
    try {
      return writeInto(into, stop, progress);
    } finally {
      discard(into);
      if (!there && !Files.exists(into.resolve(Manifest.NAME))) {
        Files.deleteIfExists(into);
      }
    }
  }

  private Manifest writeInto(Path into, Stop stop, DoubleConsumer progress) throws IOException {
    Files.createDirectories(into);
    long all = Math.max(1, bytes()), done = 0;
    Names taken = new Names();
    List<Manifest.Sequence> sequences = new ArrayList<>();
    List<Timeline.Clip> clips = new ArrayList<>();
    for (Item i : items) {
      List<FileLine> lines = new ArrayList<>();
      String place = place(i, taken);
      for (Source s : files(i)) {
        if (stop.asked()) {
          return null;
        }
        String own = i.film == null ? place + slashes(s.below) : place;
        String path = copy ? own : s.file.toAbsolutePath().toString();
        String hash = copy ? copied(s.file, into.resolve(path)) : Sha256.of(s.file);
        long size = Files.size(s.file);
        lines.add(new FileLine(s.frame, path, size, hash, made(s.file)));
        done += size;
        progress.accept(done / (double) all);
      }
      Manifest.Sequence q = sequence(i, lines);
      sequences.add(q);
      if (i.film == null && !lines.isEmpty()) {
        clips.add(clip(i, q, lines));
      }
    }
    List<String> names = new ArrayList<>();
    for (String stack : new TreeSet<>(stacks.keySet())) {
      names.add(taken.free(STACKS + NamePattern.safe(stack), ".json"));
      text(into.resolve(names.get(names.size() - 1)), stacks.get(stack));
    }
    text(into.resolve(TIMELINE), Timeline.write(production, clips));
    Manifest m =
        new Manifest(
            Manifest.SCHEMA,
            production,
            java.time.Instant.now().truncatedTo(java.time.temporal.ChronoUnit.SECONDS).toString(),
            copy,
            TIMELINE,
            names,
            sequences);
    sheet(into);
    text(into.resolve(TABLE), table(m));
    text(into.resolve(README), ReadMe.of(m));
    text(into.resolve(Manifest.NAME), Documents.write(m));
    return m;
  }

  private static String slashes(Path p) {
    return p.toString().replace('\\', '/');
  }

  private static void text(Path file, String text) throws IOException {
    AtomicFile.publish(file, text.getBytes(StandardCharsets.UTF_8), true);
  }

  private static String copied(Path from, Path to) throws IOException {
    Files.createDirectories(to.getParent());
    try (OutputStream out = Files.newOutputStream(to)) {
      return Sha256.copied(from, out);
    }
  }

  private static String made(Path file) {
    try {
      return file.toString().endsWith(".exr")
          ? ExrReader.texts(file).getOrDefault(ExrHeader.FINGERPRINT, "")
          : "";
    } catch (IOException damaged) {
      return "";
    }
  }

  private Manifest.Sequence sequence(Item i, List<FileLine> lines) throws IOException {
    if (i.film != null) {
      return new Manifest.Sequence(
          "film",
          i.title,
          i.shot,
          i.layer,
          i.version,
          "",
          1,
          i.rate,
          0,
          0,
          "display values, ITU-R BT.709",
          List.of(),
          i.approval,
          i.open,
          lines);
    }
    List<Integer> there = i.footage.written();
    if (there.isEmpty()) {
      throw new IllegalArgumentException(i.title + " has no frames.");
    }
    int first = there.get(0);
    int[] size = i.footage.size(first);
    List<ChannelGroup> groups = i.footage.groups(first).stream().map(Footage.Found::group).toList();
    boolean exr = i.footage.there(first).get(0).format() == FileFormat.EXR;
    String colour =
        exr
            ? "scene-linear light, primaries in the files' headers, alpha premultiplied"
            : "display values, sRGB, alpha straight where there is one";
    return new Manifest.Sequence(
        "frames",
        i.title,
        i.shot,
        i.layer,
        i.version,
        new FrameRange(there).toString(),
        i.step,
        i.rate,
        size[0],
        size[1],
        colour,
        PassLine.of(groups),
        i.approval,
        i.open,
        lines);
  }

  /** The file of each frame that holds the beauty, or the first there is. */
  private Timeline.Clip clip(Item i, Manifest.Sequence q, List<FileLine> lines) {
    FileLine first = lines.get(0);
    for (FrameFiles.Part p : i.footage.there(first.frame())) {
      if (p.passes().contains(posada.core.settings.Pass.BEAUTY)) {
        String name = p.path().getFileName().toString();
        first =
            lines.stream().filter(l -> l.path().endsWith(name)).findFirst().orElse(lines.get(0));
      }
    }
    int slash = Math.max(first.path().lastIndexOf('/'), first.path().lastIndexOf('\\'));
    String base = first.path().substring(0, slash + 1);
    int count = FrameRange.parse(q.frames()).frames().size();
    String folder = copy ? base : Path.of(base).toUri().toString();
    return new Timeline.Clip(
        i.title,
        first.path().substring(slash + 1),
        first.frame(),
        i.step,
        count,
        i.rate,
        folder,
        i.head,
        i.tail);
  }

  private void sheet(Path into) throws IOException {
    List<ContactSheet.Tile> tiles = new ArrayList<>();
    for (Item i : items) {
      if (i.footage == null) {
        continue;
      }
      List<Integer> there = i.footage.written();
      for (int k = 0; k < ACROSS; k++) {
        int frame = there.get(k * (there.size() - 1) / (ACROSS - 1));
        tiles.add(new ContactSheet.Tile(i.title + "  " + frame, tile(i, frame)));
      }
    }
    if (!tiles.isEmpty()) {
      byte[] png = PngFile.encode(ContactSheet.of(tiles, ACROSS), 8, Map.of());
      AtomicFile.publish(into.resolve(SHEET), png, true);
    }
  }

  private static DisplayImage tile(Item i, int frame) throws IOException {
    Footage.Found f = i.footage.groups(frame).get(0);
    DisplayImage d = f.group().show(Resample.shrink(Footage.read(f), TILE_WIDTH), Look.STANDARD);
    return d.within(TILE_WIDTH, TILE_HEIGHT);
  }

  /** The files as a table. */
  private static String table(Manifest m) {
    StringBuilder s =
        new StringBuilder(
            "sequence,kind,shot,layer,version,frame,path,bytes,sha256,fingerprint,width,height,rate,passes,colour,approval,open findings\r\n");
    for (Manifest.Sequence q : m.sequences()) {
      String passes = String.join(" ", q.passes().stream().map(PassLine::name).toList());
      for (FileLine f : q.files()) {
        List<String> cells =
            List.of(
                q.title(),
                q.kind(),
                q.shot(),
                q.layer(),
                String.format(Locale.ROOT, "v%03d", q.version()),
                q.kind().equals("film") ? "" : Integer.toString(f.frame()),
                f.path(),
                Long.toString(f.bytes()),
                f.sha256(),
                f.fingerprint(),
                Integer.toString(q.width()),
                Integer.toString(q.height()),
                Double.toString(q.rate()),
                passes,
                q.colour(),
                q.approval(),
                Integer.toString(q.open().size()));
        s.append(String.join(",", cells.stream().map(Handover::cell).toList())).append("\r\n");
      }
    }
    return s.toString();
  }

  /** A cell as RFC 4180 has it; what a table program would take for a formula is text. */
  private static String cell(String text) {
    String plain = !text.isEmpty() && "=+-@".indexOf(text.charAt(0)) >= 0 ? "'" + text : text;
    return plain.matches("(?s).*[,\"\r\n].*") ? "\"" + plain.replace("\"", "\"\"") + "\"" : plain;
  }
}
