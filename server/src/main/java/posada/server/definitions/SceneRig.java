package posada.server.definitions;

import posada.formats.settings.RigDocument;

/**
 * What a production adds to one of its scenes.
 *
 * @param scene the scene's name; its revisions share the rig
 */
public record SceneRig(String scene, RigDocument rig) {
  public SceneRig {
    if (scene == null || scene.isBlank()) {
      throw new IllegalArgumentException("a rig needs the name of its scene");
    }
    rig = rig == null ? RigDocument.NONE : rig;
  }
}
