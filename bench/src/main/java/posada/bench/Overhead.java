package posada.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A run of the server against the same frames by the command line in one process. */
final class Overhead {
  /** Light that changes with time, so that no frame is made from the same as another. */
  private static final String EXPOSURE = "[[0, 0], [100, 1]]";

  private final Path root = Path.of("").toAbsolutePath();
  private final Path scene;
  private final String camera;
  private final int frames, width, samples;

  Overhead(Path scene, String camera, int frames, int width, int samples) {
    this.scene = scene;
    this.camera = camera;
    this.frames = frames;
    this.width = width;
    this.samples = samples;
  }

  private int height() {
    return width * 9 / 16;
  }

  /** Measures by turns and prints each pair. */
  void measure(int rounds) throws Exception {
    try (Served server = new Served()) {
      ObjectNode shot = prepare(server);
      for (int round = 0; round < rounds; round++) {
        double line = command(round);
        double run = run(server, shot, round);
        System.out.printf(
            Locale.ROOT,
            "%d frames: command line %.1f s, run %.1f s: %+.1f %%%n",
            frames,
            line,
            run,
            100 * (run / line - 1));
      }
    }
  }

  /** Seconds that the command line takes, from its start to its end. */
  private double command(int seed) throws Exception {
    Path settings = Files.createTempFile("overhead", ".json");
    Files.writeString(
        settings,
        """
        {"schema": 1, "lens": {"exposure": %s}, "recipe": {"sampling": {"most": %d, "seed": %d}},
         "passes": {"wanted": ["beauty"]}}
        """
            .formatted(EXPOSURE, samples, seed));
    Path out = Files.createTempDirectory("overhead");
    long start = System.nanoTime();
    Process p =
        new ProcessBuilder(
                "bin/posada",
                "render",
                scene.toString(),
                "--camera",
                camera,
                "--frames",
                "1-" + frames,
                "--size",
                width + "x" + height(),
                "--settings",
                settings.toString(),
                "--out",
                out.toString())
            .directory(root.toFile())
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    if (p.waitFor() != 0) {
      throw new IOException("the command line failed");
    }
    return (System.nanoTime() - start) / 1e9;
  }

  private ObjectNode prepare(Served server) throws Exception {
    ObjectNode made =
        (ObjectNode)
            server.send(
                "POST",
                "/api/shots",
                "{\"revisionId\":%d,\"camera\":\"%s\"}".formatted(server.take(scene), camera));
    made.put("frames", "1-" + frames).put("width", width).put("height", height());
    made.put("scale", 100);
    ((ObjectNode) made.at("/settings/lens")).set("exposure", Served.JSON.readTree(EXPOSURE));
    return (ObjectNode)
        server.send("PUT", "/api/shots/" + made.get("id").asLong(), made.toString());
  }

  /** Seconds from the start of a run to its end. */
  private double run(Served server, ObjectNode shot, int seed) throws Exception {
    ObjectNode recipe = null;
    for (JsonNode r : server.send("GET", "/api/recipes?production=1", "")) {
      recipe = r.get("id").equals(shot.get("recipeId")) ? (ObjectNode) r : recipe;
    }
    ObjectNode sampling = (ObjectNode) recipe.at("/document/sampling");
    sampling.put("most", samples).put("seed", seed);
    ((ObjectNode) recipe.at("/document/denoising")).put("picture", false);
    server.send("PUT", "/api/recipes/" + recipe.get("id").asLong(), recipe.toString());
    ObjectNode layer = (ObjectNode) server.send("GET", "/api/layers?production=1", "").get(0);
    ((ObjectNode) layer.at("/document/passes")).set("wanted", Served.JSON.readTree("[\"beauty\"]"));
    server.send("PUT", "/api/layers/" + layer.get("id").asLong(), layer.toString());
    String wanted =
        "{\"productionId\":1,\"strands\":[{\"shotId\":%d,\"layerId\":%d}]}"
            .formatted(shot.get("id").asLong(), layer.get("id").asLong());
    String path =
        "/api/runs/strands/" + server.send("POST", "/api/runs", wanted).get(0).get("id").asLong();
    while (true) {
      JsonNode s = server.send("GET", path, "");
      if (s.get("state").asString().equals("DONE")) {
        if (s.get("fresh").asInt() - s.get("copied").asInt() != frames) {
          throw new IOException("not all frames were rendered: " + s);
        }
        Instant from = Instant.parse(s.get("startedAt").asString());
        System.out.printf(
            Locale.ROOT,
            "frames themselves %.1f s%n",
            frames * s.get("secondsPerFrame").asDouble());
        return Duration.between(from, Instant.parse(s.get("endedAt").asString())).toMillis() / 1e3;
      }
      if (!List.of("RUNNING").contains(s.get("state").asString())) {
        throw new IOException("the run ended: " + s);
      }
      Thread.sleep(100);
    }
  }
}
