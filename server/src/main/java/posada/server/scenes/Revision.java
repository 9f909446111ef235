package posada.server.scenes;

import java.time.Instant;
import posada.formats.gltf.SceneReport;

/**
 * One imported state of a scene.
 *
 * @param fileName path of the scene file inside the revision's folder
 * @param sha256 of the uploaded file; also the folder's name
 * @param first first frame of the animations at the production's rate
 * @param last last frame
 */
public record Revision(
    long id,
    long productionId,
    String scene,
    int number,
    String fileName,
    String sha256,
    SceneReport report,
    Instant importedAt,
    int first,
    int last) {}
