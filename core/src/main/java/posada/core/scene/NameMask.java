package posada.core.scene;

/** A pattern of names: {@code *} stands for any letters, {@code ?} for one. */
public final class NameMask {
  private NameMask() {}

  /** Returns true if the whole name fits. */
  public static boolean fits(String pattern, String name) {
    int p = 0;
    int n = 0;
    int star = -1;
    int from = 0;
    while (n < name.length()) {
      char c = p < pattern.length() ? pattern.charAt(p) : 0;
      if (c == '*') {
        star = p++;
        from = n;
      } else if (c != 0 && (c == '?' || c == name.charAt(n))) {
        p++;
        n++;
      } else if (star >= 0) {
        // The last star takes one letter more.
        p = star + 1;
        n = ++from;
      } else {
        return false;
      }
    }
    while (p < pattern.length() && pattern.charAt(p) == '*') {
      p++;
    }
    return p == pattern.length();
  }
}
