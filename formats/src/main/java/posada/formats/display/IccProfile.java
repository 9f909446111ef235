package posada.formats.display;

import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import posada.core.image.Primaries;

/**
 * A colour profile of a screen with given primaries, white D65 and the sRGB transfer function.
 *
 * <p>Source: ICC.1:2022 (profile version 4.4), sections 7.2 (header), 8.3.3 (three-component
 * matrix-based display profiles), 10.18 (parametric curves, type 3), annex E.3 (adaptation).
 */
public final class IccProfile {
  private static final int HEADER = 128, TAG = 12;

  /** X, Y and Z of the white of the connection space. */
  private static final double[] D50 = {0.9642, 1, 0.8249};

  /** g, a, b, c, d of IEC 61966-2-1. */
  private static final double[] SRGB = {2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045};

  private IccProfile() {}

  /** Returns the complete profile. */
  public static byte[] of(Primaries p, String name) {
    Map<String, byte[]> tags = new LinkedHashMap<>();
    tags.put("desc", text(name));
    tags.put("cprt", text("No copyright, use freely"));
    tags.put("wtpt", xyz(D50));
    double[] m = p.toConnection();
    String[] columns = {"rXYZ", "gXYZ", "bXYZ"};
    for (int k = 0; k < columns.length; k++) {
      tags.put(columns[k], xyz(m[k], m[3 + k], m[6 + k]));
    }
    byte[] curve = curve();
    for (String c : new String[] {"rTRC", "gTRC", "bTRC"}) {
      tags.put(c, curve);
    }
    int size = HEADER + 4 + TAG * tags.size();
    int at = size;
    for (byte[] t : tags.values()) {
      size += t.length;
    }
    ByteBuffer out = ByteBuffer.allocate(size);
    out.putInt(size).putInt(0).putInt(0x04400000).put(ascii("mntrRGB XYZ "));
    out.position(36).put(ascii("acsp"));
    out.position(68);
    for (double v : D50) {
      out.putInt(fixed(v));
    }
    out.position(HEADER).putInt(tags.size());
    for (Map.Entry<String, byte[]> t : tags.entrySet()) {
      out.put(ascii(t.getKey())).putInt(at).putInt(t.getValue().length);
      at += t.getValue().length;
    }
    tags.values().forEach(out::put);
    return out.array();
  }

  private static byte[] ascii(String s) {
    return s.getBytes(StandardCharsets.US_ASCII);
  }

  private static int fixed(double v) {
    return (int) Math.round(v * 65536);
  }

  private static byte[] xyz(double... v) {
    ByteBuffer b = ByteBuffer.allocate(20).put(ascii("XYZ ")).putInt(0);
    for (double x : v) {
      b.putInt(fixed(x));
    }
    return b.array();
  }

  private static byte[] curve() {
    ByteBuffer b = ByteBuffer.allocate(32).put(ascii("para")).putInt(0).putShort((short) 3);
    b.putShort((short) 0);
    for (double x : SRGB) {
      b.putInt(fixed(x));
    }
    return b.array();
  }

  /** A text in English, padded to four bytes. */
  private static byte[] text(String s) {
    byte[] letters = s.getBytes(StandardCharsets.UTF_16BE);
    int size = (28 + letters.length + 3) / 4 * 4;
    ByteBuffer b = ByteBuffer.allocate(size).put(ascii("mluc")).putInt(0).putInt(1).putInt(12);
    return b.put(ascii("enUS")).putInt(letters.length).putInt(28).put(letters).array();
  }
}
