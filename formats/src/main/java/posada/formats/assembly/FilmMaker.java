package posada.formats.assembly;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.function.DoubleConsumer;
import posada.core.assembly.Assembler;
import posada.core.assembly.Input;
import posada.core.assembly.Stack;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.review.Look;
import posada.core.scene.Digest;
import posada.formats.assembly.FilmDocument.Frame;
import posada.formats.display.JpegFile;
import posada.formats.display.PngFile;
import posada.formats.display.TiffFile;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.AtomicFile;
import posada.formats.preview.BurnIn;
import posada.formats.preview.Overlay;
import posada.formats.settings.Documents;
import posada.formats.video.FilmWriter;
import posada.formats.video.ReadAhead;

/**
 * Makes films and sequences: each frame is put together into an EXR of its own, which says what it
 * was made from; when all are there the film is made of them. A film that is cut off leaves its
 * frames.
 */
public final class FilmMaker {
  /** Says which computation made a picture; another number whenever that changes pictures. */
  private static final int COMPUTATION = 2;

  private static final Set<String> PLANES = Set.of("R", "G", "B", "A");

  private final FilmDocument document;
  private final Path folder;
  private final FileShelf shelf;

  /**
   * @param folder of this version
   */
  public FilmMaker(FilmDocument document, Path folder, FileShelf shelf) {
    this.document = document;
    this.folder = folder;
    this.shelf = shelf;
  }

  private String base() {
    return NamePattern.safe(document.name())
        + String.format(Locale.ROOT, "_v%03d", document.version());
  }

  /** Returns the file of a frame as it was put together. */
  public Path frameFile(int number) {
    return folder.resolve("frames").resolve(numbered(number, "exr"));
  }

  private String numbered(int number, String extension) {
    return base() + String.format(Locale.ROOT, ".%04d.", number) + extension;
  }

  /** Returns what is made: a file, or the folder of a sequence. */
  public Path made() {
    FilmOutput.Kind k = document.output().kind();
    if (k == FilmOutput.Kind.EXR) {
      return folder.resolve("frames");
    }
    return k.single()
        ? folder.resolve(base() + "." + k.extension())
        : folder.resolve(k.name().toLowerCase(Locale.ROOT));
  }

  /** Returns the file of a frame of a sequence as it is made. */
  public Path madeFile(int number) {
    FilmOutput.Kind k = document.output().kind();
    return k == FilmOutput.Kind.EXR
        ? frameFile(number)
        : made().resolve(numbered(number, k.extension()));
  }

  private Assembler assembler(Workers workers) {
    return new Assembler(shelf, Assembler.NOTHING, workers);
  }

  private Stack stack(Frame f) {
    return document.segments().get(f.segment()).stack();
  }

  /** Returns the frames in order. */
  public List<Frame> frames() {
    return document.frames();
  }

  /** Returns what a frame would be made from by now. */
  public String fingerprint(Frame f) throws IOException {
    Stack s = stack(f);
    // Names change no picture, nor does what is left out.
    List<Input> plain = new ArrayList<>();
    for (Input i : s.taking()) {
      plain.add(i.named("input"));
    }
    Stack only = new Stack(s.width(), s.height(), s.rate(), "1", plain);
    List<Object> made = new ArrayList<>();
    made.add(COMPUTATION);
    made.add(Documents.write(only));
    made.add(f.frame());
    made.add(document.madeWidth());
    made.add(document.madeHeight());
    made.addAll(assembler(Workers.CALLER).stamps(s, f.frame()));
    return Digest.of(made.toArray());
  }

  /** Returns true if a frame is there and was made from that. */
  public boolean isFresh(Frame f, String fingerprint) {
    Path file = frameFile(f.number());
    try {
      return Files.exists(file)
          && fingerprint.equals(ExrReader.texts(file).get(ExrHeader.FINGERPRINT));
    } catch (IOException damaged) {
      return false;
    }
  }

