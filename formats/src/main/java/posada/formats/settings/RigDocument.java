package posada.formats.settings;

import java.util.List;
import java.util.Map;
import posada.core.rig.MaterialChange;
import posada.core.rig.ObjectChange;
import posada.core.rig.Rig;
import posada.core.rig.RigCamera;
import posada.core.rig.RigLight;

/**
 * What a production adds to a scene, as it is written down; documented in {@code docs/rig.md}.
 *
 * @param sky in place of the scene's environment; null for the scene's
 */
public record RigDocument(
    List<RigCamera> cameras,
    List<RigLight> lights,
    List<ObjectChange> objects,
    List<MaterialChange> materials,
    EnvironmentDocument sky) {
  public static final RigDocument NONE =
      new RigDocument(List.of(), List.of(), List.of(), List.of(), null);

  public RigDocument {
    Rig r = new Rig(cameras, lights, objects, materials);
    cameras = r.cameras();
    lights = r.lights();
    objects = r.objects();
    materials = r.materials();
  }

  /** Returns what becomes part of the scene's tree. */
  public Rig rig() {
    return new Rig(cameras, lights, objects, materials);
  }

  /** Returns the same for a scene whose objects are called otherwise: old names to new ones. */
  public RigDocument renamed(Map<String, String> names) {
    Rig r = rig().renamed(names);
    return new RigDocument(r.cameras(), r.lights(), r.objects(), r.materials(), sky);
  }

  /** Returns true if it adds nothing. */
  public boolean empty() {
    return equals(NONE);
  }
}
