package posada.core.trace.film;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import posada.core.denoise.CleanPicture;
import posada.core.denoise.Denoiser;
import posada.core.denoise.Noisy;
import posada.core.denoise.NoisyPicture;
import posada.core.denoise.PreparedPicture;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.settings.ChannelNames;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;

/**
 * The pass {@code guides} in files: what a picture is cleaned from later. Errors are standard
 * errors of the mean.
 */
public final class GuideChannels {
  private GuideChannels() {}

  /**
   * Returns the planes of all channels.
   *
   * @param motion to the next frame and from the one before, right and down
   */
  static float[][] planes(NoisyPicture p, float[][] motion) {
    List<float[]> out = new ArrayList<>();
    for (Noisy n : List.of(p.diffuse(), p.glossy(), p.seen())) {
      add(out, n);
    }
    out.addAll(List.of(p.tint()));
    out.addAll(List.of(p.mirrored()));
    for (Noisy n : List.of(p.albedo(), p.normal(), p.nearness())) {
      add(out, n);
    }
    out.addAll(List.of(motion));
    return out.toArray(new float[0][]);
  }

  private static void add(List<float[]> out, Noisy n) {
    for (int k = 0; k < Math.min(3, n.planes().length); k++) {
      out.add(n.planes()[k]);
    }
    float[] error = n.variance().clone();
    for (int i = 0; i < error.length; i++) {
      error[i] = (float) Math.sqrt(error[i]);
    }
    out.add(error);
  }

  /**
   * A picture that was read with its guides.
   *
   * @param right pixels to the same point in the next frame; likewise down
   * @param left pixels from the same point in the frame before; likewise up
   */
  public record Read(NoisyPicture picture, float[] right, float[] down, float[] left, float[] up) {
    /** Returns the frame before or after as it helps to clean this one. */
    public Denoiser.Beside beside(PreparedPicture other, boolean later) {
      return later
          ? new Denoiser.Beside(other, right, down)
          : new Denoiser.Beside(other, negated(left), negated(up));
    }

    private static float[] negated(float[] v) {
      float[] out = new float[v.length];
      for (int i = 0; i < out.length; i++) {
        out[i] = -v[i];
      }
      return out;
    }
  }

  /**
   * Takes the guides from a picture.
   *
   * @throws IllegalArgumentException naming the channel that is not there
   */
  public static Read read(FrameImage image) {
    float[][] p =
        ChannelNames.guides().stream().map(name -> found(image, name)).toArray(float[][]::new);
    int m = ChannelNames.guides().size() - 4;
    List<Noisy> lights = new ArrayList<>();
    for (LightKind k : LightKind.values()) {
      int at = 4 * k.ordinal();
      float[][] planes =
          k.planes(
              new float[][] {p[at], p[at + 1], p[at + 2]},
              part -> has(image, part),
              part ->
                  part.channels(PassSettings.BEAUTY).stream()
                      .map(image::find)
                      .toArray(float[][]::new));
      lights.add(new Noisy(planes, squared(p[at + 3])));
    }
    float[][] groups =
        image.channels().stream()
            .filter(c -> c.name().startsWith(ChannelNames.LIGHT))
            .map(Channel::data)
            .toArray(float[][]::new);
    NoisyPicture picture =
        new NoisyPicture(
            image.width(),
            image.height(),
            lights.get(0),
            lights.get(1),
            lights.get(2),
            groups,
            new float[][] {p[12], p[13], p[14]},
            new float[][] {p[15], p[16], p[17]},
            new Noisy(new float[][] {p[18], p[19], p[20]}, squared(p[21])),
            new Noisy(new float[][] {p[22], p[23], p[24]}, squared(p[25])),
            new Noisy(new float[][] {p[26]}, squared(p[27])));
    return new Read(picture, p[m], p[m + 1], p[m + 2], p[m + 3]);
  }

  private static boolean has(FrameImage image, Pass part) {
    return part.channels(PassSettings.BEAUTY).stream().allMatch(c -> image.find(c) != null);
  }

  /** Returns true if the picture holds parts of the light, which are cleaned with it. */
  public static boolean apart(FrameImage image) {
    return Pass.LIGHT_PARTS.stream().anyMatch(p -> has(image, p))
        || image.channels().stream().anyMatch(c -> c.name().startsWith(ChannelNames.LIGHT));
  }

  /**
   * Returns the picture without guides, with what was cleaned in place of what was not.
   *
   * @param clean made from {@link #read} of the same picture
   */
  public static FrameImage cleaned(FrameImage image, CleanPicture clean) {
    Map<Pass, float[][]> planes = LightKind.cleaned(clean, p -> has(image, p));
    Map<String, float[]> byName = new HashMap<>();
    planes.forEach(
        (p, values) -> {
          List<String> names = p.channels(PassSettings.BEAUTY);
          for (int c = 0; c < values.length; c++) {
            byName.put(names.get(c), values[c]);
          }
        });
    int groups = 0;
    List<Channel> out = new ArrayList<>();
    for (Channel c : image.channels()) {
      if (ChannelNames.guides().contains(c.name())) {
        continue;
      }
      float[] data =
          c.name().startsWith(ChannelNames.LIGHT)
              ? clean.groups()[groups++]
              : byName.getOrDefault(c.name(), c.data());
      out.add(new Channel(c.name(), c.precision(), data, c.outside()));
    }
    return new FrameImage(image.width(), image.height(), image.window(), out, image.texts());
  }

  private static float[] found(FrameImage image, String name) {
    float[] data = image.find(name);
    if (data == null) {
      throw new IllegalArgumentException(
          "the channel " + name + " is not there; render with the pass guides");
    }
    return data;
  }

  private static float[] squared(float[] v) {
    float[] out = new float[v.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = v[i] * v[i];
    }
    return out;
  }
}
