package posada.server.changes;

import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.context.request.RequestAttributes;
import org.springframework.web.context.request.RequestContextHolder;
import org.springframework.web.context.request.ServletRequestAttributes;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.NotFoundException;
import posada.server.app.Pushed;

/**
 * Records every change with the window that made it, and takes back a window's own changes, the
 * newest first. A change that another window has overtaken is told and left alone.
 */
@Service
public class ChangeLog {
  /** Header by which a window names itself. */
  public static final String WINDOW = "X-Window";

  private static final String STEP = ChangeLog.class.getName();

  /** Letters of a sentence that there is room for. */
  private static final int LONGEST = 400;

  private static final int DAYS_KEPT = 30;

  /** Who changes things without a window: the server itself. */
  private static final String NOBODY = "server";

  private final ChangeRepository changes;
  private final ObjectProvider<Changeable> kinds;
  private final EventHub events;

  ChangeLog(ChangeRepository changes, ObjectProvider<Changeable> kinds, EventHub events) {
    this.changes = changes;
    this.kinds = kinds;
    this.events = events;
  }

  private Changeable kind(String name) {
    return kinds.stream().filter(k -> k.kind().equals(name)).findFirst().orElseThrow();
  }

  private static Optional<ServletRequestAttributes> request() {
    return RequestContextHolder.getRequestAttributes() instanceof ServletRequestAttributes r
        ? Optional.of(r)
        : Optional.empty();
  }

  private static String window() {
    return request().map(r -> r.getRequest().getHeader(WINDOW)).orElse(NOBODY);
  }

  /**
   * Records a change; all changes of one request are one step.
   *
   * @param before state before it; null if the thing was not there
   * @param after state after it; null if it is removed
   * @param sentence what was changed, such as {@code frames of shot valley-wide}
   */
  public void record(
      long production, String kind, long id, String before, String after, String sentence) {
    if (Objects.equals(before, after)) {
      return;
    }
    String window = window();
    Optional<ServletRequestAttributes> request = request();
    Long step =
        request.map(r -> (Long) r.getAttribute(STEP, RequestAttributes.SCOPE_REQUEST)).orElse(null);
    if (step == null) {
      changes.forgetUndone(production, window);
    }
    long own =
        changes.add(
            production,
            step,
            window,
            kind,
            id,
            before,
            after,
            sentence.substring(0, Math.min(LONGEST, sentence.length())));
    request.ifPresent(r -> r.setAttribute(STEP, own, RequestAttributes.SCOPE_REQUEST));
    events.publish(new Told(production, window, sentence));
  }

  /**
   * Returns why a change is refused: somebody else has changed the thing since it was read.
   *
   * @param what such as {@code recipe "medium"}
   */
  public ConflictException overtaken(String kind, long id, String what) {
    String who =
        changes
            .newestElsewhere(kind, id, window())
            .map(c -> mark(c.window()) + " has changed " + c.sentence())
            .orElse("something else has changed it");
    return new ConflictException(
        "The "
            + what
            + " is not changed: "
            + who
            + " meanwhile. Look at it as it is, then change it again.");
  }

  /** Returns how a window is called in sentences; pages show the same four signs. */
  private static String mark(String window) {
    return window.equals(NOBODY)
        ? "the server"
        : "window " + window.substring(0, Math.min(4, window.length())).toUpperCase(Locale.ROOT);
  }

  /** Forgets what nobody will undo any more. */
  @Scheduled(fixedRate = 1, timeUnit = TimeUnit.DAYS)
  void forgetOld() {
    changes.forgetBefore(Instant.now().minus(DAYS_KEPT, ChronoUnit.DAYS));
  }

  /** What every window is told of a change. */
  @Pushed("change")
  public record Told(long productionId, String window, String sentence) {}

  /**
   * What can be undone and done again in a window.
   *
   * @param undo what undo would take back; null if there is nothing
   * @param redo what redo would do again; null if there is nothing
   */
  public record Steps(
      @Schema(types = {"string", "null"}) String undo,
      @Schema(types = {"string", "null"}) String redo) {}

  Steps steps(long production, String window) {
    return new Steps(
        sentence(changes.lastDone(production, window)),
        sentence(changes.firstUndone(production, window)));
  }

  private static String sentence(List<Change> step) {
    if (step.isEmpty()) {
      return null;
    }
    int more = step.size() - 1;
    return step.get(step.size() - 1).sentence() + (more > 0 ? " and " + more + " more" : "");
  }

  /** Takes a window's newest step back; returns what it was. */
  @Transactional(noRollbackFor = ConflictException.class)
  Done undo(long production, String window) {
    List<Change> step = changes.lastDone(production, window);
    if (step.isEmpty()) {
      throw new NotFoundException("There is nothing to undo in this window.");
    }
    check(step, Change::after, window, "undone");
    step.forEach(c -> kind(c.kind()).bring(c.entityId(), c.before()));
    changes.mark(step.get(0).step(), true);
    return new Done(sentence(step));
  }

  /** Does again what a window has undone; returns what it was. */
  @Transactional(noRollbackFor = ConflictException.class)
  Done redo(long production, String window) {
    List<Change> step = changes.firstUndone(production, window);
    if (step.isEmpty()) {
      throw new NotFoundException("There is nothing to redo in this window.");
    }
    check(step, Change::before, window, "redone");
    step.forEach(c -> kind(c.kind()).bring(c.entityId(), c.after()));
    changes.mark(step.get(0).step(), false);
    return new Done(sentence(step));
  }

  /** What was undone or redone. */
  record Done(String sentence) {}

  /** Refuses a step one of whose things is not as the step left it, and forgets the step. */
  private void check(
      List<Change> step, Function<Change, String> expected, String window, String what) {
    Set<List<Object>> seen = new HashSet<>();
    for (Change c : step) {
      // Of what a step changed several times the change next to now tells.
      if (seen.add(List.of(c.kind(), c.entityId()))
          && !Objects.equals(kind(c.kind()).state(c.entityId()), expected.apply(c))) {
        changes.forget(c.step());
        String why =
            changes
                .newestElsewhere(c.kind(), c.entityId(), window)
                .map(o -> mark(o.window()) + " changed it since (" + o.sentence() + ")")
                .orElse("it has changed since");
        throw new ConflictException(
            "Not " + what + ": " + sentence(step) + "; " + why + ". Change it by hand.");
      }
    }
  }
}
