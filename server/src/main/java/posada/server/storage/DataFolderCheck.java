package posada.server.storage;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.sql.SQLException;
import java.util.List;
import org.springframework.boot.context.event.ApplicationEnvironmentPreparedEvent;
import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;
import org.springframework.context.ApplicationListener;
import org.springframework.core.env.Environment;

/**
 * Looks at the data folder before anything is opened in it, and clears away what a killed server
 * left behind. What is wrong with it ends the start with a sentence; nothing is overwritten.
 */
public class DataFolderCheck implements ApplicationListener<ApplicationEnvironmentPreparedEvent> {
  /** Folders of what only a running server needs. */
  static final List<String> PASSING = List.of("uploads", "server");

  /** Bytes of an empty database: its two heads and a block. */
  private static final long SMALLEST = 12_288;

  private static final String HOME = "posada.home";
  private static final String DATABASE = "posada.mv.db";

  @Override
  public void onApplicationEvent(ApplicationEnvironmentPreparedEvent event) {
    String home = event.getEnvironment().getProperty(HOME);
    if (home != null) {
      check(Path.of(home).toAbsolutePath().normalize());
    }
  }

  private static Path database(Path home) {
    return home.resolve("database").resolve(DATABASE);
  }

  static void check(Path home) {
    try {
      Files.createDirectories(home);
      Path trial = Files.createTempFile(home, "trial", ".tmp");
      Files.delete(trial);
    } catch (IOException e) {
      throw new Unusable(
          "The data folder " + home + " cannot be written in.",
          "Give this user the right to, or choose another folder by POSADA_HOME.",
          e);
    }
    Path database = database(home);
    try {
      if (Files.exists(database)) {
        whole(database);
      }
      for (String passing : PASSING) {
        Path folder = home.resolve(passing);
        if (Files.isDirectory(folder)) {
          DataFolder.remove(folder);
        }
        Files.createDirectories(folder);
      }
      Files.deleteIfExists(home.resolve("backups").resolve(BackupController.MAKING));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static void whole(Path database) throws IOException {
    try (FileChannel file = FileChannel.open(database, StandardOpenOption.WRITE);
        FileLock lock = file.tryLock()) {
      if (lock == null) {
        throw inUse(database, null);
      }
    } catch (OverlappingFileLockException e) {
      throw inUse(database, e);
    }
    Path mark = mark(database);
    String left = Files.exists(mark) ? Files.readString(mark) : "";
    long least = left.matches("\\d{1,18}") ? Math.max(SMALLEST, Long.parseLong(left)) : SMALLEST;
    if (Files.size(database) < least) {
      throw damaged(database, null);
    }
    Files.deleteIfExists(mark);
  }

  /** Says how large a database was when its server ended. */
  private static Path mark(Path database) {
    return database.resolveSibling(DATABASE + ".size");
  }

  /**
   * Notes how large the database is, after a server has closed it: the beginning of one alone would
   * open as it once was.
   */
  public static void left(Path home) {
    Path database = database(home);
    try {
      if (Files.exists(database)) {
        Files.writeString(mark(database), Long.toString(Files.size(database)));
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Unusable inUse(Path database, Exception e) {
    return new Unusable(
        "The database " + database + " is held by another program, such as another Posada.",
        "End that one, or choose another folder by POSADA_HOME.",
        e);
  }

  /** Keeps a copy of a database that cannot be read. */
  static Unusable damaged(Path database, Throwable e) {
    Path copy = database.resolveSibling(DATABASE + ".damaged");
    String kept;
    try {
      for (int k = 2; Files.exists(copy); k++) {
        copy = database.resolveSibling(DATABASE + ".damaged-" + k);
      }
      Files.copy(database, copy, StandardCopyOption.COPY_ATTRIBUTES);
      kept = " A copy is kept as " + copy.getFileName() + ".";
    } catch (IOException x) {
      kept = " It stays as it is.";
    }
    return new Unusable(
        "The database " + database + " is damaged or cut short." + kept,
        "Bring back a copy with bin/restore FILE, from the folder backups; the rendered files and "
            + "the scenes are untouched.",
        e);
  }

  /** A data folder that the server cannot use. */
  static final class Unusable extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final String what, wayOut;

    Unusable(String what, String wayOut, Throwable e) {
      super(what + " " + wayOut, e);
      this.what = what;
      this.wayOut = wayOut;
    }
  }

  /** Says it without a stack trace. */
  static final class Said extends AbstractFailureAnalyzer<Unusable> {
    @Override
    protected FailureAnalysis analyze(Throwable root, Unusable e) {
      return new FailureAnalysis(e.what, e.wayOut, e);
    }
  }

  /** Says what the database said as it was opened. */
  static final class Opened extends AbstractFailureAnalyzer<SQLException> {
    private static final int IN_USE = 90020, CORRUPT = 90030, OTHER_FORMAT = 90048;
    private final Path home;

    Opened(Environment environment) {
      home = Path.of(environment.getRequiredProperty(HOME)).toAbsolutePath().normalize();
    }

    @Override
    protected FailureAnalysis analyze(Throwable root, SQLException e) {
      Path database = database(home);
      Unusable u =
          switch (e.getErrorCode()) {
            case IN_USE -> inUse(database, e);
            case CORRUPT, OTHER_FORMAT -> damaged(database, e);
            default -> null;
          };
      return u == null ? null : new FailureAnalysis(u.what, u.wayOut, root);
    }
  }
}
