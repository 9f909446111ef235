package posada.core.scene;

import java.util.Collection;
import java.util.List;

/** A pattern of names: {@code *} stands for any letters, {@code ?} for one. */
public final class NameMask {
  private NameMask() {}

  /**
   * Returns for each node the number of the first list with a pattern that its name fits; else that
   * of its parent; -1 if there is none.
   */
  public static int[] inherited(List<Node> nodes, Collection<List<String>> lists) {
    int[] of = new int[nodes.size()];
    for (int i = 0; i < of.length; i++) {
      String name = nodes.get(i).name();
      int k = 0;
      of[i] = -1;
      for (List<String> patterns : lists) {
        if (patterns.stream().anyMatch(p -> fits(p, name))) {
          of[i] = k;
          break;
        }
        k++;
      }
      // Parents come before their children.
      int parent = nodes.get(i).parent();
      if (of[i] < 0 && parent >= 0) {
        of[i] = of[parent];
      }
    }
    return of;
  }

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
