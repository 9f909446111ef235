package posada.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whatever is typed wrong is answered with one sentence that names it, and nothing is written. */
class WrongInputTest extends CliCase {
  private List<Path> before;

  @BeforeEach
  void prepare() throws Exception {
    Files.writeString(folder.resolve("text"), "neither a picture nor a scene");
    Files.writeString(folder.resolve("damaged.json"), "{\"every\": 2");
    Files.writeString(folder.resolve("wrong.json"), "{\"every\": \"two\"}");
    Files.writeString(
        folder.resolve("low.json"), "{\"recipe\": {\"irradiance\": {\"accuracy\": -1}}}");
    Files.createDirectory(folder.resolve("empty"));
    before = files();
  }

  private List<Path> files() throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.sorted().toList();
    }
  }

  /**
   * @param line what is typed; {@code @} stands for the folder
   * @param sentence that is told, or its telling part
   */
  private void refused(String line, int code, String sentence) throws IOException {
    String[] args = line.replace("@", folder.toString()).split(" ");
    assertEquals(code, Main.run(args), told.toString());
    String all = told.toString().replace(folder.toString(), "@");
    int from = all.indexOf("posada: ");
    assertTrue(from >= 0 && all.indexOf(sentence, from) >= 0, all);
    assertFalse(all.contains("Exception") || all.contains("\tat "), all);
    assertEquals(before, files());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "2 | --size 12 | size \"12\" cannot be read; write 1280x720",
        "2 | --size 0x18 | 1 .. 16384 pixels each way (got 0 x 18)",
        "2 | --fps 0 | frame rate must be 1 .. 240 for each second (got 0.0)",
        "2 | --fps film | '--fps': 'film' is not a number",
        "2 | --frames 5-1 | frames \"5-1\" run backwards; write 1-5",
        "2 | --frames 1-9999999999 | frames \"1-9999999999\" cannot be read",
        "2 | --frames 1-9x0 | frames \"1-9x0\" need a step of 1 or more",
        "2 | --frames 1,,2 | frames \"1,,2\" cannot be read",
        "2 | --threads 0 | threads must be 1 .. 1024 (got 0)",
        "2 | --samples 0 | samples must be 1 .. 65536 (got 0)",
        "2 | --samples 1e3 | '--samples': '1e3' is not a whole number",
        "2 | --bounces -1 | diffuse bounces must be 0 .. 64 (got -1)",
        "2 | --background purple | no background \"purple\"; there are environment, transparent and",
        "2 | --deep=-1 | deep tolerance must be 0.0 .. 1.0 (got -1.0)",
        "2 | --compression lzw | compression \"lzw\"; there are none, rle, zips, zip",
        "2 | --format jpeg --quality 0 | JPEG quality must be 1 .. 100 (got 0)",
        "2 | --name ../x.{frame:4} | leaves the output folder",
        "2 | --name {nix}.{frame:4} | no field {nix}; there are {camera}, {date}",
        "2 | --progress-image @/x.gif | end its name in .png (got @/x.gif)",
        "1 | --layer @/gone.json | @/gone.json is not there",
        "2 | --settings @/text | text: the JSON is damaged at line 1",
        "1 | --environment @/gone.hdr | gone.hdr is not there",
        "1 | --environment @/text | the picture @/text is neither .exr nor .hdr",
        "1 | --light @/text | text is no file of baked light",
        "1 | --out @/text | @/text is a file, not a folder",
      })
  void rendering(int code, String options, String sentence) throws IOException {
    String line = "render @/two.gltf --camera left ";
    String more = options.contains("--out") ? "" : " --out @/o";
    String small = options.contains("--size") ? "" : " --size 32x18";
    String few = options.contains("--samples") ? "" : " --samples 1";
    refused(line + options + more + small + few, code, sentence);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "--style sketch | look.style must be one of shaded, clay, outlined, depth (got sketch)",
        "--burn-ins frame,weather | burnIns[1] must be one of frame, timecode, shot",
        "--without fog | look.without[0] must be one of standing, moving",
        "--scale 0 | scale must be 1 .. 400 % (got 0.0)",
        "--every 0 | every must be 1 .. 10000 frames (got 0)",
        "--rays 5 | rays for each pixel must be 1, 4 or 9 (got 5)",
        "--contact 2 | contact shade must be 0.0 .. 1.0 (got 2.0)",
        "--quality 101 | quality must be 1 .. 100 (got 101)",
        "--recipe @/wrong.json | wrong.json: every must be a whole number (got two)",
        "--recipe @/damaged.json | damaged.json: the JSON is damaged at line 1",
        "--format webp | format must be png or jpeg (got webp)",
      })
  void previews(String options, String sentence) throws IOException {
    refused("preview @/two.gltf --camera left --out @/o " + options, Main.USAGE, sentence);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "2 | preview @/two.gltf --camera left --out @/a.mov | as .mp4 only (got @/a.mov)",
        "2 | bake @/two.gltf --camera left --out @/l --every 0 | must be 1 .. 10000 (got 0)",
        "2 | bake @/two.gltf --camera left --out @/l --settings @/low.json | accuracy must be",
        "2 | bake @/two.gltf --camera up --out @/l | left, right",
        "1 | denoise @/gone.exr --out @/d | @/gone.exr is not there",
        "1 | denoise @/text --out @/d | text is not an EXR file",
        "2 | denoise @/gone.exr --out @/d --amount 2 | amount must be 0 .. 1 (got 2.0)",
        "2 | denoise --out @/d | 'FILES'",
        "2 | info @/gone.glb | @/gone.glb is not there",
        "2 | info @/empty | @/empty is not there or is no file",
        "2 | info @/text | text: the file is not glTF",
        "2 | rendr | commands: info, passes, render, denoise, bake, preview",
        "2 | passes --tabel | --table",
      })
  void everythingElse(int code, String line, String sentence) throws IOException {
    refused(line, code, sentence);
  }
}
