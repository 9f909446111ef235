package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.rig.RigScene;
import posada.core.scene.Scene;
import posada.demo.BuildScenes;
import posada.formats.gltf.RigFile;
import posada.formats.gltf.SceneImporter;
import posada.formats.settings.Documents;
import posada.formats.settings.RigDocument;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The demo scenes, and a rig that is written out, under the standard's own validator. */
class ValidatorTest {
  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(strings = {"larkspur-pass", "ticket-hall", "winding-engine"})
  void findsNoErrorAndNoWarning(String name) throws Exception {
    BuildScenes.main(new String[] {folder.toString()});
    Path scene = folder.resolve(name + ".glb");
    assertEquals(true, Files.exists(scene));
    check(scene);
  }

  private static final String RIG =
      """
      {"cameras": [
        {"name": "rising", "fixedTo": "valley", "keys": [
          {"time": 0, "position": [0, 90, 200], "ease": "smooth"},
          {"time": 2, "position": [9, 95, 180], "value": 30, "ease": "eased"},
          {"time": 4, "position": [0, 99, 150], "value": 50}],
         "sway": {"metres": 0.1, "degrees": 0.5, "frequency": 1, "seed": 2, "from": 0, "to": 4}},
        {"name": "map", "orthographic": true, "view": 400, "keys": [
          {"time": 0, "position": [0, 500, 0], "rotation": [-0.70710678, 0, 0, 0.70710678]}]}],
       "lights": [
        {"name": "a-sun", "kind": "sun", "strength": 3, "size": 0.5, "keys": [{"position": [0, 9, 0]}]},
        {"name": "a-point", "kind": "point", "strength": 9, "size": 0.1, "temperature": 2700,
         "keys": [{"time": 0, "position": [0, 9, 0], "value": 1}, {"time": 1, "position": [0, 8, 0], "value": 9}]},
        {"name": "a-spot", "kind": "spot", "strength": 9, "size": 0, "cone": 40, "soft": 0.5,
         "keys": [{"position": [0, 9, 0]}]},
        {"name": "a-panel", "kind": "panel", "strength": 5, "size": 2, "depth": 1, "seen": false,
         "keys": [{"position": [0, 9, 0]}]},
        {"name": "a-disc", "kind": "disc", "strength": 5, "size": 2, "keys": [{"position": [0, 9, 0]}]}]}
      """;

  @Test
  void findsNothingInARigThatIsWrittenOut() throws Exception {
    BuildScenes.main(new String[] {folder.toString()});
    Scene scene = SceneImporter.load(folder.resolve("larkspur-pass.glb")).scene();
    RigScene.Rigged rigged =
        RigScene.apply(scene, Documents.read(RIG, RigDocument.class).rig(), null);
    assertEquals(List.of(), rigged.unfit());
    byte[] rig = RigFile.write(rigged.scene(), scene.nodes().size(), null);
    check(Files.write(folder.resolve("rig.glb"), rig));
  }

  private static void check(Path scene) throws Exception {
    String script =
        "const v = require('gltf-validator');"
            + "v.validateBytes(new Uint8Array(require('fs').readFileSync(process.argv[1])))"
            + ".then(r => console.log(JSON.stringify(r.issues)));";
    ProcessBuilder b = new ProcessBuilder("node", "-e", script, scene.toString());
    b.environment().put("NODE_PATH", Path.of("../web/node_modules").toAbsolutePath().toString());
    Process p = b.start();
    JsonNode issues = new JsonMapper().readTree(p.getInputStream());
    assertEquals(0, issues.get("numErrors").asInt(), issues.toString());
    assertEquals(0, issues.get("numWarnings").asInt(), issues.toString());
  }
}
