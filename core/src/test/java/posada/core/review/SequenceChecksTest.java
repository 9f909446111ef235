package posada.core.review;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import posada.core.image.FrameImage;
import posada.core.review.Fault.Kind;

/** A noisy ramp over which a bright bar glides, with one planted fault. */
class SequenceChecksTest {
  private static final int W = 128, H = 72, FRAMES = 12, AT = 5;

  private static FrameImage picture(int frame, Consumer<float[][]> plant) {
    Random noise = new Random(frame);
    float[][] c = new float[4][W * H];
    for (int y = 0; y < H; y++) {
      for (int x = 0; x < W; x++) {
        boolean bar = Math.abs(x - 20 - 3 * frame) < 6;
        float v = 0.1f + 0.5f * x / W + (bar ? 0.4f : 0);
        v *= 1 + 0.1f * (float) noise.nextGaussian();
        for (int k = 0; k < 3; k++) {
          c[k][y * W + x] = Math.max(0, v);
        }
        c[3][y * W + x] = 1;
      }
    }
    if (plant != null) {
      plant.accept(c);
    }
    List<FrameImage.Channel> all = new ArrayList<>();
    for (int k = 0; k < 4; k++) {
      all.add(new FrameImage.Channel("RGBA".substring(k, k + 1), FrameImage.Precision.FLOAT, c[k]));
    }
    return new FrameImage(W, H, all);
  }

  private static List<FrameLook> looks(Consumer<float[][]> plant) {
    List<FrameLook> all = new ArrayList<>();
    for (int f = 1; f <= FRAMES; f++) {
      all.add(FrameLook.of(f, picture(f, f == AT ? plant : null), false));
    }
    return all;
  }

  private static Fault only(Kind kind, List<FrameLook> looks) {
    List<Fault> all = SequenceChecks.of(looks);
    List<Fault> some = all.stream().filter(f -> f.kind() == kind).toList();
    assertEquals(1, some.size(), String.valueOf(all));
    assertEquals(List.of(AT), some.get(0).frames());
    return some.get(0);
  }

  private static Consumer<float[][]> each(int x0, int y0, int x1, int y1, float factor) {
    return c -> {
      for (int k = 0; k < 3; k++) {
        for (int y = y0; y < y1; y++) {
          for (int x = x0; x < x1; x++) {
            c[k][y * W + x] *= factor;
          }
        }
      }
    };
  }

  @Test
  void aCleanSequenceHasNoFault() {
    assertEquals(List.of(), SequenceChecks.of(looks(null)));
  }

  @Test
  void aFrameThatIsNotThereIsMissed() {
    List<FrameLook> some = looks(null);
    some.removeIf(l -> l.frame() == AT);
    Fault f = only(Kind.MISSING, some);
    assertEquals("Frame 5 is not there.", f.text());
  }

  @Test
  void blackWhiteAndTheSameAreTold() {
    only(Kind.BLACK, looks(each(0, 0, W, H, 0)));
    only(Kind.WHITE, looks(each(0, 0, W, H, 1000)));
    List<FrameLook> all = looks(null);
    all.set(AT - 1, FrameLook.of(AT, picture(AT - 1, null), false));
    assertEquals("The same picture as frame 4.", only(Kind.UNCHANGED, all).text());
  }

  @Test
  void whatIsNoNumberOrBelowNothingIsFoundAtItsPlace() {
    Fault f = only(Kind.NOT_A_NUMBER, looks(c -> c[1][10 * W + 20] = Float.NaN));
    assertEquals(new FrameLook.Box(20, 10, 1, 1), f.box());
    only(Kind.NEGATIVE, looks(c -> c[2][H / 2 * W] = -0.5f));
  }

  @Test
  void aFireflyIsFoundAndALampThatStaysIsNone() {
    Fault f = only(Kind.FIREFLY, looks(c -> c[0][30 * W + 40] = 200));
    assertEquals(new FrameLook.Box(40, 30, 1, 1), f.box());
    List<FrameLook> lamp = new ArrayList<>();
    for (int n = 1; n <= FRAMES; n++) {
      int x = 60 + n;
      lamp.add(FrameLook.of(n, picture(n, c -> c[0][30 * W + x] = 200), false));
    }
    assertEquals(List.of(), SequenceChecks.of(lamp));
  }

  @Test
  void whatComesAndGoesWithinOneFrameFlickers() {
    Fault f = only(Kind.FLICKER, looks(each(80, 10, 120, 40, 1.3f)));
    assertTrue(Math.abs(f.box().x() - 80) <= 4 && Math.abs(f.box().y() - 10) <= 4, f.toString());
    assertEquals(0.3, f.value(), 0.15);
  }

  @Test
  void aPictureThatIsAnotherJumps() {
    List<FrameLook> all = looks(null);
    for (int i = AT - 1; i < FRAMES; i++) {
      all.set(i, FrameLook.of(i + 1, picture(i + 1, each(0, 0, W, H / 2, 3)), false));
    }
    only(Kind.JUMP, all);
  }

