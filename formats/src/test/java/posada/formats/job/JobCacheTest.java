package posada.formats.job;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.trace.RenderScene;

class JobCacheTest {
  private static final RenderScene SCENE =
      new RenderScene(
          new Scene(
              "empty",
              List.of(new Node("eye", -1, Trs.IDENTITY, null, -1, 0, -1)),
              List.of(),
              List.of(),
              List.of(),
              List.of(new Camera("eye", 1, 0)),
              List.of(),
              List.of(),
              Sky.PLAIN),
          Workers.CALLER);

  private final JobCache cache = new JobCache(64 << 20);

  @Test
  void whatIsMadeMayNeedOtherThings() throws Exception {
    // So often that two that need each other share a place in the cache's table.
    for (int i = 0; i < 3000; i++) {
      JobCache small = new JobCache(1 << 20);
      Path file = Path.of("scene-" + i);
      assertSame(SCENE, small.changed(file, List.of(i), () -> small.scene(file, () -> SCENE)));
    }
  }

  @Test
  void eachThingIsMadeOnceHoweverManyWantIt() throws Exception {
    AtomicInteger times = new AtomicInteger();
    CountDownLatch begun = new CountDownLatch(1), go = new CountDownLatch(1);
    JobCache.Making<RenderScene> slow =
        () -> {
          times.incrementAndGet();
          begun.countDown();
          await(go);
          return SCENE;
        };
    CompletableFuture<RenderScene> first = CompletableFuture.supplyAsync(() -> get(slow));
    await(begun);
    CompletableFuture<RenderScene> second = CompletableFuture.supplyAsync(() -> get(slow));
    go.countDown();
    assertSame(first.get(60, TimeUnit.SECONDS), second.get(60, TimeUnit.SECONDS));
    assertEquals(1, times.get());
  }

  @Test
  void whatWasStoppedOrFailedIsMadeAnew() throws Exception {
    assertNull(
        get(
            () -> {
              Stop always = () -> true;
              always.check();
              return SCENE;
            }));
    assertThrows(
        IllegalStateException.class,
        () ->
            get(
                () -> {
                  throw new IOException("gone");
                }));
    assertSame(SCENE, get(() -> SCENE));
  }

  private RenderScene get(JobCache.Making<RenderScene> make) {
    try {
      return cache.scene(Path.of("one"), make);
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  private static void await(CountDownLatch latch) {
    try {
      if (!latch.await(60, TimeUnit.SECONDS)) {
        throw new IllegalStateException("nothing came");
      }
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}
