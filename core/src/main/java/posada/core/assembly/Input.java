package posada.core.assembly;

import posada.core.scene.Track;

/**
 * A picture in a stack.
 *
 * @param id names it in its stack
 * @param strength 0 .. 1; to 16 where light is added
 * @param muted left out
 * @param solo shown alone, with others that are
 */
public record Input(
    String id,
    String name,
    Source source,
    Reading reading,
    Operator operator,
    Track strength,
    Mask mask,
    Corrections corrections,
    boolean muted,
    boolean solo) {
  private static final double MOST_ADDED = 16;

  public Input {
    if (id == null || !id.matches("[a-z0-9-]{1,20}")) {
      throw new IllegalArgumentException(
          "an input's id must be 1 .. 20 small letters, digits and dashes (got \"" + id + "\")");
    }
    if (name == null || name.isBlank() || name.length() > 80) {
      throw new IllegalArgumentException(
          "an input's name must be 1 .. 80 letters (got \"" + name + "\")");
    }
    if (source == null) {
      throw new IllegalArgumentException("input " + name + " needs a source");
    }
    strength.within("strength of " + name, 0, operator.beyondOne() ? MOST_ADDED : 1);
  }

  /** Returns an input that is put over what is below it. */
  public static Input of(String id, String name, Source source) {
    return new Input(
        id,
        name,
        source,
        Reading.AS_FILE,
        Operator.OVER,
        Track.of(1),
        Mask.NONE,
        Corrections.NONE,
        false,
        false);
  }

  public Input with(Operator o, double howMuch) {
    return with(o, Track.of(howMuch));
  }

  public Input with(Operator o, Track howMuch) {
    return new Input(id, name, source, reading, o, howMuch, mask, corrections, muted, solo);
  }

  /** Returns the same muted, or shown alone. */
  public Input with(boolean nowMuted, boolean nowSolo) {
    return new Input(
        id, name, source, reading, operator, strength, mask, corrections, nowMuted, nowSolo);
  }

  public Input with(Corrections c) {
    return new Input(id, name, source, reading, operator, strength, mask, c, muted, solo);
  }

  public Input with(Mask m) {
    return new Input(id, name, source, reading, operator, strength, m, corrections, muted, solo);
  }

  public Input with(Reading r) {
    return new Input(id, name, source, r, operator, strength, mask, corrections, muted, solo);
  }

  /** Returns the same under another name. */
  public Input named(String other) {
    return new Input(
        id, other, source, reading, operator, strength, mask, corrections, muted, solo);
  }

  /** Returns the same under another id. */
  public Input withId(String other) {
    return new Input(
        other, name, source, reading, operator, strength, mask, corrections, muted, solo);
  }
}
