package posada.server.productions;

/** Copies what hangs on a production into another; in the order of {@link #order}. */
public interface ProductionCopier {
  /** Returns what is copied first: the lowest. */
  int order();

  /** Copies everything of one production but its runs. */
  void copy(Production from, Production to);
}
