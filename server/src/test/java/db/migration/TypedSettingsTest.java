package db.migration;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Set;
import org.flywaydb.core.Flyway;
import org.h2.jdbcx.JdbcConnectionPool;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import posada.core.settings.Crop;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.files.Delivery;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.ShotDocument;
import posada.server.definitions.LayerDocument;

/** A database of before the settings had a form, taken over. */
class TypedSettingsTest {
  private static final String OLD =
      """
      {"sampling": {"adaptive": true, "noiseThreshold": 0.01, "most": 99},
       "bounces": {"indirectClamp": 3}, "shutter": {"motionBlur": true, "phase": -90},
       "passes": {"occlusion": {"radius": 2}, "deep": {}, "lightGroups": {"air": ["surroundings"]},
                  "own": {"kind": {"quantity": "constant", "numbers": {"car": 2}}}},
       "layer": {"name": "cars", "sky": {"factor": 2, "color": [0.5, 1, 1]},
                 "lights": [{"match": ["a"], "factor": 3}],
                 "region": {"x": 1, "y": 2, "width": 3, "height": 4},
                 "settings": {"bounces": {"diffuse": 1}}},
       "files": {"perPass": true}, "clips": ["ride"], "background": false}
      """;

  private final JdbcConnectionPool pool = JdbcConnectionPool.create("jdbc:h2:mem:old", "sa", "");
  private final JdbcTemplate db = new JdbcTemplate(pool);

  @BeforeEach
  void before() {
    Flyway.configure().dataSource(pool).target("7").load().migrate();
    db.update(
        "insert into revision (production_id, scene, number, file_name, sha256, report, imported_at)"
            + " values (1, 's', 1, 's.glb', 'x', '{}', now())");
  }

  @AfterEach
  void close() {
    pool.dispose();
  }

  private void shot(String name, String settings) {
    db.update(
        "insert into shot (version, production_id, revision_id, name, camera, frames, width, height,"
            + " scale, samples, passes, formats, settings)"
            + " values (1, 1, 1, ?, 'c', '1-2', 64, 64, 100, 7, 'beauty,depth', 'exr,png', ?)",
        name,
        settings);
  }

  private void run(int number, String settings) {
    String document =
        """
        {"production": "p", "scene": "s", "revision": 1, "sceneSha256": "x", "sceneFile": "s.glb",
         "shot": "wide", "camera": "c", "frames": "1-2", "frameRate": 24, "width": 64, "height": 48,
         "samples": 5, "settings": %s, "passes": ["beauty"], "formats": ["exr"],
         "pattern": "{pass}/{shot}_{layer}_{pass}.{frame:4}", "version": 1, "date": "2026-11-01"}
        """
            .formatted(settings);
    db.update(
        "insert into run (production_id, shot_id, shot, number, state, settings, folder, folder_key,"
            + " started_at) values (1, 1, 'wide', ?, 'DONE', ?, 'f', 'p/wide', now())",
        number,
        document);
  }

  private void migrate() {
    Flyway.configure().dataSource(pool).load().migrate();
  }

  private <T> T document(String shot, Class<T> kind, String sql) {
    return Documents.read(db.queryForObject(sql, String.class, shot), kind);
  }

  /** All that is said about a shot's pictures, wherever it stands by now. */
  private RenderDocument settings(String shot) {
    String from = " from shot s join definition d on d.id = s.%s where s.name = ?";
    String strand = " from strand t join shot s on s.id = t.shot_id";
    String layer = strand + " join definition d on d.id = t.layer_id where s.name = ?";
    ShotDocument s = document(shot, ShotDocument.class, "select settings from shot where name = ?");
    LayerDocument l = document(shot, LayerDocument.class, "select d.document" + layer);
    String passes =
        db.queryForObject("select passes" + strand + " where s.name = ?", String.class, shot);
    return new RenderDocument(
        RenderDocument.SCHEMA,
        document(shot, Recipe.class, "select d.document" + from.formatted("recipe_id")),
        s.lens(),
        s.shutter(),
        s.crop(),
        s.clips(),
        l.background(),
        passes == null ? l.passes() : Documents.read(passes, PassSettings.class),
        l.layer(),
        l.environment(),
        document(shot, Delivery.class, "select d.document" + from.formatted("delivery_id")),
        null);
  }

