package posada.formats.video;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.DisplayImage;
import posada.core.plan.FrameRate;

/** Films as Debian's ffprobe and ffmpeg read them. */
class FilmWriterTest {
  private static final int W = 64, H = 48;
  @TempDir Path folder;

  private static byte[] run(String... command) throws Exception {
    Process p = new ProcessBuilder(command).start();
    byte[] out = p.getInputStream().readAllBytes();
    assertEquals(0, p.waitFor(), () -> String.join(" ", command));
    return out;
  }

  private static DisplayImage plain(int r, int g, int b) {
    short[] s = new short[W * H * 3];
    for (int i = 0; i < s.length; i += 3) {
      s[i] = (short) (r * 257);
      s[i + 1] = (short) (g * 257);
      s[i + 2] = (short) (b * 257);
    }
    return new DisplayImage(W, H, 3, s);
  }

  private Path write(double rate, List<DisplayImage> frames) throws IOException {
    Path file = folder.resolve("f.mp4");
    try (FilmWriter film = new FilmWriter(file, W, H, new FrameRate(rate), 90, true)) {
      for (DisplayImage f : frames) {
        film.add(f);
      }
      film.finish();
    }
    return file;
  }

  @ParameterizedTest
  @CsvSource({
    "24,24/1",
    "25,25/1",
    "12,12/1",
    "23.976,24000/1001",
    "29.97,30000/1001",
    "12.5,25/2"
  })
  void rateSizeAndColourAreTagged(double rate, String written) throws Exception {
    DisplayImage grey = plain(90, 90, 90);
    Path file = write(rate, List.of(grey, grey, grey, grey, grey));
    String said =
        new String(
            run(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-show_entries",
                "stream=codec_name,width,height,pix_fmt,color_range,color_space,color_primaries,"
                    + "color_transfer,avg_frame_rate,nb_read_frames",
                "-of",
                "csv=p=0",
                file.toString()));
    assertEquals("h264,64,48,yuv420p,tv,bt709,bt709,bt709," + written + ",5", said.strip());
  }

  @Test
  void coloursComeBack() throws Exception {
    int[][] colours = {{200, 40, 40}, {30, 180, 60}, {40, 60, 220}, {255, 255, 255}, {0, 0, 0}};
    Path file = write(24, List.of(colours).stream().map(c -> plain(c[0], c[1], c[2])).toList());
    byte[] raw =
        run(
            "ffmpeg",
            "-v",
            "error",
            "-i",
            file.toString(),
            "-vf",
            "scale=in_color_matrix=bt709:in_range=tv:out_range=pc",
            "-pix_fmt",
            "rgb24",
            "-f",
            "rawvideo",
            "-");
    assertEquals(colours.length * W * H * 3, raw.length);
    for (int f = 0; f < colours.length; f++) {
      for (int k = 0; k < 3; k++) {
        int middle = f * W * H * 3 + (H / 2 * W + W / 2) * 3 + k;
        assertEquals(colours[f][k], raw[middle] & 255, 6, "frame " + f + " component " + k);
      }
    }
  }

  private static String probe(Path file, String entries) throws Exception {
    return new String(
            run(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-show_entries",
                entries,
                "-of",
                "csv=p=0",
                file.toString()))
        .strip();
  }

  private Path write(FilmWriter.Kind kind, Path wav, int frames) throws IOException {
    Path file = folder.resolve("f." + kind.extension());
    FrameRate rate = new FrameRate(23.976);
    try (FilmWriter film = new FilmWriter(kind, file, W, H, rate, 90, wav, true)) {
      for (int i = 0; i < frames; i++) {
        film.add(plain(10 * i, 100, 200));
      }
      film.finish();
    }
    return file;
  }

