package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import posada.core.image.TexelImage;
import posada.core.image.TexelPyramid;
import posada.core.material.Surface;
import posada.core.parallel.Workers;
import posada.core.scene.Material;
import posada.core.scene.Scene;
import posada.core.scene.Texture;
import posada.core.settings.Layer;

/** All materials of a scene ready to be read, with the prefiltered levels of their textures. */
public final class Looks {
  private final Look[] looks;
  private final Map<Integer, TextureMap> asColor = new HashMap<>();
  private final Map<Integer, TextureMap> asNumbers = new HashMap<>();
  private final long bytes;

  public Looks(Scene scene, Workers workers) {
    TreeSet<Integer> colors = new TreeSet<>();
    TreeSet<Integer> numbers = new TreeSet<>();
    scene.materials().forEach(m -> Look.uses(m, colors, numbers));
    bytes =
        build(scene, colors, true, asColor, workers)
            + build(scene, numbers, false, asNumbers, workers);
    looks = scene.materials().stream().map(m -> look(m, workers)).toArray(Look[]::new);
  }

  /** Makes a material's look, and the tables it takes. */
  private Look look(Material m, Workers workers) {
    if (m.anisotropy().strength() > 0) {
      Surface.prepareBrushed(workers);
    }
    if (m.transmission().factor() > 0 && m.transmission().thickness() > 0) {
      Surface.prepareGlass(SurfacePoint.ior(m), workers);
    }
    return new Look(m, asColor, asNumbers);
  }

  /** Makes one pyramid for each image, however many textures share it. */
  private static long build(
      Scene scene,
      TreeSet<Integer> wanted,
      boolean encoded,
      Map<Integer, TextureMap> to,
      Workers workers) {
    IdentityHashMap<TexelImage, Boolean> seen = new IdentityHashMap<>();
    List<TexelImage> images = new ArrayList<>();
    for (int t : wanted) {
      TexelImage image = scene.textures().get(t).image();
      if (seen.put(image, true) == null) {
        images.add(image);
      }
    }
    Map<Integer, TexelPyramid> made = new ConcurrentHashMap<>();
    workers.each(images.size(), i -> made.put(i, new TexelPyramid(images.get(i), encoded)));
    IdentityHashMap<TexelImage, TexelPyramid> pyramids = new IdentityHashMap<>();
    long bytes = 0;
    for (int i = 0; i < images.size(); i++) {
      pyramids.put(images.get(i), made.get(i));
      bytes += made.get(i).bytes();
    }
    for (int t : wanted) {
      Texture texture = scene.textures().get(t);
      to.put(t, new TextureMap(texture, pyramids.get(texture.image())));
    }
    return bytes;
  }

  /**
   * Returns how each material looks in a layer where it is not replaced.
   *
   * @param now the scene's materials at one time
   */
  Look[] own(Layer layer, List<Material> now, Workers workers) {
    if (!layer.textures()) {
      return now.stream().map(m -> Look.bare(m, asColor)).toArray(Look[]::new);
    }
    Look[] all = looks.clone();
    for (int i = 0; i < all.length; i++) {
      if (now.get(i) != all[i].material) {
        all[i] = look(now.get(i), workers);
      }
    }
    return all;
  }

  /** Returns how the layer's plain material looks in place of each material; null without one. */
  Look[] plain(Layer layer, List<Material> now) {
    return layer.material() == null
        ? null
        : now.stream()
            .map(m -> Look.plain(layer.material(), m, layer.textures(), asColor))
            .toArray(Look[]::new);
  }

  /** Returns the bytes of the prefiltered levels. */
  public long bytes() {
    return bytes;
  }
}
