package posada.cli;

import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.function.IntConsumer;
import java.util.regex.Pattern;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import posada.core.plan.NamePattern;
import posada.formats.preview.PreviewFilm;
import posada.formats.preview.PreviewRecipe;
import posada.formats.settings.Documents;
import tools.jackson.databind.node.ObjectNode;

/** {@code posada preview}: a quick film of a sequence. */
@Command(
    name = "preview",
    description = "Draws a quick film of a scene, or a sequence of pictures.",
    mixinStandardHelpOptions = true)
final class PreviewCommand implements Callable<Integer> {
  /** Names that are meant for films, but of another kind. */
  private static final Pattern OTHER_FILM =
      Pattern.compile("\\.(avi|gif|m4v|mkv|mov|mpe?g|webm|wmv)$", Pattern.CASE_INSENSITIVE);

  @Mixin private SceneOptions in;

  @Option(
      names = "--recipe",
      description = "a JSON file of how it is drawn (docs/previews.md); options win over it")
  private Path recipe;

  @Option(names = "--style", description = "shaded, clay, outlined, depth")
  private String style;

  @Option(names = "--rays", description = "of each pixel: 1, 4, 9")
  private Integer rays;

  @Option(names = "--contact", description = "how dark it gets where surfaces come close, 0 .. 1")
  private Double contact;

  @Option(
      names = "--without",
      description =
          "kinds of objects to leave out: standing, moving, bending, copies, glass, glowing, cut-out",
      split = ",")
  private List<String> without;

  @Option(names = "--scale", description = "percent of the size, 1 .. 400")
  private Double scale;

  @Option(names = "--every", description = "frames from one that is drawn to the next")
  private Integer every;

  @Option(
      names = "--burn-ins",
      description = "what is written over it: frame, timecode, shot, camera, layer, lens, date",
      split = ",")
  private List<String> burnIns;

  @Option(names = "--watermark", description = "text across it, such as the production's name")
  private String watermark;

  @Option(names = "--shot", description = "the shot's name for burn-ins; the camera's if left out")
  private String shot;

  @Option(names = "--quality", description = "of films and JPEG files, 1 .. 100")
  private Integer quality;

  @Option(
      names = "--out",
      required = true,
      description = "a name that ends in .mp4 for a film, else a folder")
  private Path out;

  @Option(names = "--format", description = "of a sequence: png, jpeg", defaultValue = "png")
  private String format;

  @Option(
      names = "--name",
      description = "pattern of a sequence's names",
      defaultValue = "{camera}_{pass}.{frame:4}")
  private String name;

  @Option(names = "--overwrite", description = "replace files that are there")
  private boolean overwrite;

  @Override
  public Integer call() {
    return in.run(this::draw);
  }

  private int draw(SceneOptions.Open open) throws IOException {
    boolean jpeg = format.equals("jpeg");
    if (!jpeg && !format.equals("png")) {
      throw new IllegalArgumentException("format must be png or jpeg (got " + format + ")");
    }
    if (OTHER_FILM.matcher(out.toString()).find()) {
      throw new IllegalArgumentException(
          "films are written as .mp4 only (got "
              + out
              + "); a sequence needs the name of a folder");
    }
    PreviewRecipe r = recipe();
    Map<String, String> fields = new LinkedHashMap<>();
    fields.put("shot", shot == null ? open.camera() : shot);
    fields.put("camera", open.camera());
    fields.put("layer", open.document().settings().layer().name());
    fields.put("date", LocalDate.now().toString());
    fields.put("scene", in.scene.getFileName().toString().replaceFirst("\\.[^.]*$", ""));
    PreviewFilm film =
        new PreviewFilm(
            open.scene(),
            open.camera(),
            open.moments(),
            open.wh()[0],
            open.wh()[1],
            open.rate(),
            open.document().settings(),
            r,
            fields);
    int total = film.drawn().size();
    long start = System.nanoTime();
    int[] written = {0};
    IntConsumer done =
        n -> {
          written[0] = n;
          if (n == total || n % 10 == 0) {
            double s = (System.nanoTime() - start) / 1e9;
            System.err.printf(
                Locale.ROOT, "%d of %d frames  %.1f a second%n", n, total, n / Math.max(1e-9, s));
          }
        };
    boolean finished;
    if (PreviewFilm.isFilm(out)) {
      RenderCommand.refuseTaken(out.toFile().exists() ? List.of(out) : List.of(), overwrite);
      finished = film.film(out, overwrite, open.workers(), open.stop(), done);
    } else {
      NamePattern pattern = new NamePattern(name);
      RenderCommand.refuseTaken(
          film.files(out, pattern, jpeg).stream().filter(f -> f.toFile().exists()).toList(),
          overwrite);
      finished = film.sequence(out, pattern, jpeg, overwrite, open.workers(), open.stop(), done);
    }
    if (!finished) {
      System.err.println(
          PreviewFilm.isFilm(out)
              ? "stopped: nothing is written"
              : "stopped: " + written[0] + " of " + total + " frames are written");
      return Main.STOPPED;
    }
    System.out.println(out);
    return 0;
  }

  /** The recipe of the file, with the options over it. */
  private PreviewRecipe recipe() throws IOException {
    ObjectNode over = Documents.object("{}");
    if (recipe != null) {
      Documents.read(recipe, PreviewRecipe.class); // Refuses it by its name.
      over = Documents.object(recipe);
    }
    ObjectNode look = over.withObjectProperty("look");
    put(look, "style", style);
    put(look, "rays", rays);
    put(look, "contact", contact);
    put(look, "without", without);
    put(over, "scale", scale);
    put(over, "every", every);
    put(over, "burnIns", burnIns);
    put(over, "watermark", watermark);
    put(over, "quality", quality);
    return Documents.read(over, PreviewRecipe.class);
  }

  private static void put(ObjectNode to, String key, Object value) {
    if (value != null) {
      to.set(key, Documents.tree(value));
    }
  }
}
