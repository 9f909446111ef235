package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;

class RemarksTest {
  private final Remarks remarks = new Remarks();

  private void flat(int from, int to) {
    for (int i = from; i < to; i++) {
      remarks.add("Mesh \"m" + i + "\" is flat.");
    }
  }

  @Test
  void fewAreToldEachAndNoneTwice() {
    flat(0, 2);
    flat(1, 2);
    remarks.add("The scene has no light.");
    assertEquals(
        List.of("Mesh \"m0\" is flat.", "Mesh \"m1\" is flat.", "The scene has no light."),
        remarks.sentences());
  }

  @Test
  void manyAlikeAreToldTogether() {
    flat(0, 2);
    remarks.add("Light \"a\" has intensity -1; 0 is used.");
    flat(2, 4);
    remarks.add("Light \"b\" has intensity -2; 0 is used.");
    remarks.add("Light \"c\" has intensity -3; 0 is used.");
    assertEquals(
        List.of(
            "Mesh \"m0\" is flat. Likewise \"m1\", \"m2\", \"m3\".",
            // What is different about each is told of each.
            "Light \"a\" has intensity -1; 0 is used.",
            "Light \"b\" has intensity -2; 0 is used.",
            "Light \"c\" has intensity -3; 0 is used."),
        remarks.sentences());
    flat(4, 500);
    assertEquals(
        "Mesh \"m0\" is flat. Likewise \"m1\", \"m2\", \"m3\", \"m4\", \"m5\" and 494 more.",
        remarks.sentences().get(0));
  }
}
