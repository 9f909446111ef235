package posada.core.trace.film;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.settings.Pass;

/** The picture that a film's sums stand for: what each pass makes of its planes. */
record FilmPicture(Film film) {
  /** Returns the picture, see {@link Film#image(Set, Map)}. */
  FrameImage image(Set<Pass> shown, Map<Pass, float[][]> clean) {
    List<Channel> channels = new ArrayList<>();
    Map<String, String> texts = new TreeMap<>();
    for (Pass p : Pass.values()) {
      if (shown.contains(p)) {
        add(p, channels, clean.get(p));
        if (p.matte()) {
          texts.putAll(film.mattes[p.ordinal()].texts(p.label()));
        }
      }
    }
    return new FrameImage(film.width, film.height, film.window(), channels, texts);
  }

  private void add(Pass p, List<Channel> channels, float[][] clean) {
    List<String> names = p.channels(film.passes);
    float[][] values = means(p);
    for (int c = 0; c < values.length; c++) {
      float[] data = clean != null && c < clean.length ? clean[c] : values[c];
      channels.add(new Channel(names.get(c), p.precision(names.get(c)), data, outside(p)));
    }
  }

  /** What stands where nothing was rendered. */
  private static float outside(Pass p) {
    return switch (p) {
      case DEPTH, DEPTH_FILTERED -> Film.NOWHERE;
      case AMBIENT_OCCLUSION, SHADOW -> 1;
      default -> 0;
    };
  }

  float[][] means(Pass p) {
    if (film.mattes[p.ordinal()] != null) {
      int[] weights = film.counts.clone();
      Arrays.setAll(weights, film::counted);
      return film.mattes[p.ordinal()].planes(weights);
    }
    if (Film.extra(p) && !film.wants(p)) {
      throw new IllegalArgumentException("the pass " + p.label() + " was not rendered");
    }
    float[][] sums = film.planes[p.ordinal()];
    return switch (p) {
      case BEAUTY -> new float[][] {mean(film.r), mean(film.g), mean(film.b), mean(covered())};
      case SAMPLES -> new float[][] {samplesOfPixels()};
      case GUIDES -> GuideChannels.planes(film.noisy(), film.guides.motion);
      case DEPTH, POSITION, TEXTURE_COORDINATES, MOTION_NEXT, MOTION_PREVIOUS, TIME ->
          Arrays.stream(sums).map(float[]::clone).toArray(float[][]::new);
      case NORMAL, NORMAL_CAMERA -> unit(sums);
      case DEPTH_FILTERED -> new float[][] {overSurfaces(sums[0])};
      case AMBIENT_OCCLUSION -> new float[][] {open(mean(sums[0]))};
      case SHADOW -> new float[][] {ratio(sums[1], sums[0])};
      default -> Arrays.stream(sums).map(this::mean).toArray(float[][]::new);
    };
  }

  private float[] samplesOfPixels() {
    float[] m = new float[film.counts.length];
    for (int i = 0; i < m.length; i++) {
      m[i] = film.counts[i];
    }
    return m;
  }

  private float[] overSurfaces(float[] sum) {
    float[] m = new float[sum.length];
    for (int i = 0; i < m.length; i++) {
      m[i] = film.a[i] > 0 ? sum[i] / film.a[i] : Film.NOWHERE;
    }
    return m;
  }

  private static float[] open(float[] shut) {
    for (int i = 0; i < shut.length; i++) {
      shut[i] = 1 - shut[i];
    }
    return shut;
  }

  private static float[] ratio(float[] part, float[] whole) {
    float[] m = new float[whole.length];
    for (int i = 0; i < m.length; i++) {
      m[i] = whole[i] > 0 ? part[i] / whole[i] : 1;
    }
    return m;
  }

  /** Samples that met surfaces, and the shadows on catchers. */
  private float[] covered() {
    if (film.caught == null) {
      return film.a;
    }
    float[] m = film.a.clone();
    for (int i = 0; i < m.length; i++) {
      if (film.caught[1][i] > 0) {
        m[i] += film.caught[0][i] * (1 - film.caught[2][i] / film.caught[1][i]);
      }
    }
    return m;
  }

  private float[] mean(float[] sum) {
    float[] m = new float[sum.length];
    for (int i = 0; i < m.length; i++) {
      int n = film.counted(i);
      m[i] = n > 0 ? sum[i] / n : 0;
    }
    return m;
  }

  private static float[][] unit(float[][] sums) {
    float[][] n = {sums[0].clone(), sums[1].clone(), sums[2].clone()};
    for (int i = 0; i < n[0].length; i++) {
      float x = n[0][i], y = n[1][i], z = n[2][i];
      float l = (float) Math.sqrt(x * x + y * y + z * z);
      float k = l > 0 ? 1 / l : 0;
      n[0][i] *= k;
      n[1][i] *= k;
      n[2][i] *= k;
    }
    return n;
  }
}
