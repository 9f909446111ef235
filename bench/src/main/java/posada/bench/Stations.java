package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** How soon Layers and Quality answer: a control, the first picture, the first rung. */
final class Stations {
  private static final int ROUNDS = 9;

  /** About the width of the picture in Layers. */
  private static final int WIDTH = 576;

  private final Served server;
  private final ObjectNode shot;
  private final String scene;
  private final List<String> objects = new ArrayList<>();
  private int viewer;

  private Stations(Served server, String scene, String camera, String prefix) throws Exception {
    this.server = server;
    this.scene = scene;
    Path file = Files.createTempFile("stations", ".glb");
    Files.write(file, DemoScenes.all(scene).get(0).file());
    long revision = server.take(file);
    shot =
        (ObjectNode)
            server.send(
                "POST",
                "/api/shots",
                "{\"revisionId\":%d,\"camera\":\"%s\"}".formatted(revision, camera));
    for (JsonNode o : server.send("GET", "/api/revisions/%d/objects".formatted(revision), "")) {
      if (o.get("name").asString().startsWith(prefix)) {
        objects.add(o.get("name").asString());
      }
    }
  }

  /** Measures and prints medians; the first round, which reads the scene, does not count. */
  static void measure() throws Exception {
    try (Served server = new Served()) {
      new Stations(server, "larkspur-pass", "valley-wide", "pine-").print();
      new Stations(server, "ticket-hall", "glide", "").print();
    }
  }

  private void print() throws Exception {
    JsonNode main = server.send("GET", "/api/layers?production=1", "").get(0);
    long layer = main.get("id").asLong();
    List<Double> role = new ArrayList<>(), recipe = new ArrayList<>();
    List<Double> afterRole = new ArrayList<>(), afterRecipe = new ArrayList<>();
    List<Double> rung = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      String name = objects.get(i % objects.size());
      role.add(
          timed(
              "POST",
              "/api/layers/%d/rules".formatted(layer),
              "{\"revisionId\":%d,\"said\":{\"match\":[\"%s\"],\"role\":\"%s\"},\"forget\":[]}"
                  .formatted(
                      shot.get("revisionId").asLong(), name, i % 2 == 0 ? "left-out" : "seen")));
      afterRole.add(picture(layer));
      ObjectNode r = recipe();
      ((ObjectNode) r.at("/document/bounces")).put("diffuse", 3 + i % 3);
      recipe.add(timed("PUT", "/api/recipes/" + r.get("id").asLong(), r.toString()));
      afterRecipe.add(picture(layer));
      rung.add(
          server.until(
              "/api/shots/%d/ladder?viewer=b%d&frame=1&layer=%d&x=0.33&y=0.33&width=0.33&height=0.33"
                  .formatted(shot.get("id").asLong(), viewer++, layer),
              e -> true));
    }
    System.out.printf(
        Locale.ROOT,
        "%s: a role %.0f ms, a recipe %.0f ms; first picture after a role %.2f s, after a recipe"
            + " %.2f s; first rung %.2f s%n",
        scene,
        1000 * median(role),
        1000 * median(recipe),
        median(afterRole),
        median(afterRecipe),
        median(rung));
  }

  private double picture(long layer) throws Exception {
    return server.until(
        "/api/shots/%d/live?viewer=b%d&frame=1&most=%d&shown=ALONE&layer=%d"
            .formatted(shot.get("id").asLong(), viewer++, WIDTH, layer),
        e -> e.has("data"));
  }

  private ObjectNode recipe() throws Exception {
    for (JsonNode r : server.send("GET", "/api/recipes?production=1", "")) {
      if (r.get("id").equals(shot.get("recipeId"))) {
        return (ObjectNode) r;
      }
    }
    throw new IllegalStateException("the shot has no recipe");
  }

  private double timed(String method, String path, String body) throws Exception {
    long start = System.nanoTime();
    server.send(method, path, body);
    return (System.nanoTime() - start) / 1e9;
  }

  private static double median(List<Double> all) {
    List<Double> counted = new ArrayList<>(all.subList(1, all.size()));
    Collections.sort(counted);
    return counted.get(counted.size() / 2);
  }
}
