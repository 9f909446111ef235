package posada.server.definitions;

/**
 * Something that a production makes under a name, for many shots.
 *
 * @param version counts changes, for noticing two at once
 * @param place among the others, from 0
 * @param document what it says
 */
public record Definition<D>(
    long id, int version, long productionId, String name, int place, D document) {
  /** Letters of a name that there is room for. */
  static final int LONGEST_NAME = 40;

  public Definition {
    if (name == null || !name.matches("[a-z0-9][a-z0-9_-]{0,39}")) {
      throw new IllegalArgumentException(
          "a name must be 1 .. "
              + LONGEST_NAME
              + " small letters, digits, dashes and underscores (got \""
              + name
              + "\")");
    }
    if (document == null) {
      throw new IllegalArgumentException("\"" + name + "\" needs a document");
    }
  }

  /** Returns the same saying something else. */
  public Definition<D> with(D other) {
    return new Definition<>(id, version, productionId, name, place, other);
  }

  Definition<D> with(int otherVersion) {
    return new Definition<>(id, otherVersion, productionId, name, place, document);
  }
}