  @Test
  void shotsKeepAllThatTheySaid() {
    shot("wide", OLD);
    shot("plain", "{}");
    migrate();
    RenderDocument d = settings("wide");
    assertEquals(7, d.recipe().sampling().most());
    assertEquals(0.01, d.recipe().sampling().noiseThreshold());
    assertEquals(3, d.recipe().bounces().indirectClamp());
    assertEquals(1, d.recipe().bounces().diffuse());
    assertEquals(-90, d.shutter().start());
    assertEquals(Set.of(Pass.BEAUTY, Pass.DEPTH), d.passes().wanted());
    assertEquals(2, d.passes().occlusionRadius());
    assertEquals(0.01, d.passes().deepTolerance());
    assertEquals(List.of("environment"), d.passes().lightGroups().get("air"));
    assertEquals(2, d.passes().own().get("kind").constants().get("car"));
    assertEquals("cars", d.layer().name());
    assertEquals(List.of(1f, 2f, 2f), d.layer().environment());
    assertEquals(List.of(3f, 3f, 3f), d.layer().lights().get(0).color());
    assertEquals(new Crop(1, 2, 3, 4, false), d.layer().region().fixed());
    assertEquals(List.of("ride"), d.clips());
    assertEquals(
        "exr,png", String.join(",", d.delivery().formats().stream().map(f -> f.label()).toList()));
    assertTrue(d.delivery().perPass() && !d.background());
    assertEquals(RenderDocument.DEFAULT.recipe().bounces(), settings("plain").recipe().bounces());
    assertEquals("main", settings("plain").layer().name());
  }

  @Test
  void whatShotsSaidAlikeBecomesOne() {
    shot("a", "{}");
    shot("b", "{}");
    shot("c", OLD);
    migrate();
    String names =
        "select kind || ' ' || name from definition where production_id = 1 and kind <> 'pass set' order by kind, place";
    assertEquals(
        List.of(
            "delivery comp",
            "delivery passes",
            "delivery display",
            "delivery exr-png",
            "delivery exr-png-2",
            "layer main",
            "layer cars",
            "recipe preview",
            "recipe medium",
            "recipe final",
            "recipe 7-samples",
            "recipe 7-samples-2"),
        db.queryForList(names, String.class));
    assertEquals(settings("a"), settings("b"));
  }

  @Test
  void whatBecameUnreadableSinceIsSetAsideToo() {
    shot("wide", "{}");
    Flyway.configure().dataSource(pool).target("11").load().migrate();
    db.update("update shot set settings = '{\"schema\": 7}'");
    migrate();
    String reason = db.queryForObject("select reason from set_aside", String.class);
    assertTrue(reason.contains("schema must be 1 (got 7)"), reason);
    assertEquals(RenderDocument.DEFAULT.recipe(), settings("wide").recipe());
  }

  @Test
  void runsKeepWhatTheyWereMadeFrom() {
    shot("wide", "{}");
    run(1, OLD);
    migrate();
    StrandDocument d =
        Documents.read(
            db.queryForObject("select settings from run_strand", String.class),
            StrandDocument.class);
    assertEquals(48, d.height());
    assertEquals(5, d.settings().recipe().sampling().most());
    assertEquals("cars", d.settings().layer().name());
  }

  @Test
  void whatCannotBeReadIsSetAsideWithTheReason() {
    shot("wide", "{\"samplng\": 3}");
    shot("odd", "{\"passes\": {\"lightGroups\": {\"air\": 5}}, \"layer\": {\"lights\": [3]}}");
    run(1, "{\"bounces\": {\"diffuse\": 99}}");
    run(2, "{}");
    migrate();
    assertEquals(
        List.of(
            "settings of shot wide: samplng is not known",
            "settings of shot odd: not of a known shape",
            "run wide v1: settings.recipe.bounces: diffuse bounces must be 0 .. 64 (got 99)"),
        db.query(
            "select what, reason from set_aside order by id",
            (r, i) -> r.getString(1) + ": " + r.getString(2).replaceFirst(";.*", "")));
    assertEquals(RenderDocument.DEFAULT.recipe(), settings("wide").recipe());
    assertEquals(List.of(2), db.queryForList("select version from run_strand", Integer.class));
  }

  /** What runs had rendered is in the ledger, though not known in detail. */
  @Test
  void framesOfRunsBecomeTasksAndTheirFilesAreInTheLedger() {
    shot("wide", "{}");
    run(1, "{}");
    run(2, "{}");
    String frame =
        "insert into frame (run_id, frame, state, attempts, seconds, fingerprint)"
            + " values (?, ?, ?, 1, 2.5, 'f')";
    db.update(frame, 1, 1, "FRESH");
    db.update(frame, 2, 1, "FRESH");
    db.update(frame, 2, 2, "FAILED");
    db.update("insert into bake (run_id, state, attempts, points) values (2, 'FRESH', 1, 300)");
    migrate();
    assertEquals(
        List.of("1 1 1 1 0 2.5", "2 2 2 1 1 5.0"),
        db.query(
            "select s.id, r.number, total, fresh, failed, seconds from run_strand s"
                + " join run r on r.id = s.run_id order by s.id",
            (r, i) ->
                String.join(
                    " ",
                    List.of(
                        r.getString(1),
                        r.getString(2),
                        r.getString(3),
                        r.getString(4),
                        r.getString(5),
                        r.getString(6)))));
    assertEquals(
        List.of("FRAME 1", "FRAME 2", "BAKE null"),
        db.query(
            "select kind, frame from task where strand_id = 2 order by id",
            (r, i) -> r.getString(1) + " " + r.getString(2)));
    assertEquals(
        List.of("1 of 2, "),
        db.query(
            "select frame, strand_id, parts from ledger",
            (r, i) -> r.getString(1) + " of " + r.getString(2) + ", " + r.getString(3)));
  }
}
