package posada.core.rig;

import java.util.List;
import java.util.Locale;

/** Refusing numbers that would do harm, in words. */
final class Bounded {
  private Bounded() {}

  static double within(String what, double v, double least, double most, String unit) {
    if (!(v >= least && v <= most)) {
      throw new IllegalArgumentException(
          what
              + " must be "
              + plain(least)
              + " .. "
              + plain(most)
              + (unit.isEmpty() ? "" : " " + unit)
              + " (got "
              + plain(v)
              + ")");
    }
    return v;
  }

  static List<Double> numbers(String what, List<Double> v, int count, double most, String unit) {
    if (v == null || v.size() != count || v.stream().anyMatch(x -> x == null)) {
      throw new IllegalArgumentException(what + " must be " + count + " numbers (got " + v + ")");
    }
    v.forEach(x -> within("each number of a " + what, x, -most, most, unit));
    return List.copyOf(v);
  }

  static String name(String what, String name) {
    if (name == null || name.isBlank() || name.length() > 80) {
      throw new IllegalArgumentException(
          what + " needs a name of 1 .. 80 letters (got \"" + name + "\")");
    }
    return name;
  }

  static List<RigKey> keys(String what, List<RigKey> keys, int least) {
    if (keys == null || keys.size() < least || keys.size() > 10_000) {
      throw new IllegalArgumentException(
          what
              + " needs "
              + least
              + " .. 10000 keys (got "
              + (keys == null ? 0 : keys.size())
              + ")");
    }
    for (int i = 1; i < keys.size(); i++) {
      double a = keys.get(i - 1).time();
      double b = keys.get(i).time();
      if (!(b > a)) {
        throw new IllegalArgumentException(
            b == a
                ? what + " has two keys at " + plain(a) + " s; move or remove one"
                : "keys of "
                    + what
                    + " must be in order (got "
                    + plain(a)
                    + " s before "
                    + plain(b)
                    + " s)");
      }
    }
    return List.copyOf(keys);
  }

  static String plain(double v) {
    return v == Math.rint(v) && Math.abs(v) < 1e9
        ? Long.toString((long) v)
        : String.format(Locale.ROOT, "%.4g", v).replaceAll("\\.0*$|(\\.\\d*?)0+$", "$1");
  }
}
