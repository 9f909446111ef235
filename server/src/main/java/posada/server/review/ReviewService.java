package posada.server.review;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import java.util.zip.Deflater;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.springframework.stereotype.Service;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.Resample;
import posada.core.image.ViewTransform;
import posada.core.image.ViewTransform.Shown;
import posada.core.plan.FrameRange;
import posada.core.settings.Pass;
import posada.formats.display.JpegFile;
import posada.formats.files.FrameFiles;
import posada.formats.files.WrittenPicture;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.server.app.NotFoundException;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Showing written frames and packing sequences. */
@Service
class ReviewService {
  private final RunService runs;

  ReviewService(RunService runs) {
    this.runs = runs;
  }

  /**
   * Returns a JPEG of a written frame.
   *
   * @param stops exposure, -10 .. 10
   * @param most longest side in pixels; smaller pictures stay as they are
   */
  byte[] picture(long runId, int frame, Shown shown, double stops, int most) throws IOException {
    if (!(stops >= -10 && stops <= 10)) {
      throw new IllegalArgumentException("exposure must be -10 .. 10 stops (got " + stops + ")");
    }
    RunStrand run = runs.find(runId);
    Pass pass = shown == Shown.DEPTH ? Pass.DEPTH : Pass.BEAUTY;
    FrameFiles files = FrameJob.files(run.settings(), Path.of(run.folder()));
    FrameFiles.Part part =
        WrittenPicture.of(files, frame, pass)
            .orElseThrow(() -> new NotFoundException("This run has no pass " + pass.label() + "."));
    try {
      FrameImage image = WrittenPicture.read(part, channels(shown));
      DisplayImage view = ViewTransform.show(Resample.shrink(image, most), shown, stops);
      return JpegFile.encode(view, 0.93f);
    } catch (NoSuchFileException e) {
      throw new NotFoundException(
          "Frame " + frame + " of " + run.shot() + " v" + run.number() + " is not there.");
    }
  }

  private static Set<String> channels(Shown shown) {
    return switch (shown) {
      case COLOUR -> Set.of("R", "G", "B", "A");
      case RED -> Set.of("R");
      case GREEN -> Set.of("G");
      case BLUE -> Set.of("B");
      case ALPHA -> Set.of("A");
      case DEPTH -> Set.of("depth.Z");
    };
  }

  /** Writes a run's finished files as a zip; they are packed already, so they are only stored. */
  void archive(RunStrand run, OutputStream out) throws IOException {
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
