package posada.server.productions;

/** What hangs on a production; one part after the other in the order of {@link #order}. */
public interface ProductionPart {
  /** Returns which part comes first: the lowest. */
  int order();

  /** Makes what a new production begins with. */
  default void begin(Production p) {}

  /** Copies everything of one production into another but its runs. */
  void copy(Production from, Production to);
}
