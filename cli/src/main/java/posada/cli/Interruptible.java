package posada.cli;

import java.io.IOException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicBoolean;
import posada.core.parallel.Stop;
import posada.core.trace.FrameFailure;
import posada.formats.files.FileTrouble;
import posada.formats.gltf.ImportException;

/** Work that Ctrl-C ends in an orderly way, and what is said when it goes wrong. */
final class Interruptible {
  private Interruptible() {}

  /** Something that is done until it is asked to stop; returns the exit code. */
  interface Work {
    int until(Stop stop) throws IOException, ImportException;
  }

  static int run(Work work) {
    CountDownLatch ended = new CountDownLatch(1);
    AtomicBoolean stopped = new AtomicBoolean();
    Thread hook =
        new Thread(
            () -> {
              stopped.set(true);
              try {
                ended.await();
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            });
    Runtime.getRuntime().addShutdownHook(hook);
    try {
      return work.until(stopped::get);
    } catch (ImportException | IllegalArgumentException | FrameFailure e) {
      System.err.println("posada: " + e.getMessage());
      return Main.USAGE;
    } catch (IOException e) {
      System.err.println("posada: " + FileTrouble.sentence(e));
      return Main.FAILED;
    } finally {
      ended.countDown();
    }
  }
}
