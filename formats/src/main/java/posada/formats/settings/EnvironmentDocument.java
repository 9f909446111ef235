package posada.formats.settings;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import posada.core.geometry.Vec3;
import posada.core.scene.DaySky;
import posada.core.scene.Environment;
import posada.core.scene.Sky;
import posada.core.scene.Track;

/**
 * An environment as it is written down. All of it may be left out; what is there adds up.
 *
 * @param zenith colour straight up: red, green, blue; null for that of the horizon
 * @param horizon colour around; null for white if one of the others is there, else for none
 * @param ground colour below; null for that of the horizon
 * @param glow around one direction
 * @param haze 0 or more
 * @param picture of all directions; null for none
 * @param day sun and sky of a place and time; null for none
 * @param ambient light that reaches every surface: red, green, blue
 */
public record EnvironmentDocument(
    List<Float> zenith,
    List<Float> horizon,
    List<Float> ground,
    Glow glow,
    double haze,
    Picture picture,
    Day day,
    List<Float> ambient) {
  static final EnvironmentDocument DEFAULT =
      new EnvironmentDocument(null, null, null, Glow.DEFAULT, 0, null, null, List.of(0f, 0f, 0f));

  /**
   * A glow of the sky.
   *
   * @param direction x, y, z
   * @param color red, green, blue
   * @param sharpness above 0
   */
  public record Glow(List<Float> direction, List<Float> color, double sharpness) {
    static final Glow DEFAULT = new Glow(List.of(0f, 1f, 0f), List.of(0f, 0f, 0f), 1);

    public Glow {
      three("glow direction", direction);
      three("glow colour", color);
    }
  }

  /**
   * A picture of all directions.
   *
   * @param file name of an .exr or .hdr file beside the document or the scene
   * @param rotation degrees
   * @param strength factor
   */
  public record Picture(String file, Track rotation, Track strength) {
    public Picture {
      if (file == null || file.isBlank()) {
        throw new IllegalArgumentException("file must be the name of an .exr or .hdr file");
      }
    }
  }

  /**
   * Sun and sky of a place and time; see {@link DaySky}.
   *
   * @param model physical, or standard-1 .. standard-15
   */
  public record Day(
      String model,
      Track latitude,
      Track longitude,
      Dates date,
      Times time,
      Track zone,
      Track turbidity,
      Track strength,
      Track sun,
      Track north,
      List<Float> ground) {
    public Day {
      kind(model);
      three("ground", ground);
    }

    private static DaySky.Model kind(String name) {
      if ("physical".equals(name)) {
        return DaySky.Model.PHYSICAL;
      }
      if (name != null && name.matches("standard-([1-9]|1[0-5])")) {
        return new DaySky.Model(Integer.parseInt(name.substring("standard-".length())));
      }
      throw new IllegalArgumentException(
          "model must be physical, or standard-1 .. standard-15 (got " + name + ")");
    }

    private DaySky sky() {
      return new DaySky(
          kind(model),
          latitude,
          longitude,
          date.days(),
          time.hours(),
          zone,
          turbidity,
          strength,
          sun,
          north,
          floats(ground));
    }
  }

  public EnvironmentDocument {
    three("zenith", zenith);
    three("horizon", horizon);
    three("ground", ground);
    three("ambient", ambient);
    sky(zenith, horizon, ground, glow, haze);
    if (day != null) {
      day.sky();
    }
  }

  private static void three(String what, List<Float> c) {
    if (c != null && (c.size() != 3 || c.stream().anyMatch(v -> v == null))) {
      throw new IllegalArgumentException(what + " must be three numbers (got " + c + ")");
    }
  }

  private static float[] floats(List<Float> c) {
    return new float[] {c.get(0), c.get(1), c.get(2)};
  }

  private static Sky sky(
      List<Float> zenith, List<Float> horizon, List<Float> ground, Glow glow, double haze) {
    float base = zenith != null || horizon != null || ground != null ? 1 : 0;
    float[] around = horizon == null ? new float[] {base, base, base} : floats(horizon);
    List<Float> d = glow.direction;
    return new Sky(
        zenith == null ? around : floats(zenith),
        around,
        ground == null ? around : floats(ground),
        new Vec3(d.get(0), d.get(1), d.get(2)),
        floats(glow.color),
        glow.sharpness,
        haze);
  }

  /**
   * Returns the environment, with its picture read.
   *
   * @param folder where pictures are looked for; null if none may be named
   * @throws IllegalArgumentException if the picture lies outside the folder
   * @throws IOException naming the file if it is missing or damaged
   */
  public Environment read(Path folder) throws IOException {
    return new Environment(
        sky(zenith, horizon, ground, glow, haze),
        picture == null ? null : read(picture, folder),
        day == null ? null : day.sky(),
        floats(ambient));
  }

  private static Environment.Picture read(Picture p, Path folder) throws IOException {
    if (folder == null) {
      throw new IllegalArgumentException(
          "environment.picture.file must be left out: pictures cannot be named here (got "
              + p.file
              + ")");
    }
    Path base = folder.toAbsolutePath().normalize();
    Path path = base.resolve(p.file).normalize();
    if (!path.startsWith(base)) {
      throw new IllegalArgumentException(
          "environment.picture.file must be in the same folder or below (got " + p.file + ")");
    }
    return new Environment.Picture(p.file, EnvironmentPicture.read(path), p.rotation, p.strength);
  }
}
