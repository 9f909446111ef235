package posada.server.board;

import java.nio.file.Files;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;
import posada.core.plan.Estimate;
import posada.core.plan.Finding;
import posada.core.plan.Preflight;
import posada.core.rig.RigScene;
import posada.core.trace.SceneLook;
import posada.formats.batch.PlanStrand;
import posada.formats.gltf.ImportException;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RigDocument;
import posada.server.board.StrandPlan.Ready;
import posada.server.definitions.Layers;
import posada.server.productions.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.ShotService;
import posada.server.storage.DataFolder;

/** Says what is wrong with strands before they are started. */
@Component
public class BatchChecks {
  private final StrandPlan plan;
  private final SceneLooks looks;
  private final ShotService shots;
  private final SceneService scenes;
  private final Layers layers;
  private final DataFolder folder;
  private final ObjectProvider<StrandFacts> known;
  private final Clock clock = Clock.systemUTC();

  BatchChecks(
      StrandPlan plan,
      SceneLooks looks,
      ShotService shots,
      SceneService scenes,
      Layers layers,
      DataFolder folder,
      ObjectProvider<StrandFacts> known) {
    this.plan = plan;
    this.looks = looks;
    this.shots = shots;
    this.scenes = scenes;
    this.layers = layers;
    this.folder = folder;
    this.known = known;
  }

  /**
   * What was found.
   *
   * @param pending strands whose frames nobody has looked at yet
   */
  public record Found(List<Finding> findings, int pending) {}

  /** Returns what is wrong with all strands of a production that are on. */
  public Found all(Production production) {
    List<Ready> on = plan.on(production.id());
    return check(on, notUsed(production, on));
  }

  /** Returns what is wrong with some strands. */
  public Found some(List<Ready> strands) {
    return check(strands, List.of());
  }

  private Found check(List<Ready> all, List<String> notUsed) {
    List<StrandFacts> who = known.stream().toList();
    List<Preflight.Proof> proofs =
        who.stream().map(k -> k.proofs(all)).filter(Objects::nonNull).findFirst().orElse(null);
    Set<String> rendered =
        who.stream().flatMap(k -> k.rendered(all).stream()).collect(Collectors.toSet());
    List<Preflight.Strand> facts = new ArrayList<>();
    int pending = 0;
    for (int i = 0; i < all.size(); i++) {
      Ready s = all.get(i);
      StrandDocument d = plan.document(s, 1);
      Optional<SceneLook> look = looks.find(d);
      pending += look == null ? 1 : 0;
      // Of others' files, if no run has written any.
      boolean taken = !rendered.contains(s.key()) && Files.exists(plan.folder(s, 1));
      PlanStrand.More more =
          new PlanStrand.More(
              look == null ? null : look.orElse(null),
              taken ? "v001" : null,
              proofs == null ? null : proofs.get(i),
              unfit(s.revision(), d));
      facts.add(PlanStrand.facts(d, s.revision().report(), s.key(), null, more));
    }
    Estimate.Result takes =
        who.stream().map(k -> k.takes(all)).filter(Objects::nonNull).findFirst().orElse(null);
    Instant deadline = all.isEmpty() ? null : all.get(0).production().deadline();
    Preflight.Batch batch =
        new Preflight.Batch(
            Runtime.getRuntime().maxMemory(),
            folder.freeBytes(),
            takes == null ? null : takes.bytes(),
            takes == null ? null : takes.seconds(),
            deadline == null
                ? null
                : Double.valueOf(Duration.between(clock.instant(), deadline).toMillis() / 1e3),
            notUsed);
    return new Found(Preflight.check(facts, batch), pending);
  }

  /** Returns why a camera of the rig does not fit its scene; null if it does. */
  private String unfit(Revision r, StrandDocument d) {
    RigDocument rig = d.settings().rig();
    if (rig == null || rig.cameras().stream().noneMatch(c -> c.name().equals(d.camera()))) {
      return null;
    }
    try {
      return scenes.fit(r).stream()
          .filter(u -> u.kind().equals("camera") && u.name().equals(d.camera()))
          .map(RigScene.Unfit::why)
          .findFirst()
          .orElse(null);
    } catch (ImportException e) {
      // What the scene lacks is told by whoever renders it.
      return null;
    }
  }

  private List<String> notUsed(Production production, List<Ready> on) {
    Set<Long> shotsOn = on.stream().map(s -> s.shot().id()).collect(Collectors.toSet());
    Set<Long> layersOn = on.stream().map(Ready::layerId).collect(Collectors.toSet());
    Set<String> idle = new TreeSet<>();
    layers.all(production.id()).stream()
        .filter(l -> !layersOn.contains(l.id()))
        .forEach(l -> idle.add("layer " + l.name()));
    shots.all(production.id()).stream()
        .filter(s -> !shotsOn.contains(s.id()))
        .forEach(s -> idle.add("shot " + s.name()));
    return List.copyOf(idle);
  }
}
