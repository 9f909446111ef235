package posada.formats.review;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/** Finds sequences in a folder: files whose names differ by their last number alone. */
public final class SequenceFolder {
  private static final Pattern NUMBERED =
      Pattern.compile("(.*?)(\\d+)\\.(exr|png|tif|tiff|jpg|jpeg)", Pattern.CASE_INSENSITIVE);

  /** Most digits of a frame's number. */
  private static final int MOST_DIGITS = 9;

  private SequenceFolder() {}

  /**
   * A sequence.
   *
   * @param name of its files, with # for each digit of most numbers
   * @param files by their numbers
   * @param padded otherwise than the others are: numbers whose file has more or fewer zeros before
   *     it
   */
  public record Sequence(String name, TreeMap<Integer, Path> files, TreeSet<Integer> padded) {
    /** A sequence all of whose numbers are written alike. */
    public Sequence(String name, TreeMap<Integer, Path> files) {
      this(name, files, new TreeSet<>());
    }

    /** Returns true if its files hold display values. */
    public boolean display() {
      return !name.toLowerCase(Locale.ROOT).endsWith(".exr");
    }
  }

  /** A file whose name is a number with something before it. */
  private record Numbered(Path file, int number, int digits) {}

  /**
   * Returns the sequences of a folder and of those in it, by name.
   *
   * @throws IllegalArgumentException if there are none
   */
  public static List<Sequence> find(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      throw new IllegalArgumentException("there is no folder " + folder);
    }
    Map<List<String>, List<Numbered>> all = new HashMap<>();
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path p : files.filter(Files::isRegularFile).sorted().toList()) {
        Matcher m = NUMBERED.matcher(folder.relativize(p).toString());
        if (m.matches() && m.group(2).length() <= MOST_DIGITS) {
          int digits = m.group(2).length();
          all.computeIfAbsent(List.of(m.group(1), m.group(3)), k -> new ArrayList<>())
              .add(new Numbered(p, Integer.parseInt(m.group(2)), digits));
        }
      }
    }
    if (all.isEmpty()) {
      throw new IllegalArgumentException(
          "there is no sequence in "
              + folder
              + ": files with numbers and ending in .exr, .png, .tif or .jpg");
    }
    Map<String, Sequence> found = new TreeMap<>();
    all.forEach(
        (name, files) -> {
          Sequence s = sequence(name.get(0), name.get(1), files);
          found.put(s.name, s);
        });
    return List.copyOf(found.values());
  }

  private static Sequence sequence(String before, String end, List<Numbered> files) {
    Map<Integer, Integer> counts = new TreeMap<>();
    files.forEach(f -> counts.merge(f.digits, 1, Integer::sum));
    int digits =
        counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
    TreeMap<Integer, Path> by = new TreeMap<>();
    TreeSet<Integer> padded = new TreeSet<>();
    // Those that are written as most are come first: of two with one number they are it.
    for (boolean usual : new boolean[] {true, false}) {
      for (Numbered f : files) {
        if ((f.digits == digits) == usual) {
          by.putIfAbsent(f.number, f.file);
          // 10000 after 0999 needs its fifth digit; 998 before 0999 lacks a zero.
          boolean needed = f.digits == Integer.toString(f.number).length() && f.digits > digits;
          if (!usual && !needed && !(counts.size() > 1 && unpadded(files))) {
            padded.add(f.number);
          }
        }
      }
    }
    return new Sequence(before + "#".repeat(digits) + "." + end, by, padded);
  }

  /** Returns true if no number has a zero before it: then they are all written alike. */
  private static boolean unpadded(List<Numbered> files) {
    return files.stream().allMatch(f -> f.digits == Integer.toString(f.number).length());
  }
}
