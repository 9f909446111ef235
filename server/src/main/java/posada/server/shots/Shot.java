package posada.server.shots;

import java.util.List;
import posada.core.plan.FrameRange;
import posada.core.settings.Limits;
import posada.formats.settings.ShotDocument;

/**
 * A camera with a frame range, size and settings.
 *
 * @param version counts changes, for noticing two at once
 * @param frames as written, such as {@code 1-96x4}
 * @param scale percent of the size: 25, 50 or 100
 * @param place among the others, from 0
 * @param recipeId how well it is rendered, where neither strand nor layer says otherwise
 * @param deliveryId how it is written, likewise
 * @param settings what else it says about its pictures
 */
public record Shot(
    long id,
    int version,
    long revisionId,
    String name,
    String camera,
    String frames,
    int width,
    int height,
    int scale,
    int place,
    long recipeId,
    long deliveryId,
    ShotDocument settings) {
  /** Most letters of a name. */
  static final int LONGEST_NAME = 100;

  public Shot {
    if (name == null || name.isBlank() || name.length() > LONGEST_NAME) {
      throw new IllegalArgumentException("a shot's name needs 1 .. 100 letters");
    }
    if (camera == null || frames == null || settings == null) {
      throw new IllegalArgumentException("a shot needs a camera, frames and settings");
    }
    FrameRange.check(frames);
    if (!List.of(25, 50, 100).contains(scale)) {
      throw new IllegalArgumentException("scale must be 25, 50 or 100 % (got " + scale + ")");
    }
    side("width", width);
    side("height", height);
  }

  private static void side(String what, int pixels) {
    if (pixels < 16 || pixels > Limits.MAX_SIDE) {
      throw new IllegalArgumentException(
          what + " must be 16 .. " + Limits.MAX_SIDE + " px (got " + pixels + ")");
    }
  }

  public int scaledWidth() {
    return Math.max(1, Math.round(width * scale / 100f));
  }

  public int scaledHeight() {
    return Math.max(1, Math.round(height * scale / 100f));
  }

  /** A size in pixels. */
  public record Size(int width, int height) {}

  /**
   * Returns the size of a smaller picture of the same shape.
   *
   * @param most pixels of the longest side; the shot's own size if that is no larger
   */
  public Size within(int most) {
    double fit = Math.min(1, most / (double) Math.max(scaledWidth(), scaledHeight()));
    return new Size(
        Math.max(1, (int) Math.round(scaledWidth() * fit)),
        Math.max(1, (int) Math.round(scaledHeight() * fit)));
  }

  /** Returns the same shot with other frames and of another size. */
  public Shot with(String otherFrames, int otherWidth, int otherHeight, int otherScale) {
    return new Shot(
        id,
        version,
        revisionId,
        name,
        camera,
        otherFrames,
        otherWidth,
        otherHeight,
        otherScale,
        place,
        recipeId,
        deliveryId,
        settings);
  }

  /** Returns the same shot through another camera, with other settings. */
  public Shot with(String otherCamera, ShotDocument otherSettings) {
    return new Shot(
        id,
        version,
        revisionId,
        name,
        otherCamera,
        frames,
        width,
        height,
        scale,
        place,
        recipeId,
        deliveryId,
        otherSettings);
  }

  /** Returns the same shot with another version. */
  Shot with(int otherVersion) {
    return new Shot(
        id,
        otherVersion,
        revisionId,
        name,
        camera,
        frames,
        width,
        height,
        scale,
        place,
        recipeId,
        deliveryId,
        settings);
  }

  /** Returns the same shot under another name. */
  Shot named(String other) {
    return new Shot(
        id,
        version,
        revisionId,
        other,
        camera,
        frames,
        width,
        height,
        scale,
        place,
        recipeId,
        deliveryId,
        settings);
  }

  /** Returns the same shot at another place. */
  Shot at(int otherPlace) {
    return new Shot(
        id,
        version,
        revisionId,
        name,
        camera,
        frames,
        width,
        height,
        scale,
        otherPlace,
        recipeId,
        deliveryId,
        settings);
  }

  /** Returns the same shot of another revision, with other numbers for recipe and delivery. */
  Shot at(long newRevision, long recipe, long delivery) {
    return new Shot(
        id,
        version,
        newRevision,
        name,
        camera,
        frames,
        width,
        height,
        scale,
        place,
        recipe,
        delivery,
        settings);
  }

  /** Returns the same shot with other frames, scale and recipe. */
  public Shot with(String otherFrames, int otherScale, long recipe) {
    return new Shot(
        id,
        version,
        revisionId,
        name,
        camera,
        otherFrames,
        width,
        height,
        otherScale,
        place,
        recipe,
        deliveryId,
        settings);
  }
}
