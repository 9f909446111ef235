package posada.core.motion;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Value;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Material.Anisotropy;
import posada.core.scene.Material.Coat;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.Material.Sheen;
import posada.core.scene.Material.Specular;
import posada.core.scene.Material.Transmission;
import posada.core.scene.MaterialBuilder;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.TextureUse;
import posada.core.scene.TextureUse.Placement;

/** What cameras, lights and materials are like at a time, where keys change them. */
public final class Values {
  /** Radians. */
  private static final double LEAST_ANGLE = 1e-4;

  /** Metres. */
  private static final double LEAST_HEIGHT = 1e-9;

  private Values() {}

  /**
   * Returns a scene as it is at a time; where two animations change the same thing the later one
   * wins. Numbers outside what their property may be are clamped.
   *
   * @param seconds time from the start of the animations
   * @param clips names of the animations that play; null for all
   * @return the same scene if nothing changes; else one in which all that no key changes is the
   *     same object as before
   */
  public static Scene at(Scene scene, double seconds, Set<String> clips) {
    List<Camera> cameras = new ArrayList<>(scene.cameras());
    List<Light> lights = new ArrayList<>(scene.lights());
    List<Material> materials = new ArrayList<>(scene.materials());
    boolean any = false;
    for (Animation a : scene.animations()) {
      if (!a.plays(clips)) {
        continue;
      }
      for (Value v : a.values()) {
        any = true;
        int i = v.index();
        double[] x = Keys.at(v.curve(), seconds);
        switch (v.property().owner()) {
          case CAMERA -> cameras.set(i, camera(cameras.get(i), v.property(), x[0]));
          case LIGHT -> lights.set(i, light(lights.get(i), v.property(), x));
          case MATERIAL -> materials.set(i, material(materials.get(i), v.property(), floats(x)));
          case TEXTURE -> materials.set(i, placed(materials.get(i), v, floats(x)));
        }
      }
    }
    return any ? scene.with(cameras, lights, materials) : scene;
  }

  /** Returns all that changes one property, whatever plays. */
  public static Stream<Value> of(Scene scene, Property property) {
    return scene.animations().stream()
        .flatMap(a -> a.values().stream())
        .filter(v -> v.property() == property);
  }

  private static Camera camera(Camera c, Property p, double x) {
    // Keys of the kind of view that a camera does not have change nothing.
    if (c.perspective() != (p == Property.VIEW_ANGLE)) {
      return c;
    }
    return c.perspective()
        ? new Camera(c.name(), Math.max(LEAST_ANGLE, Math.min(Math.PI - LEAST_ANGLE, x)), 0)
        : new Camera(c.name(), 0, Math.max(LEAST_HEIGHT, Math.abs(x)));
  }

  private static Light light(Light l, Property p, double[] x) {
    float[] color = p == Property.LIGHT_COLOR ? within(floats(x), Float.MAX_VALUE) : l.color();
    double intensity = p == Property.LIGHT_INTENSITY ? Math.max(0, x[0]) : l.intensity();
    double range = p == Property.LIGHT_RANGE ? x[0] : l.range();
    double outer = p == Property.SPOT_OUTER_ANGLE ? x[0] : l.outerAngle();
    double inner = p == Property.SPOT_INNER_ANGLE ? x[0] : l.innerAngle();
    outer = Math.max(LEAST_ANGLE, Math.min(Math.PI / 2, outer));
    return new Light(
        l.name(),
        l.kind(),
        color,
        intensity,
        range > 0 ? range : Double.POSITIVE_INFINITY,
        Math.max(0, inner),
        outer,
        l.size(),
        l.cameraSees());
  }

