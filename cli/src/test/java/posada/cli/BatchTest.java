package posada.cli;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A plan of two shots, one of which sees the only object, rendered without a server. */
class BatchTest extends CliCase {
  private static final String PLAN =
      """
      {"schema": 1, "production": "Larkspur Line", "frameRate": 24,
       "scenes": [{"name": "two", "file": "two.gltf"}],
       "recipes": [{"name": "few", "document": {"sampling": {"most": 2}}}],
       "deliveries": [{"name": "comp"}],
       "layers": [{"name": "main"}],
       "shots": [
         {"name": "near", "scene": "two", "camera": "left", "frames": "1-3", "width": 16,
          "height": 16, "recipe": "few", "delivery": "comp",
          "settings": {"lens": {"exposure": [[0, 0], [1, 2]]}}},
         {"name": "away", "scene": "two", "camera": "right", "frames": "1-3", "width": 16,
          "height": 16, "recipe": "few", "delivery": "comp"}],
       "strands": [{"shot": "near", "layer": "main"}, {"shot": "away", "layer": "main"}]}
      """;

  private Path plan;
  private Path out;

  @BeforeEach
  void write() throws Exception {
    plan = Files.writeString(folder.resolve("plan.json"), PLAN);
    out = folder.resolve("out");
  }

  private int batch(String command, String... more) {
    said.reset();
    told.reset();
    List<String> args = new java.util.ArrayList<>(List.of("batch", command));
    args.addAll(List.of(plan.toString(), "--out", out.toString()));
    args.addAll(List.of(more));
    return Main.run(args.toArray(new String[0]));
  }

  /** What a run did: rendered, fresh, copied and failed frames. */
  private void did(int code, String counts, String... more) {
    assertEquals(code, batch("run", more), told.toString());
    JsonNode o = new JsonMapper().readTree(said.toString());
    assertEquals(
        counts,
        String.format(
            "%s %s %s %s", o.get("rendered"), o.get("fresh"), o.get("copied"), o.get("failed")));
  }

  private void change(Path file, String from, String to) throws Exception {
    String text = Files.readString(file);
    assertTrue(text.contains(from), from);
    Files.writeString(file, text.replace(from, to));
  }

  private String status() {
    assertEquals(0, batch("status"));
    return said.toString().replace(System.lineSeparator(), "\n");
  }

  @Test
  void nothingFreshIsRenderedAgain() throws Exception {
    // The exposure of the near one changes; the other stands still and is rendered once.
    did(0, "4 0 2 0");
    did(0, "0 6 0 0");
    change(plan, "\"1-3\"", "\"1-4\"");
    did(0, "2 6 0 0");
    change(plan, "\"most\": 2", "\"most\": 3");
    assertEquals(
        """
        near/main: 0 fresh, 4 stale, 0 missing
          1-4: recipe
        away/main: 0 fresh, 4 stale, 0 missing
          1-4: recipe
        """,
        status());
    did(0, "5 0 3 0");
    assertTrue(Files.exists(out.resolve("Larkspur-Line/near/main/v001/beauty")));
    assertTrue(Files.exists(out.resolve("Larkspur-Line/near/main/v002/beauty")));
  }

  @Test
  void whatNoRayMetLeavesAFrameFresh() throws Exception {
    did(0, "4 0 2 0");
    change(
        scene, "\"attributes\":{\"POSITION\":0}", "\"attributes\":{\"POSITION\":0},\"material\":0");
    change(
        scene,
        "\"accessors\"",
        "\"materials\":[{\"pbrMetallicRoughness\":{\"baseColorFactor\":[1,0,0,1]}}],\"accessors\"");
    String status = status();
    assertTrue(
        status.contains("near/main: 0 fresh, 3 stale, 0 missing\n  1-3: material of "), status);
    assertTrue(status.contains("away/main: 3 fresh, 0 stale, 0 missing"), status);
    did(0, "3 3 0 0");
  }

  @Test
  void someStrandsAndFramesAreRenderedAlone() {
    did(0, "1 0 0 0", "--only", "near/*", "--frames", "2");
    assertTrue(told.toString().contains("near/main: 1 to render"), told.toString());
    did(0, "2 1 0 0", "--only", "near/main");
    assertEquals(2, batch("run", "--only", "far/main"));
    assertTrue(told.toString().contains("there are near/main, away/main"), told.toString());
  }

