package posada.formats.gltf;

import posada.core.scene.Scene;

/** A scene ready for rendering and what there is to say about its file. */
public record ImportedScene(Scene scene, SceneReport report) {}
