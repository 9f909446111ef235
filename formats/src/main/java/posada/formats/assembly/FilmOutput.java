package posada.formats.assembly;

import java.nio.file.Path;
import java.util.Set;
import posada.core.review.Look;
import posada.core.settings.Limits;
import posada.formats.preview.BurnIn;
import posada.formats.video.FilmWriter;

/**
 * What is made of a film's frames.
 *
 * @param scale per cent of the size, 1 .. 400
 * @param step every Nth frame, 1 .. 1000; the film takes as long as without
 * @param quality 1 .. 100, of MP4 and JPEG
 * @param view by which light becomes what a screen shows; EXR keeps the light
 * @param stops exposure of the view, -10 .. 10
 * @param burnIns what is written over the pictures; none over EXR
 * @param sound path of a WAV file; null for none
 */
public record FilmOutput(
    Kind kind,
    int scale,
    int step,
    int quality,
    Look.View view,
    double stops,
    Set<BurnIn> burnIns,
    String sound) {
  /** Kinds of what is made. */
  public enum Kind {
    /** Scene-linear half floats with alpha. */
    EXR("exr", false),
    /** 16 bits. */
    PNG("png", false),
    /** 16 bits. */
    TIFF("tif", false),
    JPEG("jpg", false),
    MP4("mp4", true),
    MOV("mov", true),
    /** An animated PNG. */
    LOOP("png", true),
    /** The first frame, as a PNG of 16 bits. */
    STILL("png", true);

    private final String extension;
    private final boolean single;

    Kind(String extension, boolean single) {
      this.extension = extension;
      this.single = single;
    }

    public String extension() {
      return extension;
    }

    /** Returns true if it is one file. */
    public boolean single() {
      return single;
    }

    /** Returns the film that is written; null if it is none. */
    FilmWriter.Kind film() {
      return switch (this) {
        case MP4 -> FilmWriter.Kind.MP4;
        case MOV -> FilmWriter.Kind.MOV;
        case LOOP -> FilmWriter.Kind.LOOP;
        default -> null;
      };
    }
  }

  /** A film to look at. */
  public static final FilmOutput DEFAULT =
      new FilmOutput(Kind.MP4, 100, 1, 90, Look.View.STANDARD, 0, Set.of(), null);

  public FilmOutput {
    Limits.whole("scale of a film", scale, 1, 400);
    Limits.whole("step of a film", step, 1, 1000);
    Limits.whole("quality of a film", quality, 1, 100);
    Limits.within("exposure of a film", stops, -10, 10);
    burnIns = Set.copyOf(burnIns);
    if (view == Look.View.BANDS) {
      throw new IllegalArgumentException("a film is seen by the view standard, soft or linear");
    }
    if (sound != null && !Path.of(sound).isAbsolute()) {
      throw new IllegalArgumentException(
          "the path of the sound must begin at the root (got " + sound + ")");
    }
    if (sound != null && kind != Kind.MP4 && kind != Kind.MOV) {
      throw new IllegalArgumentException("only an MP4 or MOV film has sound; take it away");
    }
  }
}
