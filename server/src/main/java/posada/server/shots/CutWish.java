package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.List;
import posada.core.plan.FrameRange;
import posada.formats.preview.PreviewRecipe;

/**
 * What is drawn of several shots.
 *
 * @param shots in their order; empty for all of the production
 * @param form what is made of them
 * @param frames only these of each shot; null for all
 * @param picks frames of each shot on a contact sheet: 3 for the first, one in the middle and the
 *     last; 0 for those that the recipe leaves, every Nth
 * @param recipe how they are drawn
 */
public record CutWish(
    List<Long> shots,
    Form form,
    @Schema(types = {"string", "null"}) String frames,
    int picks,
    PreviewRecipe recipe) {
  /** What is made. */
  public enum Form {
    /** One film of all. */
    FILM("mp4", "video/mp4"),
    /** A film of each, in a zip. */
    FILMS("zip", "application/zip"),
    /** A PNG of each frame, in a zip. */
    FRAMES("zip", "application/zip"),
    /** A contact sheet. */
    SHEET("png", "image/png"),
    /** A contact sheet of pages. */
    PAGES("pdf", "application/pdf");

    private final String ending;
    private final String type;

    Form(String ending, String type) {
      this.ending = ending;
      this.type = type;
    }

    String ending() {
      return ending;
    }

    String type() {
      return type;
    }

    boolean sheet() {
      return this == SHEET || this == PAGES;
    }
  }

  /** Most pictures of a contact sheet: some 400 MB while it is made. */
  private static final int MOST_TILES = 500;

  public CutWish {
    shots = shots == null ? List.of() : List.copyOf(shots);
    if (form == null || recipe == null) {
      throw new IllegalArgumentException("a preview needs a form and a recipe");
    }
    if (frames != null) {
      FrameRange.check(frames);
    }
    if (picks != 0 && picks != 3) {
      throw new IllegalArgumentException("picks must be 0 or 3 (got " + picks + ")");
    }
  }

  /** Returns the frames of a shot that are drawn: for one film of all those in the cut. */
  List<Integer> of(Shot s) {
    List<Integer> whole = PreviewService.whole(s.frames());
    List<Integer> all = new ArrayList<>(form == Form.FILM ? s.settings().inCut(whole) : whole);
    if (frames != null) {
      all.retainAll(FrameRange.parse(frames).frames());
    }
    if (form.sheet() && picks == 3 && !all.isEmpty()) {
      return List.of(all.get(0), all.get(all.size() / 2), all.get(all.size() - 1)).stream()
          .distinct()
          .toList();
    }
    return recipe.some(all);
  }

  /** Refuses more pictures than a contact sheet has room for. */
  void check(int total) {
    if (total == 0) {
      throw new IllegalArgumentException(
          frames == null
              ? "there is no shot to draw; make one first"
              : "no shot has any of the frames " + frames + "; choose others");
    }
    if (form.sheet() && total > MOST_TILES) {
      throw new IllegalArgumentException(
          "a contact sheet has at most "
              + MOST_TILES
              + " pictures (got "
              + total
              + "); take fewer frames");
    }
  }
}
