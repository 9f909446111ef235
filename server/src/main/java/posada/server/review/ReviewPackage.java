package posada.server.review;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Component;
import posada.core.image.DisplayImage;
import posada.core.image.Resample;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.review.Look;
import posada.formats.display.JpegFile;
import posada.formats.review.ChannelGroup;
import posada.formats.review.Footage;
import posada.formats.video.FilmWriter;
import posada.formats.video.ReadAhead;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.review.FootageService.Looked;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;
import posada.server.storage.DataFolder;
import tools.jackson.databind.json.JsonMapper;

/**
 * Packages for whoever has no Posada: a zip with one page that any browser shows from the disk,
 * with films, frames with what is marked on them, notes, and who decided what.
 */
@Component
class ReviewPackage {
  private static final JsonMapper JSON = new JsonMapper();

  /** Where the data stands in the page. */
  private static final String DATA = "{{data}}";

  private static final int FILM_QUALITY = 80;
  private static final float FRAME_QUALITY = 0.92f;

  private final FootageService footage;
  private final RemarkRepository remarks;
  private final ApprovalRepository approvals;
  private final RunService runs;
  private final RenderThreads pool;
  private final DataFolder folder;

  ReviewPackage(
      FootageService footage,
      RemarkRepository remarks,
      ApprovalRepository approvals,
      RunService runs,
      RenderThreads pool,
      DataFolder folder) {
    this.footage = footage;
    this.remarks = remarks;
    this.approvals = approvals;
    this.runs = runs;
    this.pool = pool;
    this.folder = folder;
  }

  /** A version of a strand on the page. */
  record PageStrand(
      String shot,
      String layer,
      String version,
      String camera,
      double frameRate,
      List<Integer> frames,
      String film,
      List<PageNote> notes,
      List<PageDecision> decisions) {}

  /** A note on the page; see {@link Remark}. */
  record PageNote(
      int frame,
      String text,
      String who,
      String writtenAt,
      boolean done,
      double x,
      double y,
      double width,
      double height,
      String picture) {}

  /** A decision on the page. */
  record PageDecision(boolean approved, String who, String note, String saidAt) {}

  /** What the page shows. */
  record Page(String production, String madeAt, List<PageStrand> strands) {}

  /** Returns strands that can be packed; the error names what is wrong with one. */
  List<RunStrand> checked(long production, List<Long> strands) {
    List<RunStrand> all = new ArrayList<>();
    for (long id : strands) {
      RunStrand s = runs.find(id);
      if (s.productionId() != production) {
        throw new NotFoundException("Strand " + id + " is of another production.");
      }
      if (footage.find(FootageKey.strand(id)).footage().written().isEmpty()) {
        throw new IllegalArgumentException(
            "Shot \"" + s.shot() + "\", layer " + s.layer() + " has no pictures yet.");
      }
      all.add(s);
    }
    if (all.isEmpty()) {
      throw new IllegalArgumentException("Say which strands belong into the package.");
    }
    return all;
  }

  /** Writes the zip as it is made; if nobody reads it any more it ends. */
  void write(String production, List<RunStrand> strands, OutputStream out) throws IOException {
    List<PageStrand> all = new ArrayList<>();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      // Films and pictures are packed already.
      zip.setLevel(Deflater.BEST_SPEED);
      for (RunStrand s : strands) {
        all.add(strand(s, zip));
      }
      String page;
      try (InputStream in = ReviewPackage.class.getResourceAsStream("/review/page.html")) {
        page = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      }
      String data =
          JSON.writeValueAsString(new Page(production, Instant.now().toString(), all))
              .replace("<", "\\u003c");
      entry(zip, "index.html", page.replace(DATA, data).getBytes(StandardCharsets.UTF_8));
    }
  }

  private static void entry(ZipOutputStream zip, String name, byte[] bytes) throws IOException {
    zip.putNextEntry(new ZipEntry(name));
    zip.write(bytes);
    zip.closeEntry();
  }

  private PageStrand strand(RunStrand s, ZipOutputStream zip) throws IOException {
    Looked l = footage.find(FootageKey.strand(s.id()));
    String name =
        String.format(
            Locale.ROOT,
            "%s_%s_v%03d",
            NamePattern.safe(s.shot()),
            NamePattern.safe(s.layer()),
            s.number());
    List<Integer> frames = l.footage().written();
    String film = "films/" + name + ".mp4";
    Path made = film(l, frames);
    try {
      zip.putNextEntry(new ZipEntry(film));
      Files.copy(made, zip);
      zip.closeEntry();
    } finally {
      Files.deleteIfExists(made);
      Files.deleteIfExists(made.getParent());
    }
    List<PageNote> notes = new ArrayList<>();
    List<String> written = new ArrayList<>();
    for (Remark m : remarks.all(s.productionId())) {
      if (!m.footage().equals(l.key().toString())) {
        continue;
      }
      String picture = null;
      if (frames.contains(m.frame())) {
        picture = String.format(Locale.ROOT, "frames/%s.%04d.jpg", name, m.frame());
        if (!written.contains(picture)) {
          written.add(picture);
          entry(zip, picture, JpegFile.encode(shown(l, m.frame()), FRAME_QUALITY));
        }
      }
      notes.add(
          new PageNote(
              m.frame(),
              m.text(),
              m.who(),
              m.writtenAt().toString(),
              m.done(),
              m.x(),
              m.y(),
              m.width(),
              m.height(),
              picture));
    }
    List<PageDecision> decisions =
        approvals.all(s.productionId()).stream()
            .filter(a -> a.strandId() == s.id())
            .map(a -> new PageDecision(a.approved(), a.who(), a.note(), a.saidAt().toString()))
            .toList();
    return new PageStrand(
        s.shot(),
        s.layer(),
        String.format(Locale.ROOT, "v%03d", s.number()),
        s.settings().camera(),
        s.settings().frameRate(),
        frames,
        film,
        notes,
        decisions);
  }

  private static DisplayImage shown(Looked l, int frame) throws IOException {
    Footage.Found beauty = l.footage().find(frame, ChannelGroup.BEAUTY);
    return beauty
        .group()
        .show(Resample.shrink(Footage.read(beauty), FootageService.PROXY), Look.STANDARD);
  }

  private Path film(Looked l, List<Integer> frames) throws IOException {
    Path file = folder.incoming().resolve("film.mp4");
    DisplayImage first = shown(l, frames.get(0));
    int w = FilmWriter.even(first.width()), h = FilmWriter.even(first.height());
    try (FilmWriter film =
        new FilmWriter(file, w, h, new FrameRate(l.rate()), FILM_QUALITY, true)) {
      ReadAhead.each(
          frames,
          f -> shown(l, f),
          pool.workers(),
          Stop.NEVER,
          x -> {},
          (f, picture) -> film.add(FilmWriter.cut(picture, w, h)));
      film.finish();
    }
    return file;
  }
}
