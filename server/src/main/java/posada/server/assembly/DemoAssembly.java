package posada.server.assembly;

import java.util.ArrayList;
import java.util.List;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.event.TransactionalEventListener;
import posada.core.assembly.Input;
import posada.core.assembly.Operator;
import posada.core.assembly.Stack;
import posada.core.assembly.StartingMix;
import posada.core.scene.Track;
import posada.formats.assembly.FilmOutput;
import posada.server.app.PosadaProperties;
import posada.server.assembly.FilmService.NewFilm;
import posada.server.assembly.FilmService.NewSegment;
import posada.server.assembly.Sources.Offered;
import posada.server.definitions.Definition;
import posada.server.definitions.Stacks;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/** Puts the demo production's first shot together when it is rendered, and makes a film of it. */
@Component
class DemoAssembly {
  private static final Logger LOG = LoggerFactory.getLogger(DemoAssembly.class);
  private static final String NAME = "night-cut";

  private final PosadaProperties properties;
  private final RunService runs;
  private final Sources sources;
  private final Stacks stacks;
  private final FilmService films;

  DemoAssembly(
      PosadaProperties properties,
      RunService runs,
      Sources sources,
      Stacks stacks,
      FilmService films) {
    this.properties = properties;
    this.runs = runs;
    this.sources = sources;
    this.stacks = stacks;
    this.films = films;
  }

  @TransactionalEventListener(fallbackExecution = true)
  void rendered(RunService.StrandEnded e) {
    if (!properties.demo().isBlank()) {
      // Not in what is being committed.
      new Thread(() -> begin(e.strandId()), "demo-assembly").start();
    }
  }

  private void begin(long strand) {
    RunStrand s = runs.find(strand);
    long p = s.productionId();
    if (!stacks.all(p).isEmpty() || !films.all(p).isEmpty() || s.fresh() == 0) {
      return;
    }
    try {
      Offered o = sources.all(p).get(0);
      Stack stack = new Stack(o.width(), o.height(), o.rate(), o.frames(), inputs(s, o));
      Definition<Stack> d = stacks.add(p, NAME, stack);
      NewSegment part = new NewSegment(s.shot(), d.id(), null, null);
      films.start(new NewFilm(p, NAME, 0, 0, List.of(part), FilmOutput.DEFAULT));
    } catch (RuntimeException failed) {
      LOG.warn("the demo production has no assembly", failed);
    }
  }

  /** The parts of the light, occlusion multiplied in, and a glow that rises. */
  private List<Input> inputs(RunStrand s, Offered o) {
    List<Input> all = new ArrayList<>();
    for (StartingMix.Mix m : sources.mixes(s.productionId(), s.shotId(), s.layerId())) {
      switch (m.kind()) {
        case PARTS -> all.addAll(m.inputs());
        case OCCLUSION -> all.addAll(0, m.inputs());
        case GLOW -> m.inputs().forEach(in -> all.add(0, rising(in, o.rate())));
        default -> {}
      }
    }
    List<Input> numbered = new ArrayList<>();
    for (int i = 0; i < all.size(); i++) {
      numbered.add(all.get(i).withId(Integer.toString(all.size() - i)));
    }
    return numbered;
  }

  private static Input rising(Input in, double rate) {
    Track strength = new Track(new double[] {1 / rate, 72 / rate}, new double[] {0.3, 1});
    return in.with(Operator.ADD, strength);
  }
}
