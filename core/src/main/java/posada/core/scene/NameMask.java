package posada.core.scene;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** A pattern of names: {@code *} stands for any letters, {@code ?} for one. */
public final class NameMask {
  private NameMask() {}

  /**
   * What fits nodes.
   *
   * @param list for each node the number of the first list with a pattern that its name fits; else
   *     that of its parent; -1 if there is none
   * @param from for each node the number of the node whose name fitted, itself or one above it; -1
   *     if there is none
   */
  public record Fitting(int[] list, int[] from) {}

  /** Returns which of several lists of patterns fit the names of nodes, or those above them. */
  public static Fitting fitting(List<Node> nodes, Collection<List<String>> lists) {
    // A list may name thousands of objects one by one.
    Map<String, Integer> names = new HashMap<>();
    List<Map.Entry<String, Integer>> masks = new ArrayList<>();
    int k = 0;
    for (List<String> patterns : lists) {
      for (String p : patterns) {
        if (isMask(p)) {
          masks.add(Map.entry(p, k));
        } else {
          names.putIfAbsent(p, k);
        }
      }
      k++;
    }
    int[] list = new int[nodes.size()];
    int[] from = new int[nodes.size()];
    for (int i = 0; i < list.length; i++) {
      String name = nodes.get(i).name();
      int first = names.getOrDefault(name, Integer.MAX_VALUE);
      for (Map.Entry<String, Integer> m : masks) {
        if (m.getValue() < first && fits(m.getKey(), name)) {
          first = m.getValue();
          break;
        }
      }
      // Parents come before their children.
      int parent = nodes.get(i).parent();
      boolean own = first < Integer.MAX_VALUE;
      list[i] = own ? first : parent < 0 ? -1 : list[parent];
      from[i] = own ? i : parent < 0 ? -1 : from[parent];
    }
    return new Fitting(list, from);
  }

  /** Returns {@link Fitting#list}. */
  public static int[] inherited(List<Node> nodes, Collection<List<String>> lists) {
    return fitting(nodes, lists).list;
  }

  /** Returns true if it may stand for more than one name. */
  public static boolean isMask(String pattern) {
    return pattern.indexOf('*') >= 0 || pattern.indexOf('?') >= 0;
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
