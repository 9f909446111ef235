package posada.server.assembly;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.core.io.FileSystemResource;
import org.springframework.core.io.Resource;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;
import posada.core.image.DisplayImage;
import posada.formats.assembly.FilmDocument.Frame;
import posada.formats.assembly.FilmOutput;
import posada.formats.display.JpegFile;
import posada.server.app.NotFoundException;

/** Films and sequences over the API. */
@RestController
class FilmController {
  private static final float QUALITY = 0.9f;

  private final FilmService films;

  FilmController(FilmService films) {
    this.films = films;
  }

  /**
   * A film.
   *
   * @param frames of it
   * @param done frames that are there; with the film itself one more
   * @param stale frames whose inputs are others by now; -1 while that is being found out
   * @param file absolute path of what is made
   * @param bytes of it; 0 while it is not there, and of sequences
   * @param secondsLeft by the frames so far; null if nothing tells
   * @param said what there is to say about its inputs
   */
  record FilmLine(
      long id,
      String name,
      int version,
      Film.State state,
      int frames,
      int done,
      int failed,
      int stale,
      int width,
      int height,
      double rate,
      FilmOutput output,
      List<String> parts,
      String file,
      long bytes,
      double seconds,
      @Schema(types = {"number", "null"}) Double secondsLeft,
      @Schema(types = {"string", "null"}) String failure,
      List<String> said,
      java.time.Instant startedAt) {}

  private FilmLine line(Film f) {
    Path made = films.made(f);
    boolean there = f.state() == Film.State.FINISHED && Files.isRegularFile(made);
    Double left =
        f.state() == Film.State.RUNNING && f.done() > 0
            ? Double.valueOf(f.seconds() / f.done() * (f.total() - f.done()))
            : null;
    try {
      return new FilmLine(
          f.id(),
          f.name(),
          f.version(),
          f.state(),
          f.total() - 1,
          f.done(),
          f.failed(),
          films.stale(f),
          f.document().madeWidth(),
          f.document().madeHeight(),
          f.document().filmRate().perSecond(),
          f.document().output(),
          f.document().segments().stream().map(s -> s.title()).toList(),
          made.toString(),
          there ? Files.size(made) : 0,
          f.seconds(),
          left,
          f.failure(),
          f.said(),
          f.startedAt());
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
  }

  /** The films of a production, the newest first. */
  @GetMapping("/api/films")
  List<FilmLine> films(@RequestParam long production) {
    return films.all(production).stream().map(this::line).toList();
  }

  @PostMapping("/api/films")
  FilmLine start(@RequestBody FilmService.NewFilm n) {
    return line(films.start(n));
  }

  @PostMapping("/api/films/{id}/cancel")
  FilmLine cancel(@PathVariable long id) {
    return line(films.cancel(id));
  }

  @PostMapping("/api/films/{id}/resume")
  FilmLine resume(@PathVariable long id) {
    return line(films.resume(id));
  }

  /** Makes stale frames again, and the film of them. */
  @PostMapping("/api/films/{id}/update")
  FilmLine update(@PathVariable long id) {
    return line(films.update(id));
  }

  @DeleteMapping("/api/films/{id}")
  void remove(@PathVariable long id, @RequestParam(defaultValue = "false") boolean files)
      throws IOException {
    films.remove(id, files);
  }

  private static final java.util.Map<FilmOutput.Kind, String> TYPES =
      java.util.Map.of(
          FilmOutput.Kind.MP4,
          "video/mp4",
          FilmOutput.Kind.MOV,
          "video/quicktime",
          FilmOutput.Kind.LOOP,
          "image/apng",
          FilmOutput.Kind.STILL,
          "image/png");

  /** What is made, if it is one file; a part of it can be asked for. */
  @GetMapping("/api/films/{id}/file")
  ResponseEntity<Resource> file(
      @PathVariable long id, @RequestParam(defaultValue = "false") boolean save) {
    Film f = films.find(id);
    Path made = films.made(f);
    if (!f.document().output().kind().single() || !Files.isRegularFile(made)) {
      throw new NotFoundException("The " + f.title() + " is not made yet.");
    }
    ContentDisposition as =
        (save ? ContentDisposition.attachment() : ContentDisposition.inline())
            .filename(made.getFileName().toString(), java.nio.charset.StandardCharsets.UTF_8)
            .build();
    return ResponseEntity.ok()
        .header(HttpHeaders.CONTENT_DISPOSITION, as.toString())
        .contentType(MediaType.parseMediaType(TYPES.get(f.document().output().kind())))
        .body(new FileSystemResource(made));
  }

  /** The files of a sequence as a zip. */
  @GetMapping(path = "/api/films/{id}/archive", produces = "application/zip")
  ResponseEntity<StreamingResponseBody> archive(@PathVariable long id) {
    Film f = films.find(id);
    Path made = films.made(f);
    if (!Files.isDirectory(made)) {
      throw new NotFoundException("The " + f.title() + " is not made yet, or is one file.");
    }
    String name = String.format(Locale.ROOT, "%s_v%03d.zip", f.name(), f.version());
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment()
                .filename(name, java.nio.charset.StandardCharsets.UTF_8)
                .build()
                .toString())
        .body(
            out -> {
              try (ZipOutputStream zip = new ZipOutputStream(out);
                  Stream<Path> all = Files.list(made)) {
                zip.setLevel(Deflater.NO_COMPRESSION);
                for (Path p : all.sorted().toList()) {
                  zip.putNextEntry(new ZipEntry(p.getFileName().toString()));
                  Files.copy(p, zip);
                  zip.closeEntry();
                }
              }
            });
  }

  /** A frame of a film as it is shown, by its place from 0. */
  @GetMapping(
      path = "/api/films/{id}/frames/{place}/picture",
      produces = MediaType.IMAGE_JPEG_VALUE)
  byte[] picture(@PathVariable long id, @PathVariable int place) throws IOException {
    Film f = films.find(id);
    List<Frame> frames = f.document().frames();
    if (place < 0 || place >= frames.size()) {
      throw new NotFoundException("The %s has %d frames.".formatted(f.title(), frames.size()));
    }
    if (!Files.exists(films.maker(f).frameFile(frames.get(place).number()))) {
      throw new NotFoundException("This frame is not there yet.");
    }
    DisplayImage shown = films.maker(f).shown(frames.get(place));
    return JpegFile.encode(shown, QUALITY);
  }
}
