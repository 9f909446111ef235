package posada.server.review;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.formats.files.FrameFiles;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.server.app.NotFoundException;
import posada.server.productions.ProductionService;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Sequences, and packages for review, as zips. */
@RestController
class ArchiveController {
  private final RunService runs;
  private final ReviewPackage packages;
  private final ProductionService productions;

  ArchiveController(RunService runs, ReviewPackage packages, ProductionService productions) {
    this.runs = runs;
    this.packages = packages;
    this.productions = productions;
  }

  private static ResponseEntity<StreamingResponseBody> zip(
      String name, StreamingResponseBody body) {
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment()
                .filename(name, StandardCharsets.UTF_8)
                .build()
                .toString())
        .body(body);
  }

  @GetMapping(path = "/api/runs/strands/{id}/archive", produces = "application/zip")
  ResponseEntity<StreamingResponseBody> archive(@PathVariable long id) {
    RunStrand run = runs.find(id);
    return zip(
        String.format("%s_v%03d.zip", NamePattern.safe(run.shot()), run.number()),
        out -> archive(run, out));
  }

  /** One page that plays films, shows marked frames, notes and decisions, without a server. */
  @GetMapping(path = "/api/review/package", produces = "application/zip")
  ResponseEntity<StreamingResponseBody> reviewPackage(
      @RequestParam long production, @RequestParam List<Long> strands) {
    String name = productions.find(production).address() + "-review.zip";
    List<RunStrand> all = packages.checked(production, strands);
    return zip(name, out -> packages.write(productions.find(production).name(), all, out));
  }

  /** Writes a run's finished files as a zip; they are packed already, so they are only stored. */
  private static void archive(RunStrand run, OutputStream out) throws IOException {
    Path base = Path.of(run.folder());
    if (!Files.isDirectory(base)) {
      throw new NotFoundException("Run " + run.shot() + " v" + run.number() + " has no files yet.");
    }
    FrameFiles written = FrameJob.files(run.settings(), base);
    Stream<Path> extras =
        run.settings().settings().delivery().extras().stream()
            .map(e -> Finishing.file(run.settings(), base, e));
    Stream<Path> frames =
        FrameRange.parse(run.frames()).frames().stream().flatMap(f -> written.paths(f).stream());
    List<Path> files = Stream.concat(extras, frames).filter(Files::exists).sorted().toList();
    try (ZipOutputStream zip = new ZipOutputStream(out)) {
      zip.setLevel(Deflater.NO_COMPRESSION);
      for (Path p : files) {
        zip.putNextEntry(new ZipEntry(base.relativize(p).toString().replace('\\', '/')));
        Files.copy(p, zip);
        zip.closeEntry();
      }
    }
  }
}
