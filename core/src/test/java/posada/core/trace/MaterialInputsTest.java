package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.BitSet;
import java.util.List;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.image.SrgbTransfer;
import posada.core.image.TexelImage;
import posada.core.material.SurfaceValues;
import posada.core.parallel.Workers;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.scene.MaterialBuilder;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Texture;
import posada.core.scene.Texture.Wrap;
import posada.core.scene.TextureUse;
import posada.core.scene.Trs;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;

/**
 * Which channel of a texture each input of a material reads, and whether as colour or as a plain
 * number, after glTF 2.0, section 3.9, and the extensions' own texts.
 */
class MaterialInputsTest {
  private static final int R = 0x60;
  private static final int G = 0xc0;
  private static final int B = 0x20;
  private static final int A = 0x90;
  private static final TextureUse TEXTURE = new TextureUse(0, 0, null);
  private static final float EPS = 1e-5f;

  private static double plain(int v) {
    return v / 255.0;
  }

  private static double colour(int v) {
    return SrgbTransfer.decode(v / 255.0);
  }

  /** What a ray that comes straight down on a square finds; its tangent is X, its normal Z. */
  private static SurfacePoint met(int argb, float[] colors, UnaryOperator<MaterialBuilder> with) {
    Texture t =
        new Texture(
            "t",
            new TexelImage("t", 1, 1, new int[] {argb}),
            Wrap.REPEAT,
            Wrap.REPEAT,
            false,
            false,
            false);
    float[] p = {-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0};
    float[] uv = {0, 1, 1, 1, 1, 0, 0, 0};
    Primitive square =
        new Primitive(p, null, null, new float[][] {uv}, colors, new int[] {0, 1, 2, 0, 2, 3}, 0);
    Scene s =
        new Scene(
            "s",
            List.of(new Node("square", -1, Trs.IDENTITY, null, 0, -1, -1)),
            List.of(new Mesh("square", List.of(square))),
            List.of(with.apply(Material.named("m")).build()),
            List.of(t),
            List.of(),
            List.of(),
            List.of(),
            Sky.NONE);
    Stage stage =
        new RenderScene(s, Workers.CALLER)
            .placed(new Moment(0, 0, 24), RenderSettings.DEFAULT, new BitSet(), Workers.CALLER);
    Ray ray = new Ray();
    ray.set(0.3f, 0.2f, 5, 0, 0, -1, Float.POSITIVE_INFINITY);
    stage.top().intersect(ray);
    SurfacePoint point = new SurfacePoint();
    point.fill(stage, ray, 1e-3f);
    point.shade(ray);
    return point;
  }

  private static SurfaceValues values(UnaryOperator<MaterialBuilder> with) {
    return met(A << 24 | R << 16 | G << 8 | B, null, with).values;
  }

  @Test
  void theBaseIsColourAndRoughnessAndMetalAreNumbers() {
    SurfaceValues v =
        values(
            m ->
                m.base(0.5f, 1, 1, 1)
                    .base(TEXTURE)
                    .roughness(0.8f)
                    .metallic(0.5f)
                    .metallicRoughness(TEXTURE));
    assertEquals(0.5 * colour(R), v.base[0], EPS);
    assertEquals(colour(G), v.base[1], EPS);
    assertEquals(colour(B), v.base[2], EPS);
    assertEquals(0.8 * plain(G), v.roughness, EPS);
    assertEquals(0.5 * plain(B), v.metallic, EPS);
  }

  /** KHR_materials_specular: strength in alpha, colour in RGB; F0 of index 1.5 is 0.04. */
  @Test
  void reflectionsOfDielectrics() {
    float[] tint = {1, 0.5f, 2};
    SurfaceValues v =
        values(m -> m.specular(new Material.Specular(1.5f, 0.8f, TEXTURE, tint, TEXTURE)));
    double f90 = 0.8 * plain(A);
    assertEquals(f90, v.f90, EPS);
    assertEquals(0.04 * colour(R) * f90, v.f0[0], EPS);
    assertEquals(0.04 * 0.5 * colour(G) * f90, v.f0[1], EPS);
    assertEquals(0.04 * 2 * colour(B) * f90, v.f0[2], EPS);
    float[] white = {1, 1, 1};
    SurfaceValues all = values(m -> m.specular(new Material.Specular(0, 1, null, white, null)));
    assertEquals(1, all.f0[1], EPS);
  }

  /** KHR_materials_transmission, clearcoat, sheen: red; red and green; colour and alpha. */
  @Test
  void layersReadTheirOwnChannels() {
    float[] white = {1, 1, 1};
    SurfaceValues clear =
        values(
            m ->
                m.transmission(
                    new Material.Transmission(0.5f, TEXTURE, 0, white, Float.POSITIVE_INFINITY)));
    assertEquals(0.5 * plain(R), clear.transmission, EPS);
    SurfaceValues coated =
        values(m -> m.coat(new Material.Coat(0.5f, TEXTURE, 0.5f, TEXTURE, null)));
    assertEquals(0.5 * plain(R), coated.coat, EPS);
    assertEquals(0.5 * plain(G), coated.coatRoughness, EPS);
    SurfaceValues cloth =
        values(m -> m.sheen(new Material.Sheen(new float[] {1, 0.5f, 1}, TEXTURE, 0.5f, TEXTURE)));
    assertEquals(colour(R), cloth.sheen[0], EPS);
    assertEquals(0.5 * colour(G), cloth.sheen[1], EPS);
    assertEquals(0.5 * plain(A), cloth.sheenRoughness, EPS);
  }

