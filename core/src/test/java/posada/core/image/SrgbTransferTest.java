package posada.core.image;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;

/** Against the constants and worked values of IEC 61966-2-1. */
class SrgbTransferTest {
  @Test
  void meetsTheStandardsConstants() {
    assertEquals(0.04045, SrgbTransfer.encode(0.0031308), 1e-5);
    assertEquals(0.0031308, SrgbTransfer.decode(0.04045), 1e-6);
    assertEquals(0.5, SrgbTransfer.encode(0.21404114), 1e-6);
    assertEquals(12.92 * 0.001, SrgbTransfer.encode(0.001), 1e-12);
    assertEquals(0, SrgbTransfer.encode(Double.NaN));
    assertEquals(1, SrgbTransfer.encode(7));
  }

  @Test
  void displayPicturesAreWithinOneSixteenBitStep() {
    int n = 4000;
    float[] ramp = new float[n];
    for (int i = 0; i < n; i++) {
      ramp[i] = i / (float) (n - 1);
    }
    FrameImage image =
        new FrameImage(
            n,
            1,
            List.of(
                new Channel("R", Precision.HALF, ramp),
                new Channel("G", Precision.HALF, ramp),
                new Channel("B", Precision.HALF, ramp)));
    short[] out = ViewTransform.beauty(image, 0, false).samples();
    for (int i = 0; i < n; i++) {
      assertEquals(65535 * SrgbTransfer.encode(ramp[i]), out[i * 3] & 0xffff, 1.0);
    }
    short[] up = ViewTransform.beauty(image, 1, false).samples();
    assertEquals(65535 * SrgbTransfer.encode(2 * ramp[900]), up[900 * 3] & 0xffff, 1.0);
  }
}
