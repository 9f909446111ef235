package posada.server.review;

import java.util.regex.Matcher;
import java.util.regex.Pattern;
import posada.server.app.NotFoundException;

/**
 * What is looked at: a strand of a run, or a sequence from elsewhere. Written as {@code strand-12}
 * or {@code sequence-3}.
 */
record FootageKey(Kind kind, long id) {
  private static final Pattern TEXT = Pattern.compile("(strand|sequence)-(\\d{1,18})");

  enum Kind {
    STRAND,
    SEQUENCE
  }

  static FootageKey strand(long id) {
    return new FootageKey(Kind.STRAND, id);
  }

  /**
   * Reads a key.
   *
   * @throws NotFoundException if it is none
   */
  static FootageKey of(String text) {
    Matcher m = TEXT.matcher(text);
    if (!m.matches()) {
      throw new NotFoundException("There is no sequence \"" + text + "\".");
    }
    return new FootageKey(
        Kind.valueOf(m.group(1).toUpperCase(java.util.Locale.ROOT)), Long.parseLong(m.group(2)));
  }

  @Override
  public String toString() {
    return kind.name().toLowerCase(java.util.Locale.ROOT) + "-" + id;
  }
}
