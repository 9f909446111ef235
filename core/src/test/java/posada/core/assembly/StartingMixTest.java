package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import posada.core.assembly.StartingMix.Kind;
import posada.core.assembly.StartingMix.Mix;
import posada.core.assembly.StartingMix.Rendered;

class StartingMixTest {
  private static Map<Kind, Mix> mixes(List<Rendered> layers, Rendered chosen) {
    return StartingMix.all(layers, chosen, 1280).stream()
        .collect(Collectors.toMap(Mix::kind, m -> m));
  }

  private static Rendered main(String... passes) {
    return new Rendered(
        "shot-1.layer-1", "main", List.of(passes), List.of("sheen"), LayerMerge.How.OVER);
  }

  @Test
  void onlyWhatWasRenderedIsMixed() {
    Rendered r = main("beauty", "depth");
    assertEquals(Map.of(), mixes(List.of(r), r));
  }

  @Test
  void partsAreAddedAndWhatIsDarkIsLeftOut() {
    Rendered r = main("beauty", "diffuse-direct", "sheen", "emission", "environment");
    Mix m = mixes(List.of(r), r).get(Kind.PARTS);
    assertEquals(
        List.of("environment", "emission", "diffuse-direct"),
        m.inputs().stream().map(Input::name).toList());
    assertTrue(m.inputs().stream().allMatch(i -> i.operator() == Operator.ADD));
    assertTrue(m.why().get(1).contains("No light was found in sheen"), m.why() + "");
  }

  @Test
  void lightGroupsGetAFaderEach() {
    Rendered r = main("beauty", "light-lamps", "light-rest");
    Mix m = mixes(List.of(r), r).get(Kind.LIGHT_GROUPS);
    assertEquals(
        List.of("light-lamps", "light-rest"), m.inputs().stream().map(Input::name).toList());
  }

  @Test
  void layersLieInTheirOrder() {
    Rendered sky = new Rendered("s", "sky", List.of("beauty"), List.of(), LayerMerge.How.OVER);
    Rendered car = new Rendered("c", "car", List.of("beauty"), List.of(), LayerMerge.How.ADD);
    Rendered fog = new Rendered("f", "fog", List.of("beauty"), List.of(), LayerMerge.How.OVER);
    Mix m = mixes(List.of(sky, car, fog), sky).get(Kind.LAYERS);
    assertEquals(List.of("fog", "car", "sky"), m.inputs().stream().map(Input::name).toList());
    assertEquals(
        List.of(Operator.OVER, Operator.ADD, Operator.OVER),
        m.inputs().stream().map(Input::operator).toList());
    assertTrue(m.why().get(1).contains("hold out"), m.why() + "");
  }

  @Test
  void occlusionGlowAndEnvironment() {
    Rendered r = main("beauty", "diffuse-direct", "emission", "environment", "ambient-occlusion");
    Map<Kind, Mix> all = mixes(List.of(r), r);
    Input occlusion = all.get(Kind.OCCLUSION).inputs().get(0);
    assertEquals(Operator.MULTIPLY, occlusion.operator());
    assertEquals(0.5, occlusion.strength().at(0));
    Input glow = all.get(Kind.GLOW).inputs().get(0);
    assertTrue(glow.corrections().glow().alone());
    assertEquals(3, glow.corrections().glow().rings().size());
    List<Input> behind = all.get(Kind.ENVIRONMENT).inputs();
    Input lowest = behind.get(behind.size() - 1);
    assertEquals("environment", lowest.name());
    assertTrue(lowest.mask().invert() && lowest.corrections().blur().at(0) > 0);
  }

  @Test
  void partsThatDoNotAddUpAreFoundAtTheirWorstPixel() {
    Picture beauty = new Picture(4, 4), part = new Picture(4, 4);
    for (int j = 0; j < 3; j++) {
      java.util.Arrays.fill(beauty.c()[j], .5f);
      java.util.Arrays.fill(part.c()[j], .25f);
    }
    assertEquals(0, Rebuild.ofParts(beauty, List.of(part, part)).apart(), 1e-7);
    Picture wrong = part.copy();
    wrong.c()[1][6] = .75f;
    Rebuild r = Rebuild.ofParts(beauty, List.of(part, wrong));
    assertEquals(.5, r.most(), 1e-6);
    assertEquals(2, r.x());
    assertEquals(1, r.y());
    assertEquals(8, r.difference().c()[1][6], 1e-4);
  }
}
