package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.List;
import posada.core.light.EmissiveTriangles;
import posada.core.light.EnvironmentLight;
import posada.core.light.LightSet;
import posada.core.light.Portals;
import posada.core.light.PunctualLight;
import posada.core.motion.Pose;
import posada.core.parallel.Workers;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.settings.Layer;

/** Finds what gives light among what is placed on a stage, and the panes that let it in. */
record StageLights(Scene scene, ObjectRoles cast, Pose still, Instance[] instances) {
  /** Returns all lights; gives each instance the numbers of its triangles among them. */
  LightSet of(EnvironmentLight around, Workers workers) {
    return new LightSet(punctual(), emissive(workers), around, panes());
  }

  private List<PunctualLight> punctual() {
    List<PunctualLight> list = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      int l = scene.nodes().get(i).light();
      if (l >= 0 && !cast.leftOut(i) && still.shown(i)) {
        Light light = scene.lights().get(l);
        float[] gain = cast.gain(i);
        light = gain == null ? light : light.times(gain);
        if (cast.role(i) != Layer.Role.SEEN) {
          light = light.unseen();
        }
        if (light.gives()) {
          list.add(new PunctualLight(light, still.world(i), i));
        }
      }
    }
    return list;
  }

  /** The window panes, where they stand when the shutter opens; none if there are too many. */
  private Portals panes() {
    List<float[]> all = new ArrayList<>();
    for (Instance in : instances) {
      for (int p = 0; p < in.primitives.size(); p++) {
        int triangles = in.primitives.get(p).triangles();
        if (!in.looks[p].pane) {
          continue;
        }
        if (all.size() + triangles > Portals.MOST) {
          return Portals.NONE;
        }
        for (int k = 0; k < triangles; k++) {
          all.add(in.corners(p, k, 0));
        }
      }
    }
    float[] joined = new float[all.size() * 9];
    for (int i = 0; i < all.size(); i++) {
      System.arraycopy(all.get(i), 0, joined, i * 9, 9);
    }
    return new Portals(joined);
  }

  private EmissiveTriangles emissive(Workers workers) {
    int most = 0;
    boolean moving = false;
    for (Instance in : instances) {
      for (int p = 0; p < in.looks.length; p++) {
        if (in.looks[p].emits) {
          most += in.primitives.get(p).triangles();
          moving |= in.moves();
        }
      }
    }
    EmissiveTriangles t = new EmissiveTriangles(most, moving);
    SurfacePoint reader = new SurfacePoint();
    for (int i = 0; i < instances.length; i++) {
      workers.check().run();
      Instance in = instances[i];
      for (int p = 0; p < in.primitives.size(); p++) {
        Look look = in.looks[p];
        if (look.emits) {
          in.emissive[p] = t.count();
          for (int k = 0; k < in.primitives.get(p).triangles(); k++) {
            float mean = reader.meanEmission(in, p, k);
            t.add(
                in.corners(p, k, 0),
                moving ? in.corners(p, k, 1) : null,
                mean,
                look.material.doubleSided(),
                i,
                p,
                k);
          }
        }
      }
    }
    return t;
  }
}
