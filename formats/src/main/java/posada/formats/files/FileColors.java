package posada.formats.files;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.Primaries;
import posada.core.image.SrgbTransfer;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.display.IccProfile;
import posada.formats.exr.ExrHeader;
import posada.formats.files.FrameFiles.Part;

/** Gives pictures the colours, the alpha and the bits that a delivery asks for. */
final class FileColors {
  private static final Map<DeliveryColor.Space, byte[]> PROFILES =
      new EnumMap<>(DeliveryColor.Space.class);

  static {
    for (DeliveryColor.Space s : DeliveryColor.Space.values()) {
      boolean usual = s == DeliveryColor.Space.REC709;
      PROFILES.put(s, usual ? null : IccProfile.of(s.primaries(), "Display P3"));
    }
  }

  private FileColors() {}

  /** Returns the colour profile of display files; null for sRGB, which they have a mark for. */
  static byte[] profile(DeliveryColor.Space s) {
    return PROFILES.get(s);
  }

  /** Returns what an EXR says beside its pixels. */
  static ExrHeader header(FrameRate rate, int frame, Map<String, String> texts, DeliveryColor c) {
    Map<String, String> all = new TreeMap<>(texts);
    if (c.encoding() == DeliveryColor.Encoding.DISPLAY) {
      all.put(ExrHeader.DISPLAY, "sRGB, exposure " + c.exposure());
    }
    return new ExrHeader(rate, frame, all, c.space(FileFormat.EXR).primaries());
  }

  /**
   * Returns a colour in the primaries of a format's files.
   *
   * @param c red, green, blue of BT.709; null for none
   */
  static float[] colour(List<Float> c, DeliveryColor.Space s) {
    if (c == null) {
      return null;
    }
    float[] out = {c.get(0), c.get(1), c.get(2)};
    if (s != DeliveryColor.Space.REC709) {
      float[][] planes = {{out[0]}, {out[1]}, {out[2]}};
      turn(planes, Primaries.BT709.to(s.primaries()));
      return new float[] {planes[0][0], planes[1][0], planes[2][0]};
    }
    return out;
  }

  /** Returns a picture as a file is to have it, but for the view transform of display formats. */
  static FrameImage converted(FrameImage image, Part part, PassSettings passes, Delivery d) {
    DeliveryColor.Space space = d.color().space(part.format());
    boolean shown =
        !part.format().display() && d.color().encoding() == DeliveryColor.Encoding.DISPLAY;
    boolean turned = space != DeliveryColor.Space.REC709;
    boolean exact = part.format() == FileFormat.EXR && d.depth() != Delivery.ExrDepth.AS_NEEDED;
    boolean without = !d.alpha() && !part.format().display();
    if (!turned && !shown && !exact && !without) {
      return image;
    }
    Map<String, float[]> other = new TreeMap<>();
    for (Pass p : part.passes()) {
      if (p.color()) {
        change(image, p.channels(passes), turned ? space : null, shown ? d.color() : null, other);
      }
    }
    Set<String> gone = new HashSet<>();
    if (without && part.passes().contains(Pass.BEAUTY)) {
      gone.add("A");
    }
    List<Channel> channels = new ArrayList<>();
    for (Channel c : image.channels()) {
      if (!gone.contains(c.name())) {
        Precision p = exact ? Precision.valueOf(d.depth().name()) : c.precision();
        float[] data = other.getOrDefault(c.name(), c.data());
        channels.add(new Channel(c.name(), p, data, c.outside()));
      }
    }
    return new FrameImage(image.width(), image.height(), image.window(), channels, image.texts());
  }

  /** Puts the changed planes of a pass's colours beside their names. */
  private static void change(
      FrameImage image,
      List<String> names,
      DeliveryColor.Space space,
      DeliveryColor shown,
      Map<String, float[]> out) {
    List<String> colours = names.stream().filter(n -> !n.equals("A")).toList();
    for (int k = 0; k + 2 < colours.size(); k += 3) {
      float[][] planes = new float[3][];
      for (int j = 0; j < 3; j++) {
        planes[j] = image.find(colours.get(k + j)).clone();
        out.put(colours.get(k + j), planes[j]);
      }
      if (space != null) {
        turn(planes, Primaries.BT709.to(space.primaries()));
      }
      if (shown != null) {
        float gain = (float) StrictMath.pow(2, shown.exposure());
        for (float[] plane : planes) {
          for (int i = 0; i < plane.length; i++) {
            plane[i] = (float) SrgbTransfer.encode(Math.max(0, Math.min(1, plane[i] * gain)));
          }
        }
      }
    }
  }

  /** Multiplies colours by a matrix, in place. */
  static void turn(float[][] c, double[] m) {
    for (int i = 0; i < c[0].length; i++) {
      double r = c[0][i], g = c[1][i], b = c[2][i];
      for (int k = 0; k < 3; k++) {
        c[k][i] = (float) (m[3 * k] * r + m[3 * k + 1] * g + m[3 * k + 2] * b);
      }
    }
  }
}
