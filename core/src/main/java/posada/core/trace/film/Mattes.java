package posada.core.trace.film;

import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import posada.core.image.NameHash;
import posada.core.settings.PassSettings;

/**
 * Which names a pixel's samples met and how often: ID mattes by rank.
 *
 * <p>Source: J. Friedman and A. Jones, "Cryptomatte specification" 1.2.0: channels {@code SET00.R}
 * (name), {@code .G} (coverage), {@code .B}, {@code .A} and so on, most coverage first.
 */
public final class Mattes {
  private final int ranks;
  private final int slots;

  /** What each number stands for; the slot holds the number plus 1. */
  private final float[] hashes;

  private final TreeSet<String> names = new TreeSet<>();
  private final int[] who;
  private final int[] count;

  /**
   * @param namesOfNumbers what each number that {@link #add} is given is called; null for none
   */
  Mattes(int pixels, int ranks, String[] namesOfNumbers) {
    this.ranks = ranks;
    slots = ranks + PassSettings.MATTE_SPARE;
    hashes = new float[namesOfNumbers.length];
    for (int i = 0; i < hashes.length; i++) {
      if (namesOfNumbers[i] != null) {
        hashes[i] = NameHash.toFloat(NameHash.of(namesOfNumbers[i]));
        names.add(namesOfNumbers[i]);
      }
    }
    who = new int[pixels * slots];
    count = new int[pixels * slots];
  }

  /** Counts a sample of a pixel. */
  void add(int pixel, int number) {
    int end = (pixel + 1) * slots;
    for (int i = pixel * slots; i < end; i++) {
      if (who[i] == number + 1 || who[i] == 0) {
        who[i] = number + 1;
        count[i]++;
        return;
      }
    }
    // Where more names meet than there is room for, late and rare ones are left out.
  }

  /**
   * Returns the planes of all ranks: name, coverage, name, coverage and so on.
   *
   * @param samples of each pixel
   */
  float[][] planes(int[] samples) {
    float[][] out = new float[2 * ranks][samples.length];
    long[] order = new long[slots];
    for (int p = 0; p < samples.length; p++) {
      int used = 0;
      for (int i = p * slots; i < (p + 1) * slots && who[i] > 0; i++) {
        // Rising order of the negative count, then of the number, so that equals stay put.
        order[used++] = ((long) -count[i] << 32) | who[i];
      }
      Arrays.sort(order, 0, used);
      for (int r = 0; r < Math.min(used, ranks); r++) {
        out[2 * r][p] = hashes[(int) order[r] - 1];
        out[2 * r + 1][p] = -(int) (order[r] >> 32) / (float) samples[p];
      }
    }
    return out;
  }

  /** Returns what the header says about this set. */
  Map<String, String> texts(String set) {
    String key = NameHash.key(set);
    StringBuilder manifest = new StringBuilder("{");
    for (String n : names) {
      manifest.append(manifest.length() > 1 ? "," : "");
      quote(n, manifest);
      manifest.append(":\"").append(NameHash.hex(n)).append('"');
    }
    return new TreeMap<>(
        Map.of(
            key + "name",
            set,
            key + "hash",
            "MurmurHash3_32",
            key + "conversion",
            "uint32_to_float32",
            key + "manifest",
            manifest.append('}').toString()));
  }

  /** Appends a JSON text (RFC 8259, section 7). */
  private static void quote(String s, StringBuilder out) {
    out.append('"');
    for (char c : s.toCharArray()) {
      if (c == '"' || c == '\\') {
        out.append('\\').append(c);
      } else if (c < ' ') {
        out.append(String.format("\\u%04x", (int) c));
      } else {
        out.append(c);
      }
    }
    out.append('"');
  }
}
