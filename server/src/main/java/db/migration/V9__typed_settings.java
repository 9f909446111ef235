package db.migration;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import org.flywaydb.core.api.migration.BaseJavaMigration;
import org.flywaydb.core.api.migration.Context;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import tools.jackson.databind.node.ObjectNode;

/**
 * Turns the settings of shots and runs into documents with a schema number. One that cannot be read
 * is set aside with the reason: its shot begins with the defaults, its run is no longer listed.
 */
public class V9__typed_settings extends BaseJavaMigration {
  private static final Logger LOG = LoggerFactory.getLogger(V9__typed_settings.class);

  @Override
  public void migrate(Context context) throws SQLException {
    Connection c = context.getConnection();
    shots(c);
    runs(c);
  }

  private static void shots(Connection c) throws SQLException {
    try (Statement all = c.createStatement();
        ResultSet r =
            all.executeQuery("select id, name, samples, passes, formats, settings from shot")) {
      while (r.next()) {
        String old = r.getString(6);
        RenderDocument d;
        try {
          ObjectNode now =
              OldSettings.now(Documents.object(old), r.getInt(3), r.getString(4), r.getString(5));
          d = Documents.read(now, RenderDocument.class);
        } catch (RuntimeException e) {
          setAside(c, "settings of shot " + r.getString(2), old, e);
          d = RenderDocument.DEFAULT;
        }
        update(c, "update shot set settings = ? where id = ?", Documents.write(d), r.getLong(1));
      }
    }
  }

  private static void runs(Connection c) throws SQLException {
    try (Statement all = c.createStatement();
        ResultSet r = all.executeQuery("select id, shot, number, settings from run")) {
      while (r.next()) {
        String old = r.getString(4);
        try {
          StrandDocument d =
              Documents.read(OldSettings.strand(Documents.object(old)), StrandDocument.class);
          update(c, "update run set settings = ? where id = ?", Documents.write(d), r.getLong(1));
        } catch (RuntimeException e) {
          setAside(c, "run " + r.getString(2) + " v" + r.getInt(3), old, e);
          update(c, "delete from run where ? is not null and id = ?", "", r.getLong(1));
        }
      }
    }
  }

  private static void update(Connection c, String sql, String text, long id) throws SQLException {
    try (PreparedStatement p = c.prepareStatement(sql)) {
      p.setString(1, text);
      p.setLong(2, id);
      p.executeUpdate();
    }
  }

  static void setAside(Connection c, String what, String document, RuntimeException why)
      throws SQLException {
    String reason =
        why instanceof IllegalArgumentException ? why.getMessage() : "not of a known shape";
    LOG.warn("{} could not be read and is set aside: {}", what, reason);
    String sql = "insert into set_aside (what, document, reason) values (?, ?, ?)";
    try (PreparedStatement p = c.prepareStatement(sql)) {
      p.setString(1, what);
      p.setString(2, document);
      p.setString(3, reason.substring(0, Math.min(2000, reason.length())));
      p.executeUpdate();
    }
  }
}
