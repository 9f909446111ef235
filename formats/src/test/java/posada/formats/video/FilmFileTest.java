package posada.formats.video;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.DisplayImage;

/** Films that Debian's ffmpeg has made are read as it reads them. */
class FilmFileTest {
  private static final int W = 96, H = 64;
  @TempDir Path folder;

  private static byte[] run(String... command) throws Exception {
    Process p = new ProcessBuilder(command).start();
    byte[] out = p.getInputStream().readAllBytes();
    assertEquals(0, p.waitFor(), () -> String.join(" ", command));
    return out;
  }

  @ParameterizedTest
  @CsvSource({"libx264,mp4,24", "prores_ks,mov,25", "mjpeg,avi,30000/1001"})
  void picturesRateAndSizeAreThoseOfTheFilm(String codec, String end, String rate)
      throws Exception {
    String file = folder.resolve("f." + end).toString();
    String source = "testsrc2=size=%dx%d:rate=%s:duration=0.5".formatted(W, H, rate);
    run(
        "ffmpeg",
        "-v",
        "error",
        "-f",
        "lavfi",
        "-i",
        source,
        "-c:v",
        codec,
        "-colorspace",
        "bt709",
        "-color_primaries",
        "bt709",
        "-color_trc",
        "bt709",
        file);
    // This one does not keep what its numbers mean; today's films are of BT.709.
    String matrix = end.equals("mov") ? "scale=in_color_matrix=bt709" : "null";
    byte[] want =
        run(
            "ffmpeg",
            "-v",
            "error",
            "-i",
            file,
            "-vf",
            matrix,
            "-f",
            "rawvideo",
            "-pix_fmt",
            "rgb24",
            "-");
    try (FilmFile film = new FilmFile(Path.of(file))) {
      assertEquals(W, film.width());
      assertEquals(H, film.height());
      double perSecond = rate.contains("/") ? 30000 / 1001.0 : Double.parseDouble(rate);
      assertEquals(perSecond, film.rate(), 0.01);
      int frames = 0;
      double off = 0;
      for (DisplayImage p = film.next(); p != null; p = film.next()) {
        for (int i = 0; i < p.samples().length; i++) {
          int is = (p.samples()[i] & 0xffff) / 257;
          off += Math.abs(is - (want[frames * 3 * W * H + i] & 255));
        }
        frames++;
      }
      assertEquals(want.length / (3 * W * H), frames);
      assertTrue(off / want.length < 4, "mean difference of 8 bits: " + off / want.length);
    }
  }

  @Test
  void whatIsNoFilmIsNamed() throws Exception {
    Path none = Files.writeString(folder.resolve("notes.mp4"), "no film at all");
    String why = assertThrows(IOException.class, () -> new FilmFile(none)).getMessage();
    assertTrue(why.startsWith("notes.mp4 is no film"), why);
    assertThrows(IOException.class, () -> new FilmFile(folder.resolve("gone.mp4")));
  }
}