  /**
   * Puts a frame together and writes it.
   *
   * @return what there is to say about its inputs
   */
  public List<Assembler.Said> make(Frame f, String fingerprint, Workers workers)
      throws IOException {
    int w = document.madeWidth(), h = document.madeHeight();
    Assembler.Result r = assembler(workers).frame(stack(f), f.frame(), w, h, null);
    Map<String, String> texts = Map.of(ExrHeader.FINGERPRINT, fingerprint);
    ExrHeader header = new ExrHeader(new FrameRate(document.rate()), f.number(), texts);
    // A sequence is packed well; what a film is made of is packed quickly.
    boolean quickly = document.output().kind() != FilmOutput.Kind.EXR;
    byte[] exr =
        ExrWriter.encode(r.picture().image(), header, ExrCompression.ZIP, quickly, workers);
    AtomicFile.publish(frameFile(f.number()), exr, true);
    return r.said();
  }

  /**
   * Makes the film of the frames, all of which are there, in place of what is there.
   *
   * @param progress hears the share that is done, 0 .. 1
   * @return false if it was stopped: what was there before stays
   */
  public boolean finish(Workers workers, Stop stop, DoubleConsumer progress) throws IOException {
    FilmOutput.Kind kind = document.output().kind();
    List<Frame> frames = document.frames();
    if (kind == FilmOutput.Kind.EXR) {
      return true;
    }
    List<Integer> places = new ArrayList<>();
    for (int i = 0; i < frames.size(); i++) {
      places.add(i);
    }
    int w = document.madeWidth(), h = document.madeHeight();
    if (kind.film() == null) {
      Files.createDirectories(folder);
      return ReadAhead.each(
          places,
          i -> shown(frames.get(i)),
          workers,
          stop,
          progress,
          (i, picture) -> publish(frames.get(i), picture));
    }
    Path wav = document.output().sound() == null ? null : Path.of(document.output().sound());
    try (FilmWriter film =
        new FilmWriter(
            kind.film(),
            made(),
            w,
            h,
            document.filmRate(),
            document.output().quality(),
            wav,
            true)) {
      boolean all =
          ReadAhead.each(
              places,
              i -> shown(frames.get(i)),
              workers,
              stop,
              progress,
              (i, picture) -> film.add(picture));
      if (all) {
        film.finish();
      }
      return all;
    }
  }

  private void publish(Frame f, DisplayImage picture) throws IOException {
    FilmOutput o = document.output();
    byte[] bytes =
        switch (o.kind()) {
          case PNG, STILL -> PngFile.encode(picture, 16, Map.of());
          case TIFF -> TiffFile.encode(picture, 16, Map.of());
          default -> JpegFile.encode(picture, o.quality() / 100f);
        };
    Path file = o.kind().single() ? made() : madeFile(f.number());
    AtomicFile.publish(file, bytes, true);
  }

  /** Returns a frame as it is shown. */
  public DisplayImage shown(Frame f) throws IOException {
    FilmOutput o = document.output();
    FrameImage image = ExrReader.read(frameFile(f.number()), PLANES).full();
    DisplayImage d = new Look(Look.Shown.COLOUR, o.view(), o.stops(), 1).of(image);
    if (!o.burnIns().isEmpty()) {
      new Overlay(d.width(), d.height(), "").write(d, corners(f));
    }
    return d;
  }

  private Overlay.Corners corners(Frame f) {
    Set<BurnIn> b = document.output().burnIns();
    FrameRate rate = new FrameRate(document.rate());
    String title = document.segments().get(f.segment()).title();
    return new Overlay.Corners(
        b.contains(BurnIn.SHOT) ? "shot " + title : "",
        b.contains(BurnIn.DATE) ? java.time.LocalDate.now().toString() : "",
        b.contains(BurnIn.TIMECODE) ? rate.timecode(f.number()) : "",
        b.contains(BurnIn.FRAME) ? "frame " + f.frame() : "");
  }

  /** Writes down how it was made, beside what is made. */
  public void describe() throws IOException {
    byte[] json = Documents.write(document).getBytes(StandardCharsets.UTF_8);
    AtomicFile.publish(folder.resolve(base() + ".json"), json, true);
  }
}
