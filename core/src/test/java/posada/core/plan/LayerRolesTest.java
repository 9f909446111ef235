package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.scene.Environment;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;
import posada.core.settings.Layer.Rule;

/** A yard with two pines, the second in a group, and a lamp; listed and given roles. */
class LayerRolesTest {
  private static Node node(String name, int parent, int mesh, int light) {
    return new Node(name, parent, null, Affine.IDENTITY, mesh, -1, light);
  }

  private static final Scene SCENE =
      new Scene(
          "s",
          List.of(
              node("yard", -1, -1, -1),
              node("lamp", -1, -1, 0),
              node("pine-1", 0, -1, -1),
              node("wood", 0, -1, -1),
              node("pine-2", 3, -1, -1)),
          List.of(),
          List.of(),
          List.of(),
          List.of(),
          List.of(),
          List.of(),
          List.of(),
          Environment.NONE);

  @Test
  void rolesAreInheritedFromWhatIsAbove() {
    Layer l =
        Layer.MAIN.with(
            List.of(
                new Rule(List.of("pine-2"), null, false, null, null),
                new Rule(List.of("pine-*", "gone"), Role.HOLDOUT, null, null, null),
                new Rule(List.of("yard"), Role.UNSEEN, null, null, List.of("lamps"))));
    LayerRoles r = LayerRoles.of(SCENE, l);
    assertEquals("USHUH", r.roles());
    assertArrayEquals(new int[] {0, -1, 2, 0, 4}, r.from());
    assertEquals("pine-*", r.patterns().get(r.rules()[4]));
    assertEquals("yard", r.patterns().get(r.rules()[3]));
    assertEquals(-1, r.rules()[1]);
    assertEquals("11110", r.shadows());
    assertEquals(List.of("lamps"), r.groups().get(r.receives()[4]));
    assertEquals(-1, r.receives()[1]);
    assertEquals(List.of("gone"), r.unfit());
    // Names and masks are told alike by what renders.
    assertEquals(
        List.of(Role.UNSEEN, Role.SEEN, Role.HOLDOUT, Role.UNSEEN, Role.HOLDOUT), l.roles(SCENE));
  }

  @Test
  void objectsAreListedInTheOrderOfTheTree() {
    List<ObjectList.SceneObject> all = ObjectList.of(SCENE);
    assertEquals(
        List.of("yard", "pine-1", "wood", "pine-2", "lamp"),
        all.stream().map(ObjectList.SceneObject::name).toList());
    assertEquals(
        List.of(-1, 0, 0, 2, -1), all.stream().map(ObjectList.SceneObject::parent).toList());
    assertEquals(ObjectList.Kind.LIGHT, all.get(4).kind());
    assertEquals(ObjectList.Kind.GROUP, all.get(2).kind());
  }
}
