package db.migration;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import org.flywaydb.core.api.migration.BaseJavaMigration;
import org.flywaydb.core.api.migration.Context;
import posada.core.settings.PassSettings;
import posada.formats.files.FileFormat;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.ShotDocument;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.definitions.Standards;

/**
 * Takes what shots said about their pictures apart into recipes, layers and deliveries, which the
 * shots name from then on. What two shots said alike becomes one.
 */
public class V13__settings_apart extends BaseJavaMigration {
  private static final int LONGEST_NAME = 36;
  private static final PassSettings PASSES = Standards.layers().get("main").passes();

  @Override
  public void migrate(Context context) throws SQLException {
    Connection c = context.getConnection();
    for (long p : ids(c, "select id from production order by id")) {
      production(c, p);
    }
    versionsOfStrands(c);
    // States of shots are of another form from here on.
    try (Statement s = c.createStatement()) {
      s.executeUpdate("delete from change where kind = 'shot'");
    }
  }

  /** Several strands of a shot may have a version of the same number from here on. */
  private static void versionsOfStrands(Connection c) throws SQLException {
    String old =
        "select constraint_name from information_schema.table_constraints"
            + " where table_name = 'RUN' and constraint_type = 'UNIQUE'"
            + " and constraint_name <> 'RUN_VERSION'";
    List<String> names = new ArrayList<>();
    try (Statement s = c.createStatement();
        ResultSet r = s.executeQuery(old)) {
      while (r.next()) {
        names.add(r.getString(1));
      }
    }
    try (Statement s = c.createStatement()) {
      for (String name : names) {
        s.executeUpdate("alter table run drop constraint \"" + name + "\"");
      }
    }
  }

  /** A layer that says what shots said of theirs; other passes are the strand's own. */
  private static LayerDocument layer(RenderDocument d) {
    return new LayerDocument(d.layer(), PASSES, d.background(), d.environment(), null, null);
  }

  private static void production(Connection c, long production) throws SQLException {
    Made recipes = new Made(c, production, Recipes.KIND, Standards.recipes());
    Made deliveries = new Made(c, production, Deliveries.KIND, Standards.deliveries());
    Made layers = new Made(c, production, Layers.KIND, Standards.layers());
    String sql = "select id, settings, name from shot where production_id = ? order by id";
    try (PreparedStatement shots = c.prepareStatement(sql)) {
      shots.setLong(1, production);
      try (ResultSet r = shots.executeQuery()) {
        while (r.next()) {
          RenderDocument d;
          try {
            d = Documents.read(r.getString(2), RenderDocument.class);
          } catch (RuntimeException e) {
            V9__typed_settings.setAside(c, "settings of shot " + r.getString(3), r.getString(2), e);
            d = RenderDocument.DEFAULT;
          }
          long id = r.getLong(1);
          String samples = d.recipe().sampling().most() + "-samples";
          String formats =
              d.delivery().formats().stream()
                  .map(FileFormat::label)
                  .collect(Collectors.joining("-"));
          update(
              c,
              "update shot set settings = ?, recipe_id = ?, delivery_id = ? where id = ?",
              Documents.write(ShotDocument.of(d)),
              recipes.of(samples, d.recipe()),
              deliveries.of(formats, d.delivery()),
              id);
          update(
              c,
              "insert into strand (shot_id, layer_id, is_on, passes) values (?, ?, ?, ?)",
              id,
              layers.of(d.layer().name(), layer(d)),
              true,
              d.passes().equals(PASSES) ? null : Documents.write(d.passes()));
        }
      }
    }
  }

  /** What there is of one kind by now, by what it says. */
  private static final class Made {
    private final Connection c;
    private final long production;
    private final String kind;
    private final Map<String, Long> byDocument = new LinkedHashMap<>();
    private final List<String> names = new ArrayList<>();

    private Made(Connection c, long production, String kind, Map<String, ?> standards)
        throws SQLException {
      this.c = c;
      this.production = production;
      this.kind = kind;
      for (Map.Entry<String, ?> e : standards.entrySet()) {
        add(e.getKey(), e.getValue());
      }
    }

    private long of(String wanted, Object document) throws SQLException {
      Long there = byDocument.get(Documents.write(document));
      return there == null ? add(free(wanted), document) : there;
    }

    /** A name as definitions have it. */
    private String free(String wanted) {
      String plain =
          wanted.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9_-]+", "-").replaceAll("^[-_]+", "");
      String first =
          plain.isEmpty() ? kind : plain.substring(0, Math.min(LONGEST_NAME, plain.length()));
      String name = first;
      for (int k = 2; names.contains(name); k++) {
        name = first + "-" + k;
      }
      return name;
    }

    private long add(String name, Object document) throws SQLException {
      String written =
          Documents.write(document instanceof LayerDocument l ? l.named(name) : document);
      String sql =
          "insert into definition (version, production_id, kind, name, place, document)"
              + " values (1, ?, ?, ?, ?, ?)";
      try (PreparedStatement p = c.prepareStatement(sql, Statement.RETURN_GENERATED_KEYS)) {
        p.setLong(1, production);
        p.setString(2, kind);
        p.setString(3, name);
        p.setInt(4, names.size());
        p.setString(5, written);
        p.executeUpdate();
        try (ResultSet keys = p.getGeneratedKeys()) {
          keys.next();
          long id = keys.getLong(1);
          names.add(name);
          byDocument.put(Documents.write(document), id);
          return id;
        }
      }
    }
  }

  private static List<Long> ids(Connection c, String sql) throws SQLException {
    List<Long> all = new ArrayList<>();
    try (Statement s = c.createStatement();
        ResultSet r = s.executeQuery(sql)) {
      while (r.next()) {
        all.add(r.getLong(1));
      }
    }
    return all;
  }

  private static void update(Connection c, String sql, Object... values) throws SQLException {
    try (PreparedStatement p = c.prepareStatement(sql)) {
      for (int i = 0; i < values.length; i++) {
        p.setObject(i + 1, values[i]);
      }
      p.executeUpdate();
    }
  }
}