  private static Material material(Material m, Property p, float[] x) {
    Specular s = m.specular();
    Transmission t = m.transmission();
    Coat c = m.coat();
    Sheen h = m.sheen();
    Anisotropy a = m.anisotropy();
    float first = x[0];
    float unit = Math.max(0, Math.min(1, first));
    MaterialBuilder b = m.changed();
    switch (p) {
      case BASE_COLOR -> {
        float[] u = within(x, 1);
        b.base(u[0], u[1], u[2], u[3]);
      }
      case METALLIC -> b.metallic(unit);
      case ROUGHNESS -> b.roughness(unit);
      case NORMAL_SCALE -> b.normal(scaled(m.normal(), first));
      case EMISSION -> {
        float[] e = within(x, Float.MAX_VALUE);
        b.emission(e[0], e[1], e[2]);
      }
      case ALPHA_CUTOFF -> b.alpha(m.alphaMode(), first);
      case IOR -> {
        float ior = first == 0 ? 0 : Math.max(1, Math.min(100, first));
        b.specular(new Specular(ior, s.factor(), s.texture(), s.color(), s.colorTexture()));
      }
      case SPECULAR ->
          b.specular(new Specular(s.ior(), unit, s.texture(), s.color(), s.colorTexture()));
      case SPECULAR_COLOR ->
          b.specular(
              new Specular(
                  s.ior(), s.factor(), s.texture(), within(x, Float.MAX_VALUE), s.colorTexture()));
      case TRANSMISSION ->
          b.transmission(
              new Transmission(unit, t.texture(), t.thickness(), t.color(), t.distance()));
      case THICKNESS ->
          b.transmission(
              new Transmission(
                  t.factor(), t.texture(), Math.max(0, first), t.color(), t.distance()));
      case ATTENUATION_COLOR ->
          b.transmission(
              new Transmission(t.factor(), t.texture(), t.thickness(), within(x, 1), t.distance()));
      case ATTENUATION_DISTANCE ->
          b.transmission(
              new Transmission(
                  t.factor(),
                  t.texture(),
                  t.thickness(),
                  t.color(),
                  first > 0 ? first : Float.POSITIVE_INFINITY));
      case COAT ->
          b.coat(new Coat(unit, c.texture(), c.roughness(), c.roughnessTexture(), c.normal()));
      case COAT_ROUGHNESS ->
          b.coat(new Coat(c.factor(), c.texture(), unit, c.roughnessTexture(), c.normal()));
      case COAT_NORMAL_SCALE ->
          b.coat(
              new Coat(
                  c.factor(),
                  c.texture(),
                  c.roughness(),
                  c.roughnessTexture(),
                  scaled(c.normal(), first)));
      case SHEEN_COLOR ->
          b.sheen(new Sheen(within(x, 1), h.texture(), h.roughness(), h.roughnessTexture()));
      case SHEEN_ROUGHNESS ->
          b.sheen(new Sheen(h.color(), h.texture(), unit, h.roughnessTexture()));
      case ANISOTROPY -> b.anisotropy(new Anisotropy(unit, a.rotation(), a.texture()));
      case ANISOTROPY_ROTATION -> b.anisotropy(new Anisotropy(a.strength(), first, a.texture()));
      default -> throw new IllegalArgumentException(p + " is none of a material's");
    }
    return b.build();
  }

  private static NormalMap scaled(NormalMap n, float scale) {
    return n == null ? null : new NormalMap(n.texture(), scale);
  }

  private static Material placed(Material m, Value v, float[] x) {
    TextureUse t = v.slot().of(m);
    if (t == null) {
      return m;
    }
    Placement p = t.placement() == null ? Placement.NONE : t.placement();
    Placement now =
        switch (v.property()) {
          case TEXTURE_OFFSET -> new Placement(x[0], x[1], p.rotation(), p.scaleU(), p.scaleV());
          case TEXTURE_ROTATION ->
              new Placement(p.offsetU(), p.offsetV(), x[0], p.scaleU(), p.scaleV());
          case TEXTURE_SCALE -> new Placement(p.offsetU(), p.offsetV(), p.rotation(), x[0], x[1]);
          default -> throw new IllegalArgumentException(v.property() + " places no texture");
        };
    return v.slot().with(m, t.placed(now));
  }

  private static float[] within(float[] x, float most) {
    float[] out = new float[x.length];
    for (int i = 0; i < x.length; i++) {
      out[i] = Math.max(0, Math.min(most, x[i]));
    }
    return out;
  }

  static float[] floats(double[] x) {
    float[] out = new float[x.length];
    for (int i = 0; i < x.length; i++) {
      out[i] = (float) x[i];
    }
    return out;
  }
}
