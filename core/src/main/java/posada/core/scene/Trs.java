package posada.core.scene;

import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/** A node's own placement: translation in metres, rotation, scale. */
public record Trs(Vec3 translation, Quat rotation, Vec3 scale) {
  public static final Trs IDENTITY = new Trs(Vec3.ZERO, Quat.IDENTITY, Vec3.ONE);

  public Affine toAffine() {
    return Affine.of(translation, rotation, scale);
  }
}
