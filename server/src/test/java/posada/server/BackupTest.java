package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import org.h2.tools.Restore;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The database is copied while it is in use, and the copy can be brought back. */
class BackupTest extends ServerCase {
  @Test
  void aCopyIsTheDatabaseAsItWas() throws Exception {
    ObjectNode shot = shot("kept", "eye");
    JsonNode copy = send("POST", "/api/backups", "").json();
    Path file = Path.of(copy.get("file").asString());
    assertEquals(copy.get("bytes").asLong(), Files.size(file));
    assertTrue(file.startsWith(home.resolve("backups")));
    assertEquals(200, change(shot.put("name", "changed")).status());
    Path there = Files.createDirectories(home.resolve("restored"));
    Restore.execute(file.toString(), there.toString(), "posada");
    try (Connection c =
            DriverManager.getConnection("jdbc:h2:file:" + there.resolve("posada"), "sa", "");
        ResultSet r = c.createStatement().executeQuery("select name from shot")) {
      assertTrue(r.next());
      assertEquals("eye", r.getString(1));
    }
  }

  /** Old copies go; the disk is not filled by them. */
  @Test
  void thirtyCopiesAreKept() throws Exception {
    for (int k = 0; k < 33; k++) {
      assertEquals(200, send("POST", "/api/backups", "").status());
    }
    assertEquals(30, Files.list(home.resolve("backups")).count());
  }
}