  @Test
  void aFilmForEditorsHasTenBitsAndItsExactRate() throws Exception {
    Path file = write(FilmWriter.Kind.MOV, null, 5);
    assertEquals(
        "prores,HQ,64,48,yuv422p10le,tv,bt709,bt709,bt709,24000/1001,5",
        probe(
            file,
            "stream=codec_name,profile,width,height,pix_fmt,color_range,color_space,"
                + "color_primaries,color_transfer,avg_frame_rate,nb_read_frames"));
    byte[] raw =
        run(
            "ffmpeg",
            "-v",
            "error",
            "-i",
            file.toString(),
            "-pix_fmt",
            "rgb24",
            "-f",
            "rawvideo",
            "-");
    for (int f = 0; f < 5; f++) {
      assertEquals(10 * f, raw[f * W * H * 3 + 3 * (H / 2 * W + W / 2)] & 255, 2, "frame " + f);
    }
  }

  @Test
  void aLoopPlaysWithoutEnd() throws Exception {
    Path file = write(FilmWriter.Kind.LOOP, null, 6);
    assertEquals("apng,64,48,6", probe(file, "stream=codec_name,width,height,nb_read_frames"));
    byte[] bytes = Files.readAllBytes(file);
    // acTL of the standard: frames, then plays; 0 is without end.
    int at = new String(bytes, java.nio.charset.StandardCharsets.ISO_8859_1).indexOf("acTL");
    java.nio.ByteBuffer b = java.nio.ByteBuffer.wrap(bytes, at + 4, 8);
    assertEquals(6, b.getInt());
    assertEquals(0, b.getInt());
  }

  @ParameterizedTest
  @CsvSource({"MP4,aac", "MOV,pcm_s16le"})
  void soundBeginsAndEndsWithTheFilm(FilmWriter.Kind kind, String codec) throws Exception {
    Path wav = folder.resolve("tone.wav");
    run(
        "ffmpeg",
        "-v",
        "error",
        "-f",
        "lavfi",
        "-i",
        "sine=frequency=1000:sample_rate=48000:duration=10",
        "-c:a",
        "pcm_s24le",
        wav.toString());
    Path file = write(kind, wav, 24);
    String said = probe(file, "stream=codec_name,duration");
    assertTrue(said.contains(codec), said);
    for (String line : said.split("\n")) {
      assertEquals(24 / 23.976, Double.parseDouble(line.split(",")[1]), 0.05, said);
    }
    byte[] raw =
        run("ffmpeg", "-v", "error", "-i", file.toString(), "-ac", "1", "-f", "s16le", "-");
    int crossings = 0;
    for (int i = 4; i + 3 < raw.length; i += 2) {
      crossings += (raw[i + 1] < 0) != (raw[i + 3] < 0) ? 1 : 0;
    }
    assertEquals(2000, crossings / (raw.length / 2.0 / 48000), 30, "a tone of 1 kHz");
  }

  @Test
  void anUnfinishedFilmIsThrownAwayAndATakenNameKept() throws Exception {
    Path file = folder.resolve("f.mp4");
    try (FilmWriter film = new FilmWriter(file, W, H, new FrameRate(24), 50, false)) {
      film.add(plain(1, 2, 3));
      assertThrows(
          IllegalArgumentException.class, () -> film.add(new DisplayImage(2, 2, 3, new short[12])));
    }
    try (var left = Files.list(folder)) {
      assertEquals(0, left.count());
    }
    Files.writeString(file, "mine");
    IOException e =
        assertThrows(
            IOException.class, () -> new FilmWriter(file, W, H, new FrameRate(24), 50, false));
    assertTrue(e.getMessage().contains("exists already"), e.getMessage());
    assertEquals("mine", Files.readString(file));
  }

  @Test
  void sidesMustBeEvenAndWithinTheEncodersReach() {
    for (int[] wh : new int[][] {{63, 48}, {64, 14}, {4000, 48}}) {
      var e = assertThrows(IllegalArgumentException.class, () -> FilmWriter.check(wh[0], wh[1]));
      assertTrue(e.getMessage().contains(wh[0] + " x " + wh[1]), e.getMessage());
    }
    assertFalse(Files.exists(folder.resolve("f.mp4")));
  }
}