  @Test
  void sizesAlphaAndPartsAreHeldAgainstTheOthers() {
    only(Kind.HOLES, looks(c -> c[3][40 * W + 64] = 0));
    List<FrameLook> all = looks(null);
    FrameImage p = picture(AT, null);
    FrameImage small =
        new FrameImage(
            W,
            H / 2,
            p.channels().subList(0, 3).stream()
                .map(
                    c ->
                        new FrameImage.Channel(
                            c.name(), c.precision(), java.util.Arrays.copyOf(c.data(), W * H / 2)))
                .toList());
    all.set(AT - 1, FrameLook.of(AT, small, false));
    assertEquals("128 x 36 px, the others 128 x 72.", only(Kind.SIZE, all).text());
    assertEquals("Without A.", only(Kind.CHANNELS, all).text());
  }

  @Test
  void theNoiseOfAPictureIsFoundAndANoisyFrameStandsOut() {
    // 10 % of the light, of which 0.05 more is divided by.
    double noise = SequenceChecks.curves(looks(null)).noise()[AT];
    assertEquals(0.1 * 0.35 / 0.4, noise, 0.02);
    Random more = new Random(1);
    Fault f =
        only(
            Kind.NOISE,
            looks(
                c -> {
                  for (int i = 0; i < W * H; i++) {
                    float v = Math.max(0, c[0][i] * (1 + 0.3f * (float) more.nextGaussian()));
                    c[0][i] = c[1][i] = c[2][i] = v;
                  }
                }));
    assertTrue(f.text().startsWith("The noise is "), f.text());
  }

  /** With motion in the file what moves fast is no flicker, and what flickers on it is found. */
  @Test
  void motionTellsWhereAFieldWas() {
    for (boolean planted : new boolean[] {false, true}) {
      List<FrameLook> all = new ArrayList<>();
      for (int f = 1; f <= FRAMES; f++) {
        float[][] c = new float[5][W * H];
        for (int i = 0; i < W * H; i++) {
          int x = i % W, y = i / W;
          // Stripes two fields wide that glide by three fields a frame.
          float v = (x + 6000 - 6 * f) / 4 % 2 == 0 ? 0.8f : 0.2f;
          v *= planted && f == AT && x > 30 && x < 90 && y > 20 && y < 50 ? 5 : 1;
          c[0][i] = c[1][i] = c[2][i] = v;
          c[3][i] = 6;
        }
        List<FrameImage.Channel> channels = new ArrayList<>();
        String[] names = {"R", "G", "B", "motion-previous.X", "motion-previous.Y"};
        for (int k = 0; k < names.length; k++) {
          channels.add(new FrameImage.Channel(names[k], FrameImage.Precision.FLOAT, c[k]));
        }
        all.add(FrameLook.of(f, new FrameImage(W, H, channels), false));
      }
      if (planted) {
        only(Kind.FLICKER, all);
      } else {
        assertEquals(List.of(), SequenceChecks.of(all));
      }
    }
  }

  @Test
  void lightThatWasNotMultipliedByAlphaIsAFringe() {
    Consumer<float[][]> disc = c -> matte(c, 1);
    List<FrameLook> all = new ArrayList<>();
    for (int f = 1; f <= FRAMES; f++) {
      all.add(FrameLook.of(f, picture(f, f == AT ? c -> matte(c, 6) : disc), false));
    }
    Fault f = only(Kind.FRINGE, all);
    assertTrue(f.box().x() >= 60 - 22 && f.box().width() <= 45, f.toString());
  }

  /** A disc of one light with a soft edge, whose pixels have some times the light they should. */
  private static void matte(float[][] c, float times) {
    for (int i = 0; i < W * H; i++) {
      double r = Math.hypot(i % W - 60, i / W - 36);
      float a = (float) Math.max(0, Math.min(1, (21 - r) / 2));
      boolean edge = a > 0 && a < 1;
      for (int k = 0; k < 3; k++) {
        c[k][i] = 0.3f * a * (edge ? times : 1);
      }
      c[3][i] = a;
    }
  }

  /** A ramp so slow that each value of 8 bits is 32 pixels wide. */
  @Test
  void stepsOf8BitsAreBandsUnlessThereIsNoise() {
    for (boolean noisy : new boolean[] {false, true}) {
      Random noise = new Random(3);
      float[] v = new float[512 * 16];
      for (int i = 0; i < v.length; i++) {
        double code = 100 + i % 512 / 32.0 + (noisy ? noise.nextGaussian() : 0);
        double e = Math.round(code) / 255.0;
        v[i] = (float) Math.pow((e + 0.055) / 1.055, 2.4);
      }
      List<FrameImage.Channel> channels = new ArrayList<>();
      for (String name : List.of("R", "G", "B")) {
        channels.add(new FrameImage.Channel(name, FrameImage.Precision.FLOAT, v));
      }
      FrameLook l = FrameLook.of(1, new FrameImage(512, 16, channels), true);
      List<Kind> found = SequenceChecks.of(List.of(l)).stream().map(Fault::kind).toList();
      assertEquals(noisy ? List.of() : List.of(Kind.BANDING), found);
    }
  }
}
