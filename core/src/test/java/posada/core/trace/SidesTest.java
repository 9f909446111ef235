package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;

/** Which side of a surface is which, however it is placed, and colours of vertices. */
class SidesTest {
  private static final float[] SQUARE = {-1, -1, 0, 1, -1, 0, 1, 1, 0, -1, 1, 0};
  private static final int SIZE = 32;
  private static final int[] FRONT = {0, 1, 2, 0, 2, 3};

  private static FrameImage render(Primitive p, Material m, Trs at, Pass... passes) {
    Trs eye = new Trs(new Vec3(0, 0, 5), Quat.IDENTITY, Vec3.ONE);
    Scene s =
        new Scene(
            "s",
            List.of(
                new Node("square", -1, at, null, 0, -1, -1),
                new Node("eye", -1, eye, null, -1, 0, -1)),
            List.of(new Mesh("square", List.of(p))),
            List.of(m),
            List.of(),
            List.of(new Camera("eye", 0, 1)),
            List.of(),
            List.of(),
            Sky.NONE);
    return new RenderScene(s, Workers.CALLER)
        .frame("eye", 0, SIZE, SIZE, RenderSettings.of(4, 1).with(Set.of(passes)))
        .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static Primitive square(float[] colors) {
    return new Primitive(SQUARE, null, null, new float[0][], colors, FRONT, 0);
  }

  /** A lamp shines to the front of its triangles; a mirrored placement does not turn it over. */
  @ParameterizedTest
  @ValueSource(doubles = {1, -1})
  void mirroringKeepsTheFrontInFront(double scale) {
    Trs at = new Trs(Vec3.ZERO, Quat.IDENTITY, new Vec3(3 * scale, 3, 1));
    FrameImage i = render(square(null), TestScenes.lamp(3), at, Pass.BEAUTY, Pass.NORMAL);
    assertEquals(3, TestScenes.mean(i, "R"), 1e-3);
    assertEquals(1, TestScenes.mean(i, "normal.Z"), 1e-5);
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aLampSeenFromBehindIsDarkUnlessItHasTwoSides(boolean both) {
    Material lamp =
        Material.named("lamp")
            .base(0, 0, 0, 1)
            .specular(new Material.Specular(1.5f, 0, null, new float[] {1, 1, 1}, null))
            .emission(2, 2, 2)
            .doubleSided(both)
            .build();
    Trs turned = new Trs(Vec3.ZERO, Quat.axisAngle(new Vec3(0, 1, 0), Math.PI), new Vec3(3, 3, 1));
    FrameImage i = render(square(null), lamp, turned, Pass.BEAUTY);
    assertEquals(both ? 2 : 0, TestScenes.mean(i, "R"), 1e-3);
  }

  @Test
  void coloursOfVerticesAreMixedAndMultiplyTheMaterials() {
    float[] colors = {1, 0, 0, 1, 0, 1, 0, 1, 0, 0, 1, 1, 1, 1, 1, 1};
    Material half = Material.named("m").base(0.5f, 0.5f, 0.5f, 1).unlit(true).build();
    FrameImage i = render(square(colors), half, Trs.IDENTITY, Pass.BEAUTY);
    // The middle of the lower right triangle, and three quarters of the way to its green corner.
    for (String channel : new String[] {"R", "G", "B"}) {
      assertEquals(0.5 / 3, i.find(channel)[21 * SIZE + 20], 0.03, channel);
      assertEquals(
          channel.equals("G") ? 0.375 : 0.0625, i.find(channel)[27 * SIZE + 27], 0.03, channel);
    }
  }
}
