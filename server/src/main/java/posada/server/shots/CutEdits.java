package posada.server.shots;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.NamePattern;
import posada.core.plan.ShotNames;
import posada.formats.settings.ShotDocument;
import posada.server.app.ConflictException;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;

/**
 * Changes of the cut that are about more than one shot, or make one of another; each is one step.
 */
@Service
public class CutEdits {
  private final ShotService shots;
  private final ShotRepository repository;
  private final StrandRepository strands;
  private final SceneService scenes;

  CutEdits(
      ShotService shots, ShotRepository repository, StrandRepository strands, SceneService scenes) {
    this.shots = shots;
    this.repository = repository;
    this.strands = strands;
    this.scenes = scenes;
  }

  /** From which frame on a camera is seen. */
  public record Bound(int frame, String camera) {}

  /**
   * Makes a shot of each stretch that a camera is seen in.
   *
   * @param bound by their frames, rising
   * @param last frame of the last
   * @param handles frames more at each end, as far as there are any
   */
  @Transactional
  public List<Shot> cut(long revisionId, List<Bound> bound, int last, int handles) {
    Revision r = scenes.revision(revisionId);
    if (bound.isEmpty()) {
      throw new IllegalArgumentException(
          "a cut needs a camera and the frame from which it is seen");
    }
    for (int i = 0; i < bound.size(); i++) {
      shots.checkCamera(r, bound.get(i).camera());
      int next = i + 1 < bound.size() ? bound.get(i + 1).frame() : last + 1;
      if (next <= bound.get(i).frame()) {
        throw new IllegalArgumentException(
            i + 1 < bound.size()
                ? "frames must rise from camera to camera (got "
                    + bound.get(i).frame()
                    + " before "
                    + next
                    + ")"
                : "the cut must end after "
                    + bound.get(i).camera()
                    + " begins at frame "
                    + bound.get(i).frame()
                    + " (got "
                    + last
                    + ")");
      }
    }
    List<Shot> made = new ArrayList<>();
    for (int i = 0; i < bound.size(); i++) {
      Shot s = shots.add(revisionId, bound.get(i).camera());
      int in = bound.get(i).frame();
      int out = (i + 1 < bound.size() ? bound.get(i + 1).frame() : last + 1) - 1;
      int head = Math.min(handles, Math.max(0, in - r.first()));
      ShotDocument d = s.settings().withHandles(head, handles);
      int first = in - head, end = out + handles;
      String frames = first == end ? "" + first : first + "-" + end;
      Shot ranged = repository.change(s.with(frames, s.scale(), s.recipeId()).with(s.camera(), d));
      shots.recorded(r.productionId(), s, ranged);
      made.add(ranged);
    }
    return made;
  }

  /** Makes another shot like one, with its strands, behind all others. */
  @Transactional
  public Shot copy(long id) {
    Shot s = shots.find(id);
    long production = shots.productionOf(s).id();
    int place = shots.all(production).stream().mapToInt(Shot::place).max().orElse(-1) + 1;
    Shot made = repository.add(production, s.named(shots.free(production, s.name())).at(place));
    shots.recorded(production, null, made);
    for (Strand t : strands.all(production)) {
      if (t.shotId() == id) {
        strands.put(
            new Strand(
                0, made.id(), t.layerId(), t.on(), t.recipeId(), t.deliveryId(), t.passes()));
      }
    }
    return made;
  }

  /**
   * Gives shots names by a pattern.
   *
   * @param ids of shots, in the order in which they are counted
   * @param first number of the first
   * @param step from one number to the next
   * @param take false to only say what they would be called
   * @return the names
   */
  @Transactional
  public List<String> rename(
      long production, List<Long> ids, String pattern, int first, int step, boolean take) {
    List<Shot> all = ids.stream().map(shots::find).toList();
    List<ShotNames.Facts> facts =
        all.stream()
            .map(
                s ->
                    new ShotNames.Facts(
                        s.name(), s.camera(), scenes.revision(s.revisionId()).scene()))
            .toList();
    List<String> names = ShotNames.of(pattern, facts, first, step);
    refuseTaken(production, ids, names);
    if (take) {
      // What one is called now another may be called next, on the way back too.
      ids.forEach(id -> name(production, id, "." + id));
      for (int i = 0; i < ids.size(); i++) {
        name(production, ids.get(i), names.get(i));
      }
    }
    return names;
  }

  private void name(long production, long id, String name) {
    Shot s = shots.find(id);
    shots.recorded(production, s, repository.change(s.named(name)));
  }

  private void refuseTaken(long production, List<Long> ids, List<String> names) {
    Map<String, String> taken = new HashMap<>();
    for (Shot s : shots.all(production)) {
      if (!ids.contains(s.id())) {
        taken.put(NamePattern.folded(s.name()), s.name());
      }
    }
    for (String n : names) {
      String other = taken.put(NamePattern.folded(n), n);
      if (other != null) {
        throw new ConflictException(
            "\"" + n + "\" would share its folder with \"" + other + "\"; write another pattern.");
      }
    }
  }
}
