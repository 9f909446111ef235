package posada.server.storage;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.boot.diagnostics.FailureAnalysis;
import org.springframework.core.env.MapPropertySource;
import org.springframework.core.env.StandardEnvironment;

/** A data folder that cannot be used is told in a sentence, and nothing in it is lost. */
class DataFolderCheckTest {
  @TempDir Path home;

  private Path database() throws Exception {
    return Files.createDirectories(home.resolve("database")).resolve("posada.mv.db");
  }

  private String url() {
    return "jdbc:h2:file:" + home.resolve("database/posada");
  }

  private void filled() throws Exception {
    database();
    try (Connection c = DriverManager.getConnection(url());
        Statement s = c.createStatement()) {
      s.execute("create table t(a varchar) as select repeat('x', 900) from system_range(1, 3000)");
    }
  }

  private String refused() {
    return assertThrows(RuntimeException.class, () -> DataFolderCheck.check(home)).getMessage();
  }

  @Test
  void aFolderThatCannotBeWrittenIsNamed() throws Exception {
    Path file = Files.createFile(home.resolve("file"));
    String said =
        assertThrows(RuntimeException.class, () -> DataFolderCheck.check(file.resolve("data")))
            .getMessage();
    assertTrue(said.contains("cannot be written") && said.contains("POSADA_HOME"), said);
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 5000})
  void aDatabaseThatIsCutShortIsKeptAndNeverOverwritten(int left) throws Exception {
    filled();
    byte[] cut = java.util.Arrays.copyOf(Files.readAllBytes(database()), left);
    Files.write(database(), cut);
    for (int k = 0; k < 2; k++) {
      String said = refused();
      assertTrue(said.contains("cut short") && said.contains("bin/restore"), said);
    }
    assertArrayEquals(cut, Files.readAllBytes(database()));
    assertArrayEquals(cut, Files.readAllBytes(home.resolve("database/posada.mv.db.damaged-2")));
  }

  /** Its beginning opens, as it once was: what came later would be lost without a word. */
  @Test
  void aDatabaseWhoseEndIsMissingIsKept() throws Exception {
    filled();
    DataFolderCheck.left(home);
    byte[] whole = Files.readAllBytes(database());
    byte[] cut = java.util.Arrays.copyOf(whole, whole.length - 4096);
    Files.write(database(), cut);
    assertTrue(refused().contains("cut short"));
    assertArrayEquals(cut, Files.readAllBytes(database()));
    Files.write(database(), whole);
    DataFolderCheck.check(home);
    // From now on a server is at work, which may be killed.
    Files.write(database(), cut);
    DataFolderCheck.check(home);
  }

  /** Whatever is wrong inside, the database itself says so as it is opened. */
  @Test
  void aDatabaseThatIsDamagedInsideIsToldAsItIsOpened() throws Exception {
    filled();
    byte[] b = Files.readAllBytes(database());
    java.util.Arrays.fill(b, 0, b.length, (byte) 7);
    Files.write(database(), b);
    DataFolderCheck.check(home);
    SQLException e =
        assertThrows(
            SQLException.class, () -> DriverManager.getConnection(url() + ";IFEXISTS=TRUE"));
    StandardEnvironment environment = new StandardEnvironment();
    environment
        .getPropertySources()
        .addFirst(new MapPropertySource("test", Map.of("posada.home", home.toString())));
    FailureAnalysis said = new DataFolderCheck.Opened(environment).analyze(new RuntimeException(e));
    assertTrue(said.getDescription().contains("damaged"), said.getDescription());
    assertArrayEquals(b, Files.readAllBytes(home.resolve("database/posada.mv.db.damaged")));
    assertArrayEquals(b, Files.readAllBytes(database()));
  }

  @Test
  void aDatabaseThatIsHeldIsLeftAlone() throws Exception {
    filled();
    try (FileChannel f = FileChannel.open(database(), StandardOpenOption.WRITE);
        FileLock held = f.lock()) {
      assertTrue(held.isValid());
      String said = refused();
      assertTrue(said.contains("held by another program"), said);
    }
    DataFolderCheck.check(home);
  }

  @Test
  void whatAKilledServerLeftIsClearedAway() throws Exception {
    Path upload = Files.createDirectories(home.resolve("uploads")).resolve("upload_1.tmp");
    Files.writeString(upload, "half a scene");
    Path work = Files.createDirectories(home.resolve("server/work/Tomcat")).resolve("x");
    Files.writeString(work, "x");
    DataFolderCheck.check(home);
    assertFalse(Files.exists(upload) || Files.exists(work));
    assertEquals(2, Files.list(home).filter(Files::isDirectory).count());
  }
}
