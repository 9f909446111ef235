package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.EnumSet;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.image.SrgbTransfer;
import posada.core.image.TexelImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.AlphaMode;
import posada.core.scene.Camera;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Texture;
import posada.core.scene.Texture.Wrap;
import posada.core.scene.TextureUse;
import posada.core.scene.TextureUse.Placement;
import posada.core.scene.Trs;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;

/** A textured square that fills the view of an orthographic camera, pixel by pixel. */
class TextureTest {
  /** Top row red, green; bottom row blue, half-clear grey. */
  private static final int[] TEXELS = {0xffff0000, 0xff00ff00, 0xff0000ff, 0x80808080};

  private static final int SIZE = 32;

  private static FrameImage render(
      Placement placement, Wrap wrap, boolean nearest, AlphaMode alpha, boolean normalMap) {
    Texture t =
        new Texture("t", new TexelImage("t", 2, 2, TEXELS), wrap, wrap, nearest, false, false);
    Texture flat =
        new Texture(
            "flat",
            new TexelImage("flat", 1, 1, new int[] {0xff8080ff}),
            Wrap.REPEAT,
            Wrap.REPEAT,
            false,
            false,
            false);
    Material m =
        Material.named("m")
            .base(new TextureUse(0, 0, placement))
            .normal(normalMap ? new Material.NormalMap(new TextureUse(1, 0, null), 1) : null)
            .alpha(alpha, 0.6f)
            .unlit(!normalMap)
            .build();
    float[] p = {-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0};
    float[] uv = {0, 1, 1, 1, 1, 0, 0, 0};
    Primitive square =
        new Primitive(p, null, null, new float[][] {uv}, null, new int[] {0, 1, 2, 0, 2, 3}, 0);
    Trs eye = new Trs(new Vec3(0, 0, 5), Quat.IDENTITY, Vec3.ONE);
    Scene s =
        new Scene(
            "s",
            List.of(
                new Node("square", -1, Trs.IDENTITY, null, 0, -1, -1),
                new Node("eye", -1, eye, null, -1, 0, -1)),
            List.of(new Mesh("square", List.of(square))),
            List.of(m),
            List.of(t, flat),
            List.of(new Camera("eye", 0, 1)),
            List.of(),
            List.of(),
            Sky.NONE);
    return new RenderScene(s, Workers.CALLER)
        .frame(
            "eye",
            0,
            SIZE,
            SIZE,
            RenderSettings.of(64, 1).with(EnumSet.complementOf(EnumSet.of(Pass.OWN))))
        .render(64, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static void pixel(FrameImage i, int x, int y, double r, double g, double b, double eps) {
    int at = y * SIZE + x;
    assertEquals(r, i.find("R")[at], eps);
    assertEquals(g, i.find("G")[at], eps);
    assertEquals(b, i.find("B")[at], eps);
  }

  @Test
  void theFirstTexelIsTheTopLeftAndColoursAreDecoded() {
    FrameImage i = render(null, Wrap.CLAMP, true, AlphaMode.OPAQUE, false);
    double grey = SrgbTransfer.decode(128 / 255.0);
    pixel(i, 4, 4, 1, 0, 0, 1e-5);
    pixel(i, 27, 4, 0, 1, 0, 1e-5);
    pixel(i, 4, 27, 0, 0, 1, 1e-5);
    pixel(i, 27, 27, grey, grey, grey, 1e-5);
  }

  @Test
  void betweenTexelsValuesAreMixedInLinearLight() {
    FrameImage i = render(null, Wrap.CLAMP, false, AlphaMode.OPAQUE, false);
    // A quarter of the way from the left edge is a texel's centre, half way is even.
    pixel(i, 16, 1, 0.5 - 1 / 32.0, 0.5 + 1 / 32.0, 0, 0.02);
    pixel(i, 2, 2, 1, 0, 0, 1e-5);
  }

  @Test
  void transformsAndWrapsAsTheStandardSays() {
    Placement twice = new Placement(0, 0, 0, 2, 2);
    FrameImage repeated = render(twice, Wrap.REPEAT, true, AlphaMode.OPAQUE, false);
    pixel(repeated, 20, 4, 1, 0, 0, 1e-5);
    FrameImage mirrored = render(twice, Wrap.MIRROR, true, AlphaMode.OPAQUE, false);
    pixel(mirrored, 20, 4, 0, 1, 0, 1e-5);
    pixel(mirrored, 28, 4, 1, 0, 0, 1e-5);
    FrameImage clamped = render(twice, Wrap.CLAMP, true, AlphaMode.OPAQUE, false);
    pixel(clamped, 28, 4, 0, 1, 0, 1e-5);
  }

  @Test
  void alphaIsCoverageOrACut() {
    int at = 27 * SIZE + 27;
    FrameImage blend = render(null, Wrap.CLAMP, true, AlphaMode.BLEND, false);
    assertEquals(128 / 255.0, blend.find("A")[at], 0.03);
    FrameImage mask = render(null, Wrap.CLAMP, true, AlphaMode.MASK, false);
    assertEquals(0, mask.find("A")[at]);
    assertEquals(Float.POSITIVE_INFINITY, mask.find("depth.Z")[at]);
    assertEquals(1, mask.find("A")[4 * SIZE + 4]);
    assertEquals(5, mask.find("depth.Z")[4 * SIZE + 4], 1e-5);
  }

  @Test
  void aFlatNormalMapBendsNothing() {
    FrameImage i = render(null, Wrap.CLAMP, true, AlphaMode.OPAQUE, true);
    assertEquals(1, i.find("normal.Z")[4 * SIZE + 4], 1e-4);
  }

  /**
   * Far squares of a board are much smaller than a pixel: what is seen there is their mean, frame
   * after frame, however few samples are taken.
   */
  @Test
  void aDistantTextureIsItsAverageAndDoesNotBoil() {
    int n = 256;
    int[] texels = new int[n * n];
    for (int i = 0; i < texels.length; i++) {
      texels[i] = (i / n + i) % 2 == 0 ? 0xffffffff : 0xff000000;
    }
    Texture board =
        new Texture(
            "board",
            new TexelImage("board", n, n, texels),
            Wrap.REPEAT,
            Wrap.REPEAT,
            false,
            false,
            true);
    Material m = Material.named("m").base(new TextureUse(0, 0, null)).unlit(true).build();
    float far = 4000;
    float[] p = {-far, 0, -far, -far, 0, far, far, 0, far, far, 0, -far};
    float[] uv = {0, 0, 0, 100, 100, 100, 100, 0};
    Primitive ground =
        new Primitive(p, null, null, new float[][] {uv}, null, new int[] {0, 1, 2, 0, 2, 3}, 0);
    for (int frame = 0; frame < 6; frame++) {
      Trs eye = new Trs(new Vec3(0.37 * frame, 20, 0.21 * frame), Quat.IDENTITY, Vec3.ONE);
      Scene s =
          new Scene(
              "s",
              List.of(
                  new Node("ground", -1, Trs.IDENTITY, null, 0, -1, -1),
                  new Node("eye", -1, eye, null, -1, 0, -1)),
              List.of(new Mesh("ground", List.of(ground))),
              List.of(m),
              List.of(board),
              List.of(new Camera("eye", Math.toRadians(30), 0)),
              List.of(),
              List.of(),
              Sky.NONE);
      FrameImage image =
          new RenderScene(s, Workers.CALLER)
              .frame("eye", 0, SIZE, SIZE, RenderSettings.of(2, frame))
              .render(2, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
      for (int x = 0; x < SIZE; x++) {
        pixel(image, x, SIZE / 2 + 3, 0.5, 0.5, 0.5, 0.02);
        pixel(image, x, SIZE - 2, 0.5, 0.5, 0.5, 0.02);
      }
    }
  }
}