  /** What is written and not yet in the ledger is found whole. */
  @Test
  void aBatchThatWasCutOffGoesOn() throws Exception {
    did(0, "4 0 2 0");
    Path ledger = out.resolve("ledger/near_main.jsonl");
    List<String> lines = Files.readAllLines(ledger);
    String cut = lines.get(lines.size() - 1);
    lines.set(lines.size() - 1, cut.substring(0, cut.length() / 2));
    Files.writeString(ledger, String.join("\n", lines));
    Path file = out.resolve("Larkspur-Line/near/main/v001/beauty/near_main_beauty.0003.exr");
    var before = Files.getLastModifiedTime(file);
    did(0, "1 5 0 0");
    assertEquals(before, Files.getLastModifiedTime(file));
    did(0, "0 6 0 0");
    Files.delete(file);
    did(0, "1 5 0 0");
  }

  @Test
  void whatFailsIsTriedAgainAndTheRestGoesOn() throws Exception {
    Path blocked = out.resolve("Larkspur-Line/near/main/v001/beauty");
    did(0, "0 0 0 0", "--frames", "9");
    Files.createDirectories(blocked.getParent());
    // A version that is there is somebody else's: the next one is taken.
    did(0, "4 0 2 0");
    assertTrue(Files.exists(out.resolve("Larkspur-Line/near/main/v002/beauty")));
    change(plan, "\"most\": 2", "\"most\": 3");
    Files.createDirectories(out.resolve("Larkspur-Line/near"));
    Path next = out.resolve("Larkspur-Line/near/main/v003");
    Files.createSymbolicLink(next, folder.resolve("nowhere"));
    did(1, "1 0 2 3");
    assertTrue(told.toString().contains("It is tried again"), told.toString());
    Files.delete(next);
    did(0, "3 3 0 0");
  }

  @Test
  void whatIsLeftIsEstimated() {
    assertEquals(0, batch("estimate", "--json"), told.toString());
    JsonNode o = new JsonMapper().readTree(said.toString());
    assertEquals(3, o.at("/strands/near~1main/rendered").asInt());
    assertEquals(3, o.at("/strands/away~1main/frames").asInt());
    assertEquals(1, o.at("/strands/away~1main/rendered").asInt(), "it stands still");
    assertTrue(o.at("/seconds/value").asDouble() > 0, o.toString());
    assertTrue(o.at("/seconds/low").asDouble() < o.at("/seconds/high").asDouble());
    assertTrue(Files.notExists(out), "nothing is written");
    did(0, "4 0 2 0");
    assertEquals(0, batch("estimate"));
    assertTrue(said.toString().contains("all: 0 frames to render, 0 s"), said.toString());
  }

  @Test
  void errorsStopABatchBeforeItBegins() throws Exception {
    assertEquals(0, batch("check"), told.toString());
    change(plan, "\"camera\": \"right\"", "\"camera\": \"middle\"");
    assertEquals(1, batch("check"));
    assertTrue(said.toString().contains("error  away/main: There is no camera \"middle\""));
    assertEquals(2, batch("run"));
    assertTrue(told.toString().contains("Nothing was rendered."), told.toString());
    assertEquals(1, batch("check", "--json"));
    assertEquals(
        "ERROR", new JsonMapper().readTree(said.toString()).get(0).get("severity").asString());
  }

  @Test
  void oneBatchWorksInAFolderAtATime() throws Exception {
    Files.createDirectories(out.resolve("ledger"));
    try (FileChannel c =
            FileChannel.open(
                out.resolve("ledger/lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
        var held = c.lock()) {
      assertEquals(2, batch("run"));
      assertTrue(told.toString().contains("another posada batch works in"), told.toString());
    }
    did(0, "4 0 2 0");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "\"schema\": 1 | \"schema\": 2 | schema must be 1 (got 2)",
        "\"layer\": \"main\"} | \"layer\": \"mian\"} | strands[0].layer: there is no \"mian\"; there are main",
        "\"recipe\": \"few\" | \"recipe\": \"many\" | shots[0].recipe: there is no \"many\"; there are few",
        "\"most\": 2 | \"most\": \"two\" | recipes[0].document.sampling.most",
        "\"name\": \"comp\" | \"name\": \"comp\", \"colour\": 1 | deliveries[0].colour is not known",
        "\"1-3\" | \"1-1000000000\" | 1-1000000000",
        "\"1-3\" | \"1-9999999\" | are more than 100000",
        "\"file\": \"two.gltf\" | \"file\": \"three.gltf\" | three.gltf is not there"
      })
  void whatIsWrongWithAPlanIsSaidWithItsPlace(String from, String to, String sentence)
      throws Exception {
    change(plan, from, to);
    assertEquals(2, batch("run"));
    assertTrue(told.toString().contains(sentence), told.toString());
    assertTrue(Files.notExists(out));
  }
}
