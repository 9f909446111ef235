package posada.core.plan;

/** The order of frames in which faults anywhere in a range show early. */
public final class Comb {
  private Comb() {}

  /**
   * Returns the rank of a frame: the first, the last, then those in the middle of what is left, and
   * so on, ever finer (the van der Corput sequence in base 2).
   *
   * @param i the frame's place, 0 .. n - 1
   * @param n number of frames, at least 1
   * @return 0 or more, different for each place
   */
  public static int rank(int i, int n) {
    int bits = 32 - Integer.numberOfLeadingZeros(n);
    return i == n - 1 && i > 0 ? 1 : Integer.reverse(i) >>> (32 - bits) << 1;
  }
}
