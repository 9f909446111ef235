package posada.server.workers;

import java.util.Optional;
import org.springframework.stereotype.Component;
import posada.core.image.FrameImage;
import posada.core.image.Resample;
import posada.core.review.Look;
import posada.core.trace.FrameRenderer;
import posada.formats.display.JpegFile;

/** The picture of the frame in work, as far as it is; made only while somebody looks at it. */
@Component
class InWork {
  /** Nanoseconds for which one look counts. */
  private static final long LOOKED = 10_000_000_000L;

  /** Longest side, pixels. */
  private static final int MOST = 640;

  private static final float QUALITY = 0.85f;

  /** Nanoseconds between two pictures, and how many times as long as one takes, at least. */
  private static final long EVERY = 500_000_000L;

  private static final int REST = 20;

  private record Picture(long strandId, byte[] jpeg) {}

  private volatile long looked = System.nanoTime() - LOOKED;
  private volatile Picture picture;
  private long next = System.nanoTime();

  /** Takes over how a frame looks by now; called by the thread that renders it. */
  void show(long strandId, FrameRenderer renderer) {
    if (System.nanoTime() - looked > LOOKED) {
      picture = null;
      return;
    }
    long start = System.nanoTime();
    if (start < next) {
      return;
    }
    FrameImage image = Resample.shrink(renderer.soFar().full(), MOST);
    picture = new Picture(strandId, JpegFile.encode(Look.STANDARD.of(image), QUALITY));
    // The frame waits meanwhile, so that a large one is shown less often.
    long end = System.nanoTime();
    next = end + Math.max(EVERY, REST * (end - start));
  }

  /** Forgets the picture of a frame that is finished. */
  void forget() {
    picture = null;
  }

  /** Returns the picture of a strand's frame in work as a JPEG; nothing if there is none yet. */
  Optional<byte[]> of(long strandId) {
    looked = System.nanoTime();
    Picture p = picture;
    return p != null && p.strandId == strandId ? Optional.of(p.jpeg) : Optional.empty();
  }
}
