package posada.server.shots;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import posada.formats.settings.ShotDocument;

/** Says in a few words what is not the same in two states of a shot. */
final class ShotDifference {
  private ShotDifference() {}

  /**
   * Returns for instance {@code frames and size of shot valley-wide}.
   *
   * @param before null if the shot was not there
   * @param after null if it is removed
   */
  static String of(Shot before, Shot after) {
    if (before == null) {
      return "new shot " + after.name();
    }
    if (after == null) {
      return "removal of shot " + before.name();
    }
    Set<String> what = new LinkedHashSet<>();
    differ(what, "name", before, after, Shot::name);
    differ(what, "camera", before, after, Shot::camera);
    differ(what, "scene revision", before, after, Shot::revisionId);
    differ(what, "frames", before, after, Shot::frames);
    differ(what, "size", before, after, s -> s.width() + "x" + s.height());
    differ(what, "scale", before, after, Shot::scale);
    differ(what, "place", before, after, Shot::place);
    differ(what, "recipe", before, after, Shot::recipeId);
    differ(what, "delivery", before, after, Shot::deliveryId);
    ShotDocument a = before.settings(), b = after.settings();
    differ(what, "lens", a, b, ShotDocument::lens);
    differ(what, "shutter", a, b, ShotDocument::shutter);
    differ(what, "region", a, b, ShotDocument::crop);
    differ(what, "animation", a, b, ShotDocument::clips);
    differ(what, "handles", a, b, d -> List.of(d.headHandle(), d.tailHandle()));
    String all = what.isEmpty() ? "settings" : String.join(", ", what);
    return all.replaceFirst(", ([^,]*)$", " and $1") + " of shot " + after.name();
  }

  private static <T> void differ(
      Set<String> out, String what, T before, T after, Function<T, Object> part) {
    if (!Objects.equals(text(part.apply(before)), text(part.apply(after)))) {
      out.add(what);
    }
  }

  /** Numbers over time are arrays, which know no equality. */
  private static String text(Object part) {
    return part == null ? null : posada.formats.settings.Documents.write(part);
  }
}
