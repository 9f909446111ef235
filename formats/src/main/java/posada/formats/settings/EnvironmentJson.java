package posada.formats.settings;

import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.format.DateTimeParseException;
import java.time.temporal.ChronoUnit;
import java.util.Map;
import posada.core.geometry.Vec3;
import posada.core.scene.DaySky;
import posada.core.scene.Environment;
import posada.core.scene.Sky;
import posada.core.scene.Track;

/**
 * Surroundings as JSON: a gradient of {@code zenith}, {@code horizon} and {@code ground} with
 * {@code glow} and {@code haze}; a {@code picture}; sun and sky of a {@code day}; {@code ambient}
 * light. All of it may be left out; what is there adds up.
 */
public final class EnvironmentJson {
  private static final LocalDate FIRST_DAY = LocalDate.of(2000, 1, 1);

  private EnvironmentJson() {}

  /**
   * Returns the surroundings that a JSON object describes.
   *
   * @param values the object as maps and lists
   * @param folder where pictures are looked for; null if none may be named
   * @throws IllegalArgumentException naming the entry and its value if something is wrong
   */
  public static Environment read(Map<?, ?> values, Path folder) throws IOException {
    return read(new JsonObject("sky", values), folder);
  }

  static Environment read(JsonObject o, Path folder) throws IOException {
    Environment e =
        new Environment(
            gradient(o),
            o.has("picture") ? picture(o.object("picture"), folder) : null,
            o.has("day") ? day(o.object("day")) : null,
            o.color("ambient", new float[3]));
    o.end();
    return e;
  }

  private static Sky gradient(JsonObject o) {
    boolean there = o.has("horizon") || o.has("zenith") || o.has("ground");
    float base = there ? 1 : 0;
    float[] horizon = o.color("horizon", new float[] {base, base, base});
    JsonObject glow = o.object("glow");
    float[] d = glow.color("direction", new float[] {0, 1, 0});
    Sky s =
        new Sky(
            o.color("zenith", horizon),
            horizon,
            o.color("ground", horizon),
            new Vec3(d[0], d[1], d[2]),
            glow.color("color", new float[3]),
            glow.number("sharpness", 1),
            o.number("haze", 0));
    glow.end();
    return s;
  }

  private static Environment.Picture picture(JsonObject o, Path folder) throws IOException {
    String file = o.text("file", null);
    if (file == null) {
      throw o.wrong("file", "the name of an .exr or .hdr file");
    }
    if (folder == null) {
      throw o.wrong("file", "left out: pictures cannot be named here");
    }
    Path base = folder.toAbsolutePath().normalize();
    Path path = base.resolve(file).normalize();
    if (!path.startsWith(base)) {
      throw o.wrong("file", "in the same folder or below");
    }
    Environment.Picture p =
        new Environment.Picture(
            file,
            EnvironmentPicture.read(path),
            o.track("rotation", Track.of(0)),
            o.track("strength", Track.of(1)));
    o.end();
    return p;
  }

  private static DaySky day(JsonObject o) {
    DaySky d =
        new DaySky(
            model(o),
            o.track("latitude", Track.of(46.5)),
            o.track("longitude", Track.of(9.8)),
            o.track("date", Track.of(days("2026-06-21")), "a date like 2026-06-21", v -> days(v)),
            o.track("time", Track.of(12), "a time like 14:30 or a number of hours", v -> hours(v)),
            o.track("zone", Track.of(0)),
            o.track("turbidity", Track.of(3)),
            o.track("strength", Track.of(1)),
            o.track("sun", Track.of(1)),
            o.track("north", Track.of(0)),
            o.color("ground", new float[] {0.2f, 0.2f, 0.2f}));
    o.end();
    return d;
  }

  private static DaySky.Model model(JsonObject o) {
    String name = o.text("model", "physical");
    if (name.equals("physical")) {
      return DaySky.Model.PHYSICAL;
    }
    if (name.matches("standard-([1-9]|1[0-5])")) {
      return new DaySky.Model(Integer.parseInt(name.substring("standard-".length())));
    }
    throw o.wrong("model", "physical, or standard-1 .. standard-15");
  }

  private static double days(Object o) {
    try {
      return o instanceof String s
          ? ChronoUnit.DAYS.between(FIRST_DAY, LocalDate.parse(s))
          : Double.NaN;
    } catch (DateTimeParseException e) {
      return Double.NaN;
    }
  }

  private static double hours(Object o) {
    if (o instanceof Number n) {
      return n.doubleValue();
    }
    try {
      return o instanceof String s ? LocalTime.parse(s).toSecondOfDay() / 3600.0 : Double.NaN;
    } catch (DateTimeParseException e) {
      return Double.NaN;
    }
  }
}
