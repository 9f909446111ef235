package posada.server.storage;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.isA;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.nio.file.Path;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.core.JdbcTemplate;
import posada.server.app.EventHub;

class StorageHealthTest {
  private static final long RESERVE = 100_000_000;

  @TempDir Path folder;
  private final AtomicLong free = new AtomicLong(10 * RESERVE);
  private final EventHub events = mock(EventHub.class);
  private HikariDataSource pool;
  private JdbcTemplate db;
  private StorageHealth health;

  @BeforeEach
  void open() {
    FillingDisk.register();
    HikariConfig c = new HikariConfig();
    c.setJdbcUrl("jdbc:h2:filling:" + folder.resolve("db") + ";WRITE_DELAY=0");
    c.setUsername("sa");
    c.setConnectionTimeout(1000);
    c.setExceptionOverrideClassName(ClosedDatabase.class.getName());
    pool = new HikariDataSource(c);
    db = new JdbcTemplate(pool);
    db.execute("create table heartbeat(id int primary key, at timestamp)");
    db.execute("create table production(id int primary key)");
    health = new StorageHealth(pool, free::get, RESERVE, events);
  }

  @AfterEach
  void close() {
    FillingDisk.full = false;
    pool.close();
  }

  private int add(int id) {
    return db.update("insert into production values (?)", id);
  }

  /**
   * H2 closes itself for good when it cannot write; nothing that was to be kept may be lost. {@code
   * -Dposada.attack.fills=N} fills the disk so often.
   */
  @Test
  void whatMustBeKeptIsKeptWhenTheDatabaseIsBack() throws Exception {
    int fills = Integer.getInteger("posada.attack.fills", 2);
    add(0);
    for (int k = 1; k <= fills; k++) {
      int id = k;
      FillingDisk.full = true;
      CompletableFuture<Integer> kept =
          CompletableFuture.supplyAsync(() -> health.kept(() -> add(id), () -> false));
      verify(events, timeout(10_000).atLeastOnce()).publish(isA(Health.class));
      long end = System.nanoTime() + 10_000_000_000L;
      while (health.now().state() != Health.State.DATABASE_FAILED) {
        assertTrue(System.nanoTime() < end, "nobody noticed");
        Thread.sleep(10);
      }
      assertFalse(kept.isDone());
      FillingDisk.full = false;
      assertEquals(1, kept.get());
      assertEquals(Health.State.READY, health.now().state());
      assertNull(health.now().message());
      assertEquals(k + 1, db.queryForObject("select count(*) from production", Integer.class));
    }
  }

  @Test
  void whoWaitsForTheDatabaseCanBeStopped() {
    FillingDisk.full = true;
    long stop = System.nanoTime() + 1_500_000_000L;
    assertNull(health.kept(() -> add(2), () -> System.nanoTime() > stop));
  }

  @Test
  void anErrorOfTheStatementIsNoneOfTheDatabase() {
    add(1);
    assertThrows(DuplicateKeyException.class, () -> health.kept(() -> add(1), () -> false));
    assertEquals(Health.State.READY, health.now().state());
    verify(events, never()).publish(any());
  }

  @Test
  void aDiskThatIsNearlyFullIsToldAndWaitedFor() throws Exception {
    assertTrue(health.await(5 * RESERVE, () -> false));
    free.set(3 * RESERVE / 2);
    assertFalse(health.hasRoom(RESERVE));
    CompletableFuture<Boolean> room =
        CompletableFuture.supplyAsync(() -> health.await(RESERVE, () -> false));
    verify(events, timeout(10_000).atLeastOnce()).publish(isA(Health.class));
    Health now = health.now();
    assertEquals(Health.State.DISK_FULL, now.state());
    assertTrue(
        now.message()
            .startsWith(
                "The disk is nearly full: 150 MB are free, 100 MB are kept for the database, the next frame takes up to 100 MB."),
        now.message());
    assertFalse(room.isDone());
    free.set(2 * RESERVE);
    assertTrue(room.get());
  }
}
