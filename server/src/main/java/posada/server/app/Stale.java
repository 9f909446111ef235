package posada.server.app;

/** A list that has changed; who shows it asks for it again. */
@Pushed("stale")
public record Stale(Kind list) {
  /** The lists. */
  public enum Kind {
    PRODUCTIONS,
    REVISIONS,
    SHOTS,
    LAYERS,
    RECIPES,
    DELIVERIES,
    PASSSETS,
    STRANDS,
    PROOFS,
    CHECKS,
    WHATIF,
    SNAPSHOTS,
    SEQUENCES,
    REMARKS,
    APPROVALS,
    SEQUENCECHECKS,
    STACKS,
    FILMS,
    HANDOVERS,
    RIGS
  }
}