  /**
   * KHR_materials_anisotropy: red and green are the direction, blue the strength; the rotation
   * comes on top, counter-clockwise from the tangent towards the bitangent.
   */
  @Test
  void strokesTurnByTextureAndRotation() {
    // Red 255 and green half: along the tangent.
    int along = 0xffff80ff;
    // Red half and green 255: along the bitangent.
    int across = 0xff80ff40;
    SurfacePoint p = brushed(along, 0);
    assertEquals(0.7, p.values.brushed, EPS);
    assertEquals(1, p.tx, 0.01);
    p = brushed(across, 0);
    assertEquals(0.7 * plain(0x40), p.values.brushed, EPS);
    assertEquals(1, p.ty, 0.01);
    p = brushed(along, Math.PI / 6);
    assertEquals(Math.cos(Math.PI / 6), p.tx, 0.01);
    assertEquals(Math.sin(Math.PI / 6), p.ty, 0.01);
    p = brushed(across, Math.PI / 2);
    assertEquals(-1, p.tx, 0.01);
  }

  private static SurfacePoint brushed(int argb, double rotation) {
    Material.Anisotropy a = new Material.Anisotropy(0.7f, (float) rotation, TEXTURE);
    return met(argb, null, m -> m.anisotropy(a));
  }

  /** A varnish has its own normals: those of the surface below stay, and the other way round. */
  @Test
  void normalsOfVarnishAndSurfaceAreTheirOwn() {
    // Leaning by 30 degrees towards the tangent.
    int leaning = 0xffbf80ee;
    Material.NormalMap map = new Material.NormalMap(TEXTURE, 1);
    SurfacePoint coat = met(leaning, null, m -> m.coat(new Material.Coat(1, null, 0, null, map)));
    assertEquals(1, coat.nz, EPS);
    ShadingFrame frame = new ShadingFrame();
    frame.set(coat.nx, coat.ny, coat.nz, 1, 0, 0);
    coat.varnish(frame);
    assertEquals(0.5, coat.values.coatX, 0.01);
    assertEquals(Math.sqrt(0.75), coat.values.coatZ, 0.01);
    SurfacePoint base =
        met(leaning, null, m -> m.normal(map).coat(new Material.Coat(1, null, 0, null, null)));
    assertEquals(0.5, base.nx, 0.01);
    frame.set(base.nx, base.ny, base.nz);
    base.varnish(frame);
    // Without a map of its own the varnish lies flat on the bare surface, which leans away.
    assertEquals(Math.sqrt(0.75), base.values.coatZ, 0.01);
    Material.NormalMap weak = new Material.NormalMap(TEXTURE, 0.5f);
    SurfacePoint less = met(leaning, null, m -> m.normal(weak));
    assertEquals(0.25 / Math.sqrt(0.25 * 0.25 + 0.75), less.nx, 0.01);
  }

  /** Colours of vertices count on top of the texture, in colour and in coverage. */
  @Test
  void coloursOfVerticesMultiply() {
    float[] colors = new float[16];
    for (int v = 0; v < 4; v++) {
      System.arraycopy(new float[] {0.5f, 0.25f, 1, 0.5f}, 0, colors, 4 * v, 4);
    }
    UnaryOperator<MaterialBuilder> blend =
        m -> m.base(1, 1, 1, 0.8f).base(TEXTURE).alpha(AlphaMode.BLEND, 0.5f);
    SurfacePoint p = met(A << 24 | R << 16 | G << 8 | B, colors, blend);
    assertEquals(0.5 * colour(R), p.values.base[0], EPS);
    assertEquals(0.25 * colour(G), p.values.base[1], EPS);
    assertEquals(0.8 * plain(A) * 0.5, p.alpha, EPS);
    UnaryOperator<MaterialBuilder> mask = m -> m.base(TEXTURE).alpha(AlphaMode.MASK, 0.3f);
    assertEquals(0, met(A << 24, colors, mask).alpha);
    assertEquals(1, met(A << 24, null, mask).alpha);
  }

  @Test
  void whatGlowsIsColourTimesItsFactor() {
    SurfacePoint p =
        met(A << 24 | R << 16 | G << 8 | B, null, m -> m.emission(2, 4, 8).emission(TEXTURE));
    assertEquals(2 * colour(R), p.emission[0], EPS);
    assertEquals(4 * colour(G), p.emission[1], EPS);
    assertEquals(8 * colour(B), p.emission[2], EPS);
  }
}
