package posada.server.changes;

/** A kind of thing whose changes can be undone. */
public interface Changeable {
  /** Returns the name of the kind, such as {@code shot}. */
  String kind();

  /**
   * Returns a thing's state now, as it is recorded; null if it is not there.
   *
   * @param id of the thing
   */
  String state(long id);

  /**
   * Brings a thing to a state.
   *
   * @param state as it was recorded; null to remove the thing
   */
  void bring(long id, String state);
}
