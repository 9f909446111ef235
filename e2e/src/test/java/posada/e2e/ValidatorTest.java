package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.demo.BuildScenes;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The demo scenes under the standard's own validator. */
class ValidatorTest {
  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(strings = {"larkspur-pass", "ticket-hall", "winding-engine"})
  void findsNoErrorAndNoWarning(String name) throws Exception {
    BuildScenes.main(new String[] {folder.toString()});
    Path scene = folder.resolve(name + ".glb");
    assertEquals(true, Files.exists(scene));
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
