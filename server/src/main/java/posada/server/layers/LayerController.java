package posada.server.layers;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.LayerRoles;
import posada.core.plan.LightGroupCheck;
import posada.core.plan.ObjectList;
import posada.core.scene.NameMask;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Limits;
import posada.core.settings.RuleEdit;
import posada.core.settings.RuleEdit.Said;
import posada.core.trace.ObjectMap;
import posada.formats.gltf.ImportException;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.ShotService;

@RestController
class LayerController {
  private final Layers layers;
  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final SeenObjects seen;
  private final PassPictures pictures;

  LayerController(
      Layers layers,
      ShotService shots,
      SceneService scenes,
      SceneLibrary library,
      SeenObjects seen,
      PassPictures pictures) {
    this.layers = layers;
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.seen = seen;
    this.pictures = pictures;
  }

  private Scene scene(long revision) throws ImportException, IOException {
    return scenes.rigged(scenes.revision(revision)).scene();
  }

  /** The objects of a scene, in the order of its tree. */
  @GetMapping("/api/revisions/{id}/objects")
  List<ObjectList.SceneObject> objects(@PathVariable long id) throws ImportException, IOException {
    return ObjectList.of(scene(id));
  }

  /** What a layer makes of each object of a scene, by the numbers of nodes. */
  @GetMapping("/api/layers/{id}/roles")
  LayerRoles roles(@PathVariable long id, @RequestParam long revision)
      throws ImportException, IOException {
    return LayerRoles.of(scene(revision), layers.find(id).document().layer());
  }

  /**
   * The lights of a scene and what is odd about a layer's groups of them.
   *
   * @param lights names, with those of the environment and its sun
   * @param odd sentences
   */
  record Lights(List<String> lights, List<String> odd) {}

  /** The lights of a scene, for the groups of a layer. */
  @GetMapping("/api/layers/{id}/lights")
  Lights lights(@PathVariable long id, @RequestParam long revision)
      throws ImportException, IOException {
    Scene scene = scene(revision);
    return new Lights(
        LightGroupCheck.lights(scene),
        LightGroupCheck.of(scene, layers.find(id).document().passes().lightGroups()));
  }

  /**
   * What is to be said of objects in a layer.
   *
   * @param revisionId of the scene whose objects they are
   * @param said what holds for them from now on; what it leaves out stays
   * @param forget what is not said of them any more, so that they are as what is above them
   */
  record RuleChange(long revisionId, Layer.Rule said, Set<Said> forget) {
    RuleChange {
      if (said == null) {
        throw new IllegalArgumentException("said must name the objects (match)");
      }
      forget = forget == null ? Set.of() : Set.copyOf(forget);
    }
  }

  /** Says something of some objects in a layer. */
  @PostMapping("/api/layers/{id}/rules")
  Definition<LayerDocument> say(@PathVariable long id, @RequestBody RuleChange c)
      throws ImportException, IOException {
    Scene scene = scene(c.revisionId());
    for (String p : c.said().match()) {
      if (scene.nodes().stream().noneMatch(n -> NameMask.fits(p, n.name()))) {
        throw new IllegalArgumentException(
            "No object of this scene is called \""
                + p
                + "\"; * stands for any letters, ? for one.");
      }
    }
    Definition<LayerDocument> d = layers.find(id);
    LayerDocument doc = d.document();
    List<Layer.Rule> rules =
        RuleEdit.say(
            RuleEdit.forget(doc.layer().objects(), c.said().match(), c.forget()), c.said());
    return layers.change(d.with(doc.with(doc.layer().with(rules))));
  }

  /** What each pass of a shot's layer looks like at a frame. */
  @GetMapping("/api/shots/{id}/passes")
  PassPictures.Pictures passes(
      @PathVariable long id, @RequestParam int frame, @RequestParam(required = false) Long layer)
      throws ImportException {
    return pictures.of(shots.find(id), frame, layer);
  }

  /**
   * Which object is at each pixel.
   *
   * @param runs the number of a node and of how many pixels it is, in turn, row by row; -1 for none
   */
  record Objects(int width, int height, List<Integer> runs) {}

  /** Which object is where in a shot's picture. */
  @GetMapping("/api/shots/{id}/objects")
  Objects objects(
      @PathVariable long id, @RequestParam int frame, @RequestParam(defaultValue = "480") int most)
      throws ImportException {
    ObjectMap map = seen.at(shots.find(id), frame, most);
    int[] nodes = map.nodes();
    List<Integer> runs = new ArrayList<>();
    for (int i = 0, from = 0; i < nodes.length; i++) {
      if (i + 1 == nodes.length || nodes[i + 1] != nodes[i]) {
        runs.add(nodes[i]);
        runs.add(i + 1 - from);
        from = i + 1;
      }
    }
    return new Objects(map.width(), map.height(), runs);
  }

  /**
   * What is at a place of a shot's picture.
   *
   * @param x share of its width from the left, 0 .. 1; y likewise from the top
   */
  @GetMapping("/api/shots/{id}/pick")
  SeenObjects.Seen pick(
      @PathVariable long id,
      @RequestParam int frame,
      @RequestParam double x,
      @RequestParam double y,
      @RequestParam(required = false) Long layer)
      throws ImportException {
    Limits.within("x", x, 0, 1);
    Limits.within("y", y, 0, 1);
    return seen.pick(shots.find(id), frame, layer, x, y);
  }

  /**
   * One pass of a shot's layer, larger.
   *
   * @param name of the pass, or of one of the user's own
   */
  @GetMapping(path = "/api/shots/{id}/passes/{name}", produces = MediaType.IMAGE_JPEG_VALUE)
  byte[] pass(
      @PathVariable long id,
      @PathVariable String name,
      @RequestParam int frame,
      @RequestParam(required = false) Long layer)
      throws ImportException {
    return pictures.one(shots.find(id), frame, layer, name);
  }
}
