package posada.formats.ledger;

/** How a frame of a strand stands. */
public enum Standing {
  /** Its files are made from what is asked for now. */
  FRESH('F'),
  /** What it was made from has changed. */
  STALE('S'),
  /** It has not been rendered, or its files are gone. */
  MISSING('M'),
  /** Somebody said that it is not right. */
  SUSPECT('U'),
  /** It is stale and somebody said that it is good enough. */
  KEPT('K'),
  /** It is rendered, and what it is made from is still being compared. */
  UNKNOWN('?');

  private final char letter;

  Standing(char letter) {
    this.letter = letter;
  }

  /** Returns the letter that stands for it where there are many. */
  public char letter() {
    return letter;
  }

  /** Returns true if a run leaves it as it is. */
  public boolean good() {
    return this == FRESH || this == KEPT;
  }
}
