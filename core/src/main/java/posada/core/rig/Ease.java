package posada.core.rig;

/** How a value goes from one key to the next. */
public enum Ease {
  /** Held until the next key. */
  STEP,
  /** At an even speed. */
  LINEAR,
  /** Leaves at rest and comes to rest: {@code 3f² - 2f³} of the way at the fraction f. */
  EASED,
  /** Passes through keys without stopping; at rest at the first and the last. */
  SMOOTH
}
