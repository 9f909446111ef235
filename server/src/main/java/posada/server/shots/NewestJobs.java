package posada.server.shots;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Function;
import java.util.function.IntConsumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import posada.core.parallel.Stop;
import posada.formats.files.FileTrouble;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;

/**
 * What is drawn on threads of its own: the newest of each owner; asking for another stops the one
 * before, and removes its file.
 */
final class NewestJobs<J extends NewestJobs.Job<J>> {
  private static final Logger LOG = LoggerFactory.getLogger(NewestJobs.class);

  /** Seconds from one word about progress to the next. */
  private static final double TOLD = 0.2;

  /** A job as it stands. */
  interface Job<J> {
    long id();

    /** Number of what it is drawn of. */
    long owner();

    PreviewJob.State state();

    int total();

    J at(PreviewJob.State now, int frames, double seconds);

    J failed(String why);
  }

  /** Draws, and writes a file. */
  interface Drawing {
    /** Returns false if it was stopped. */
    boolean draw(Stop stop, IntConsumer done) throws IOException;
  }

  private final EventHub events;
  private final RenderThreads pool;
  private final Function<J, Path> file;
  private final AtomicLong numbers = new AtomicLong();
  private final Map<Long, J> jobs = new ConcurrentHashMap<>();
  private final ExecutorService threads;

  /**
   * @param name of its threads
   * @param file of a job
   */
  NewestJobs(String name, EventHub events, RenderThreads pool, Function<J, Path> file) {
    this.events = events;
    this.pool = pool;
    this.file = file;
    threads =
        Executors.newCachedThreadPool(
            r -> {
              Thread t = new Thread(r, name);
              t.setDaemon(true);
              return t;
            });
  }

  long number() {
    return numbers.incrementAndGet();
  }

  /** Begins a job in place of the one before. */
  synchronized J begin(J job, Drawing drawing) {
    J before = jobs.put(job.owner(), job);
    if (before != null) {
      forget(before);
    }
    threads.execute(() -> draw(job, drawing));
    return job;
  }

  private void draw(J job, Drawing drawing) {
    long start = System.nanoTime();
    double[] told = {0};
    AtomicReference<J> at = new AtomicReference<>(job);
    IntConsumer done =
        n -> {
          double seconds = (System.nanoTime() - start) / 1e9;
          J now = job.at(PreviewJob.State.DRAWING, n, seconds);
          at.set(now);
          if (seconds - told[0] >= TOLD) {
            told[0] = seconds;
            put(now);
          }
        };
    try (RenderThreads.Watched first = pool.watch()) {
      if (drawing.draw(() -> !drawing(job), done)) {
        double seconds = (System.nanoTime() - start) / 1e9;
        put(job.at(PreviewJob.State.READY, job.total(), seconds));
      }
      if (!known(job)) {
        forget(job);
      }
    } catch (ConflictException e) {
      put(at.get().failed(e.getMessage()));
    } catch (IOException | IllegalArgumentException e) {
      put(at.get().failed(FileTrouble.sentence(e)));
    } catch (RuntimeException | OutOfMemoryError e) {
      LOG.warn("a preview of {} failed", job.owner(), e);
      put(at.get().failed("The preview could not be drawn: " + e));
    }
  }

  private void forget(J job) {
    try {
      Files.deleteIfExists(file.apply(job));
    } catch (IOException e) {
      LOG.warn("preview {} is left behind", job.id(), e);
    }
  }

  /** Keeps the state of a job that is still wanted. */
  private void put(J now) {
    J kept =
        jobs.computeIfPresent(
            now.owner(),
            (owner, j) -> j.id() == now.id() && j.state() == PreviewJob.State.DRAWING ? now : j);
    if (kept == now) {
      events.publish(now);
    }
  }

  private boolean known(J job) {
    J now = jobs.get(job.owner());
    return now != null && now.id() == job.id();
  }

  private boolean drawing(J job) {
    return known(job) && jobs.get(job.owner()).state() == PreviewJob.State.DRAWING;
  }

  Optional<J> newest(long owner) {
    return Optional.ofNullable(jobs.get(owner));
  }

  /** Stops a job; one that is finished stays. */
  J stop(J job, int done, double seconds) {
    put(job.at(PreviewJob.State.STOPPED, done, seconds));
    return jobs.get(job.owner());
  }

  /** Stops and removes the job of an owner that is gone. */
  synchronized void remove(long owner) {
    J job = jobs.remove(owner);
    if (job != null) {
      forget(job);
    }
  }
}
