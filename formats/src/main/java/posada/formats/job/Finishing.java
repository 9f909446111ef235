package posada.formats.job;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.DoubleConsumer;
import java.util.function.IntFunction;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.Resample;
import posada.core.image.ViewTransform;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Pass;
import posada.formats.display.PngFile;
import posada.formats.files.AtomicFile;
import posada.formats.files.Extra;
import posada.formats.files.FrameFiles;
import posada.formats.files.Sha256;
import posada.formats.files.WrittenPicture;
import posada.formats.ledger.LedgerRow;
import posada.formats.preview.ContactSheet;
import posada.formats.settings.Documents;
import posada.formats.video.FilmWriter;
import posada.formats.video.ReadAhead;

/** Makes what a delivery asks for beside the frames of a strand, from its written files. */
public final class Finishing {
  /** Pictures on a contact sheet at the most, in a row, and the longest side of one, pixels. */
  private static final int MOST_TILES = 48, ACROSS = 6, TILE = 320;

  private static final Set<String> BEAUTY = Set.of("R", "G", "B", "A");

  private final StrandDocument document;
  private final Path folder;
  private final FrameFiles files;
  private final List<Integer> frames;

  /**
   * @param folder of the strand's files, all of which are there
   */
  public Finishing(StrandDocument document, Path folder) {
    this.document = document;
    this.folder = folder;
    files = FrameJob.files(document, folder);
    frames = FrameRange.parse(document.frames()).frames();
  }

  /** Returns where something lies. */
  public Path file(Extra e) {
    return file(document, folder, e);
  }

  /** Returns where something of a strand lies. */
  public static Path file(StrandDocument document, Path folder, Extra e) {
    String end = e == Extra.CONTACT_SHEET ? "_sheet" : "";
    String name =
        NamePattern.safe(document.shot())
            + "_"
            + NamePattern.safe(document.settings().layer().name())
            + String.format(Locale.ROOT, "_v%03d", document.version())
            + end
            + "."
            + e.extension();
    return folder.resolve(name);
  }

  /**
   * Makes something in place of what is there.
   *
   * @param rows what is known of each frame; null for nothing
   * @param progress hears the share that is done, 0 .. 1
   * @return false if it was stopped: what was there before stays
   */
  public boolean make(
      Extra e, IntFunction<LedgerRow> rows, Workers workers, Stop stop, DoubleConsumer progress)
      throws IOException {
    return switch (e) {
      case FILM -> film(workers, stop, progress);
      case CONTACT_SHEET -> sheet(workers, stop, progress);
      case MANIFEST -> manifest(rows, stop, progress);
    };
  }

  private boolean film(Workers workers, Stop stop, DoubleConsumer progress) throws IOException {
    double shrink =
        Math.min(1, FilmWriter.MOST_SIDE / (double) Math.max(document.width(), document.height()));
    int w = FilmWriter.even(document.width() * shrink),
        h = FilmWriter.even(document.height() * shrink);
    FilmWriter.check(w, h);
    int step = frames.size() < 2 ? 1 : frames.get(1) - frames.get(0);
    FrameRate rate = new FrameRate(Math.max(1, document.frameRate() / step));
    int quality = document.settings().delivery().quality();
    try (FilmWriter film = new FilmWriter(file(Extra.FILM), w, h, rate, quality, true)) {
      ReadAhead.Sink sink = (frame, picture) -> film.add(FilmWriter.cut(picture, w, h));
      if (!each(frames, Math.max(w, h) + 1, workers, stop, progress, sink)) {
        return false;
      }
      film.finish();
      return true;
    }
  }

  private boolean sheet(Workers workers, Stop stop, DoubleConsumer progress) throws IOException {
    List<Integer> some = new ArrayList<>();
    int n = Math.min(MOST_TILES, frames.size());
    for (int i = 0; i < n; i++) {
      some.add(frames.get(n == 1 ? 0 : (int) Math.round(i * (frames.size() - 1.0) / (n - 1))));
    }
    List<ContactSheet.Tile> tiles = new ArrayList<>();
    ReadAhead.Sink sink =
        (frame, picture) -> tiles.add(new ContactSheet.Tile(Integer.toString(frame), picture));
    if (!each(some, TILE, workers, stop, progress, sink)) {
      return false;
    }
    byte[] png = PngFile.encode(ContactSheet.of(tiles, ACROSS), 8, java.util.Map.of());
    AtomicFile.publish(file(Extra.CONTACT_SHEET), png, true);
    return true;
  }

  private boolean each(
      List<Integer> some,
      int most,
      Workers workers,
      Stop stop,
      DoubleConsumer progress,
      ReadAhead.Sink sink)
      throws IOException {
    return ReadAhead.each(some, f -> shown(f, most), workers, stop, progress, sink);
  }

  /** A frame as the view transform shows it. */
  private DisplayImage shown(int frame, int most) throws IOException {
    FrameFiles.Part part = WrittenPicture.of(files, frame, Pass.BEAUTY).orElseThrow();
    FrameImage image = Resample.shrink(WrittenPicture.read(part, BEAUTY), most);
    double stops = part.format().display() ? 0 : document.settings().delivery().color().exposure();
    return ViewTransform.beauty(image, stops, false);
  }

  /**
   * What a manifest says.
   *
   * @param passes by name
   */
  record Manifest(
      String production,
      String shot,
      String layer,
      int version,
      String scene,
      int revision,
      String camera,
      String frames,
      double frameRate,
      int width,
      int height,
      List<String> passes,
      String colour,
      List<Line> files) {}

  /**
   * A file of a frame.
   *
   * @param path below the manifest's folder, with slashes
   * @param sha256 of its bytes
   * @param fingerprint of what the frame was made from; null if that is not known
   * @param seconds that the frame took; null for a copy
   */
  record Line(
      int frame,
      String path,
      long bytes,
      String sha256,
      String fingerprint,
      Double seconds,
      Integer samples,
      Double noise) {}

  private boolean manifest(IntFunction<LedgerRow> rows, Stop stop, DoubleConsumer progress)
      throws IOException {
    List<Line> lines = new ArrayList<>();
    for (int i = 0; i < frames.size(); i++) {
      int frame = frames.get(i);
      LedgerRow row = rows.apply(frame);
      for (Path p : files.paths(frame)) {
        if (stop.asked()) {
          return false;
        }
        lines.add(
            new Line(
                frame,
                folder.relativize(p).toString().replace('\\', '/'),
                Files.size(p),
                Sha256.of(p),
                row == null ? null : row.fingerprint(),
                row == null ? null : row.seconds(),
                row == null || row.samples() == 0 ? null : Integer.valueOf(row.samples()),
                row == null ? null : row.noise()));
      }
      progress.accept((i + 1.0) / frames.size());
    }
    StrandDocument d = document;
    Manifest m =
        new Manifest(
            d.production(),
            d.shot(),
            d.settings().layer().name(),
            d.version(),
            d.scene(),
            d.revision(),
            d.camera(),
            d.frames(),
            d.frameRate(),
            d.width(),
            d.height(),
            d.settings().passes().wanted().stream().map(Pass::label).toList(),
            d.settings().delivery().color().primaries().name().toLowerCase(Locale.ROOT),
            lines);
    byte[] text = Documents.write(m).getBytes(StandardCharsets.UTF_8);
    AtomicFile.publish(file(Extra.MANIFEST), text, true);
    return true;
  }
}
