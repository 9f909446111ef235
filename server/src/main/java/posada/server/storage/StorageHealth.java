package posada.server.storage;

import com.zaxxer.hikari.SQLExceptionOverride.Override;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLTransientConnectionException;
import java.sql.Statement;
import java.util.Locale;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.dao.DataAccessException;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionException;
import posada.server.app.EventHub;
import posada.server.app.PosadaProperties;

/**
 * Watches the database and the disk of the data folder. Runs rest while either is in trouble and go
 * on by themselves: a full disk would close the database, and what is rendered then is lost.
 */
@Component
public class StorageHealth {
  private static final Logger LOG = LoggerFactory.getLogger(StorageHealth.class);
  private static final long LOOK_AGAIN_MILLIS = 500;

  /** Free bytes on the disk of the data. */
  interface FreeSpace {
    long bytes();
  }

  private final DataSource database;
  private final FreeSpace space;
  private final long reserve;
  private final EventHub events;
  private volatile boolean databaseFailed;

  /** Bytes that somebody waits to write. */
  private volatile long needed;

  private volatile Health last;

  @Autowired
  StorageHealth(
      DataSource database, DataFolder folder, PosadaProperties properties, EventHub events) {
    this(database, folder::freeBytes, properties.diskReserve().toBytes(), events);
  }

  StorageHealth(DataSource database, FreeSpace space, long reserve, EventHub events) {
    this.database = database;
    this.space = space;
    this.reserve = reserve;
    this.events = events;
    last = look();
  }

  /** Returns how it stands as of the last look, a second ago at most. */
  public Health now() {
    return last;
  }

  /** Looks again, and tells every page if something changed. */
  @Scheduled(fixedDelay = 1000)
  public void check() {
    tell(look());
  }

  private synchronized void tell(Health now) {
    boolean changed = now.state() != last.state();
    last = now;
    if (changed) {
      LOG.warn("{}", now.message() == null ? "Data can be kept again." : now.message());
    }
    if (changed || now.state() != Health.State.READY) {
      events.publish(now);
    }
  }

  private Health look() {
    long free = space.bytes();
    if (databaseFailed && !answers()) {
      return new Health(
          Health.State.DATABASE_FAILED,
          "The database does not answer. "
              + (hasRoom(0) ? "" : "The disk is full: delete files that are not needed. ")
              + "Runs rest and go on by themselves when it does; the server's log says what is wrong.",
          free,
          reserve);
    }
    databaseFailed = false;
    if (!hasRoom(needed)) {
      String task = needed == 0 ? "" : ", the next frame takes up to " + size(needed);
      return new Health(
          Health.State.DISK_FULL,
          "The disk is nearly full: "
              + size(free)
              + " are free, "
              + size(reserve)
              + " are kept for the database"
              + task
              + ". Runs rest and go on by themselves when there is room; delete files that are not needed.",
          free,
          reserve);
    }
    return new Health(Health.State.READY, null, free, reserve);
  }

  private static String size(long bytes) {
    return bytes >= 1_000_000_000
        ? String.format(Locale.ROOT, "%.1f GB", bytes / 1e9)
        : String.format(Locale.ROOT, "%.0f MB", bytes / 1e6);
  }

  /** Returns true if so many bytes fit on the disk beside the reserve. */
  public boolean hasRoom(long bytes) {
    return space.bytes() >= reserve + bytes;
  }

  /** Writes something, since a database on a full disk still reads. */
  private boolean answers() {
    try (Connection c = database.getConnection();
        Statement s = c.createStatement()) {
      s.execute("merge into heartbeat key (id) values (1, current_timestamp)");
      return true;
    } catch (SQLException e) {
      return false;
    }
  }

  /** Returns true if an error means that the database, not the statement, is in trouble. */
  public static boolean isDown(Throwable e) {
    for (Throwable t = e; t != null; t = t.getCause()) {
      if (t instanceof SQLException sql
          && new ClosedDatabase().adjudicate(sql) == Override.MUST_EVICT) {
        return true;
      }
      if (t instanceof SQLTransientConnectionException) {
        return true;
      }
    }
    return false;
  }

  /** Says that the database failed, so that it is waited for. */
  public void failed(Throwable e) {
    if (!databaseFailed) {
      LOG.error("the database failed", e);
    }
    databaseFailed = true;
    check();
  }

  /**
   * Waits until the database answers and the disk has room.
   *
   * @param bytes that are about to be written beside the reserve
   * @param stop ends the waiting
   * @return false if it was stopped
   */
  public boolean await(long bytes, BooleanSupplier stop) {
    needed = bytes;
    try {
      while (!stop.getAsBoolean()) {
        check();
        if (last.state() == Health.State.READY) {
          return true;
        }
        Thread.sleep(LOOK_AGAIN_MILLIS);
      }
      return false;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    } finally {
      needed = 0;
    }
  }

  /** Does what must be kept, again and again while the database is down, until it is stopped. */
  public void keep(Runnable change, BooleanSupplier stop) {
    kept(
        () -> {
          change.run();
          return true;
        },
        stop);
  }

  /**
   * Does what must be kept, again and again while the database is down.
   *
   * @return what it returned; null if the waiting was stopped
   */
  public <T> T kept(Supplier<T> change, BooleanSupplier stop) {
    while (true) {
      try {
        return change.get();
      } catch (DataAccessException | TransactionException e) {
        if (!isDown(e)) {
          throw e;
        }
        failed(e);
        if (!await(0, stop)) {
          return null;
        }
      }
    }
  }
}
