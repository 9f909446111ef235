package posada.formats.video;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.function.DoubleConsumer;
import posada.core.image.DisplayImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;

/** Pictures that are read ahead of their use, one on each thread. */
public final class ReadAhead {
  private ReadAhead() {}

  /** Where pictures are read from. */
  public interface Source {
    DisplayImage read(int frame) throws IOException;
  }

  /** Takes pictures in order. */
  public interface Sink {
    void take(int frame, DisplayImage picture) throws IOException;
  }

  /**
   * Passes pictures on, in order.
   *
   * @param progress hears the share that is done, 0 .. 1
   * @return false if it was stopped
   */
  public static boolean each(
      List<Integer> frames,
      Source source,
      Workers workers,
      Stop stop,
      DoubleConsumer progress,
      Sink sink)
      throws IOException {
    Deque<CompletableFuture<DisplayImage>> ahead = new ArrayDeque<>();
    int next = 0;
    try {
      for (int i = 0; i < frames.size(); i++) {
        while (next < frames.size() && next <= i + workers.count()) {
          int frame = frames.get(next++);
          ahead.add(CompletableFuture.supplyAsync(() -> read(source, frame), workers.executor()));
        }
        if (stop.asked()) {
          return false;
        }
        sink.take(frames.get(i), ahead.remove().join());
        progress.accept((i + 1.0) / frames.size());
      }
      return true;
    } catch (CompletionException e) {
      if (e.getCause() instanceof UncheckedIOException cause) {
        throw cause.getCause();
      }
      throw e;
    } finally {
      ahead.forEach(f -> f.cancel(false));
    }
  }

  private static DisplayImage read(Source source, int frame) {
    try {
      return source.read(frame);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
