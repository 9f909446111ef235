package posada.core.image;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;

class PrimariesTest {
  private static Primaries of(double... xy) {
    float[] f = new float[xy.length];
    for (int i = 0; i < f.length; i++) {
      f[i] = (float) xy[i];
    }
    return new Primaries(f);
  }

  /** ITU-R BT.2087-0, annex 2. */
  @Test
  void bt709ToBt2020AsPublished() {
    Primaries bt2020 = of(0.708, 0.292, 0.17, 0.797, 0.131, 0.046, 0.3127, 0.329);
    double[] published = {0.6274, 0.3293, 0.0433, 0.0691, 0.9195, 0.0114, 0.0164, 0.0880, 0.8956};
    assertArrayEquals(published, Primaries.BT709.to(bt2020), 1e-4);
  }

  /** With another white: S-2014-004's primaries, whose matrix to BT.709 is published with ACES. */
  @Test
  void whitesThatDifferAreAdapted() {
    Primaries wide = of(0.713, 0.293, 0.165, 0.83, 0.128, 0.044, 0.32168, 0.33767);
    double[] published = {
      1.70505, -0.62179, -0.08326, -0.13026, 1.14080, -0.01055, -0.02400, -0.12897, 1.15297
    };
    double[] m = wide.to(Primaries.BT709);
    assertArrayEquals(published, m, 2e-4);
    for (int row = 0; row < 3; row++) {
      assertEquals(1, m[3 * row] + m[3 * row + 1] + m[3 * row + 2], 1e-9, "white stays white");
    }
  }

  @Test
  void tellsWhatCannotBePrimaries() {
    assertTrue(Primaries.BT709.sound());
    assertFalse(of(0, 0, 0, 0, 0, 0, 0, 0).sound());
    assertFalse(of(0.6, 0.3, 0.4, 0.4, 0.2, 0.5, 0.3127, 0.329).sound(), "on one line");
    assertFalse(of(0.64, 0.33, 0.3, 0.6, 0.15, 0.06, Double.NaN, 0.329).sound());
  }
}
