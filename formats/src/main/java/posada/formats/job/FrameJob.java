package posada.formats.job;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.DoubleConsumer;
import java.util.function.LongSupplier;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Digest;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.Brightness;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameRenderer;
import posada.core.trace.FrameReport;
import posada.core.trace.RenderScene;
import posada.formats.exr.ExrHeader;
import posada.formats.files.AtomicFile;
import posada.formats.files.Delivery;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.light.LightFile;

/**
 * Renders the frames of a strand to files. It sees the strand's frozen document and the scene and
 * nothing else, so that a frame comes out the same wherever it is rendered. For one thread, which
 * hands the work to its workers.
 */
public final class FrameJob {
  /** Name of the file of baked light in a strand's folder. */
  public static final String LIGHT = "baked.light";

  /** Names of the text attributes that say how many samples a pixel has, and what was added. */
  private static final String SAMPLES = "posadaSamples", AGAIN = "posadaAgain";

  /** Samples between two looks at whether to stop, and two words about progress. */
  private static final int ROUND = 2;

  /**
   * What a job runs on.
   *
   * @param nanoseconds a clock, of any origin
   * @param freeBytes of memory
   */
  public record Machine(
      Workers workers, LongSupplier nanoseconds, LongSupplier freeBytes, JobCache cache) {}

  /** Hears what becomes of a frame. */
  public interface Listener {
    /** Hears that samples have been added; the picture so far is the renderer's. */
    void at(double fraction, FrameRenderer renderer);

    /** Hears of the picture before it is written. */
    default void made(FrameImage image, DeepImage deep) {}

    /**
     * Is asked whether writing that failed is to be tried again.
     *
     * @return false to give the failure up
     */
    default boolean again(IOException e) {
      return false;
    }
  }

  /**
   * A frame that is written.
   *
   * @param seconds that it took
   * @param samples of each pixel, at the most
   * @param bytes of the files of one frame
   * @param met numbers of the things of its input that any ray met
   */
  public record Done(
      double seconds,
      int samples,
      long bytes,
      BitSet met,
      FrameReport report,
      Brightness brightness,
      List<Path> files) {}

  private final StrandDocument document;
  private final RenderScene scene;
  private final BakedLight light;
  private final RenderSettings settings;
  private final FrameFiles files;
  private final Path folder;
  private final Machine machine;
  private final Map<Integer, Crop> regions = new HashMap<>();
  private FrameContent content;

  /**
   * @param scene in the environment that the document asks for
   * @param light to use in place of light that is baked in the folder; null for none
   * @param folder of the strand's files
   * @throws IllegalArgumentException if a format cannot hold a pass, or files would share a path
   */
  public FrameJob(
      StrandDocument document, RenderScene scene, BakedLight light, Path folder, Machine machine) {
    this.document = document;
    this.scene = scene;
    this.light = light;
    this.folder = folder;
    this.machine = machine;
    settings = document.settings().settings();
    files = files(document, folder);
  }

  /** Returns where a strand's files lie; see {@link FrameFiles} for what is refused. */
  public static FrameFiles files(StrandDocument d, Path folder) {
    return new FrameFiles(
        folder,
        d.settings().delivery(),
        d.settings().passes(),
        d.fields(),
        d.rate(),
        d.settings().background());
  }

  public FrameFiles files() {
    return files;
  }

  /** Returns true if the frames need light that is baked before the first of them. */
  public static boolean bakes(StrandDocument d) {
    return d.settings().recipe().irradiance().use();
  }

  private Path lightFile() {
    return folder.resolve(LIGHT);
  }

  /** Returns true if the strand's light is there already. */
  public boolean isBaked() {
    return Files.exists(lightFile());
  }

  /**
   * Returns the strand's light, baked now if it is not there.
   *
   * @param progress hears the share that is baked, 0 .. 1
   * @return null if it was stopped
   * @throws IllegalArgumentException naming what moves or changes
   */
  public BakedLight bake(Stop stop, DoubleConsumer progress) throws IOException, ImportException {
    if (light != null) {
      return light;
    }
    return machine.cache.light(lightFile(), () -> baked(stop, progress));
  }

  private BakedLight baked(Stop stop, DoubleConsumer progress) throws IOException {
    if (isBaked()) {
      try {
        return LightFile.read(lightFile());
      } catch (IOException | IllegalArgumentException damaged) {
        Files.delete(lightFile()); // It is baked anew.
      }
    }
    List<String> changes = scene.changes(document.moments(), settings);
    if (!changes.isEmpty()) {
      int more = changes.size() - 1;
      throw new IllegalArgumentException(
          "Baked light would be wrong: "
              + changes.get(0)
              + (more > 0 ? "; and " + more + " more" : "")
              + ". Leave it out by a layer, or render without baked light.");
    }
    BakedLight made =
        scene.bake(
            document.camera(),
            RenderScene.someOf(document.moments(), settings.irradiance().every()),
            document.width(),
            document.height(),
            settings,
            machine.workers,
            stop,
            progress,
            machine.nanoseconds);
    if (made != null) {
      AtomicFile.publish(lightFile(), LightFile.encode(made), true);
    }
    return made;
  }

  /** The scene with its light; null if baking it was stopped. */
  private RenderScene lit(Stop stop) throws IOException, ImportException {
    if (!settings.irradiance().use() && light == null) {
      return scene;
    }
    BakedLight l = bake(stop, x -> {});
    return l == null ? null : scene.withBakedLight(l);
  }

  private Crop region(int frame) {
    Layer.Region asked = settings.layer().region();
    if (settings.crop() != null || asked == null) {
      return settings.crop();
    }
    return asked.fixed() != null ? asked.fixed() : regions.get(frame);
  }

  /**
   * Finds the regions of all frames that follow objects, which may be of one size; false if it was
   * stopped.
   */
  private boolean findRegions(Stop stop) throws IOException, ImportException {
    Layer.Region asked = settings.layer().region();
    if (!regions.isEmpty() || settings.crop() != null || asked == null || asked.fixed() != null) {
      return true;
    }
    List<Moment> moments = document.moments();
    List<Crop> found =
        machine.cache.regions(
            document,
            () ->
                scene.regions(
                    document.camera(),
                    moments,
                    document.width(),
                    document.height(),
                    settings,
                    machine.workers,
                    stop));
    if (found == null) {
      return false;
    }
    for (int i = 0; i < found.size(); i++) {
      regions.put(moments.get(i).frame(), found.get(i));
    }
    return true;
  }

  /**
   * Returns what a frame's files are made from, but for what they are called. Nothing is baked for
   * it.
   *
   * @return null if finding it was stopped
   */
  public FrameContent.Input input(int frame, Stop stop) throws IOException, ImportException {
    try {
      if (!findRegions(stop)) {
        return null;
      }
      if (content == null) {
        content =
            light != null
                ? scene.withBakedLight(light).content(camera(), width(), height(), settings)
                : scene.content(camera(), width(), height(), settings, bakedFrom(stop));
      }
    } catch (Stop.Stopped e) {
      return null;
    }
    FrameContent.Input input = content.at(document.rate().moment(frame), region(frame));
    Delivery d = document.settings().delivery();
    input.parts().put(FrameContent.Part.DELIVERY, ofFiles(d));
    return input;
  }

  private static String ofFiles(Delivery d) {
    String plain = Digest.of(d.formats(), d.compression(), d.perPass(), d.quality(), d.fill());
    Delivery usual = Delivery.DEFAULT;
    boolean asUsual =
        d.dataApart() == usual.dataApart()
            && d.depth() == usual.depth()
            && d.alpha() == usual.alpha()
            && d.color().equals(usual.color());
    return asUsual
        ? plain
        : Digest.of(plain, d.dataApart(), d.depth(), d.alpha(), d.color().toString());
  }

  private String camera() {
    return document.camera();
  }

  private int width() {
    return document.width();
  }

  private int height() {
    return document.height();
  }

  /** The fingerprint of what the strand's light is baked from; empty if none is. */
  private String bakedFrom(Stop stop) {
    if (!bakes(document)) {
      return "";
    }
    FrameContent plain = scene.content(camera(), width(), height(), settings, "");
    List<String> seen = new ArrayList<>();
    for (Moment m : RenderScene.someOf(document.moments(), settings.irradiance().every())) {
      stop.check();
      Map<FrameContent.Part, String> parts = new EnumMap<>(plain.at(m, null).parts());
      parts.remove(FrameContent.Part.PASSES);
      seen.add(FrameContent.whole(parts));
    }
    return Digest.of(seen);
  }

  /**
   * Returns the fingerprint that the files of a picture bear in their headers.
   *
   * @param source the frame that it was rendered as
   */
  public String borne(FrameContent.Input input, int source) {
    return Digest.of(input.whole(), content.ownNoise() ? source : 0);
  }

  /**
   * Renders a picture and writes it as the files of frames that are made from the same.
   *
   * @param source the frame that is rendered
   * @param frames under whose numbers it is written, in order
   * @param overwrite false to refuse if a file is there
   * @return null if it was stopped
   * @throws posada.core.trace.FrameFailure if memory runs out
   */
  public Done render(
      int source, List<Integer> frames, boolean overwrite, Stop stop, Listener listener)
      throws IOException, ImportException {
    FrameContent.Input input = input(source, stop);
    if (input == null) {
      return null;
    }
    String fingerprint = borne(input, source);
    long start = machine.nanoseconds.getAsLong();
    FrameRenderer renderer = renderer(source, region(source), stop);
    FrameImage image = renderer == null ? null : image(renderer, stop, listener);
    if (image == null) {
      return null;
    }
    double seconds = (machine.nanoseconds.getAsLong() - start) / 1e9;
    DeepImage deep = renderer.deepImage();
    listener.made(image, deep);
    int samples = renderer.samples();
    List<Path> written = new ArrayList<>();
    for (int frame : frames) {
      Moment own = document.rate().moment(frame);
      Map<String, String> texts = texts(own, seconds, samples, fingerprint);
      written.addAll(write(frame, image, deep, texts, overwrite, listener));
    }
    long bytes = files.bytes(frames.get(0));
    return new Done(
        seconds,
        samples,
        bytes,
        input.among(renderer.met()),
        renderer.report(),
        Brightness.of(image),
        written);
  }

  /** Returns what renders a frame; null if it was stopped. */
  private FrameRenderer renderer(int source, Crop region, Stop stop)
      throws IOException, ImportException {
    RenderScene ready = lit(stop);
    if (ready == null) {
      return null;
    }
    ready.check(settings);
    return ready.frame(
        document.camera(),
        document.rate().moment(source),
        document.width(),
        document.height(),
        settings.with(region),
        machine.workers,
        stop,
        machine.freeBytes);
  }

  private FrameImage image(FrameRenderer renderer, Stop stop, Listener listener) {
    return renderer.render(
        ROUND,
        machine.workers,
        stop,
        (done, total) -> listener.at(done / (double) total, renderer),
        machine.nanoseconds);
  }

  /**
   * Renders a box, or more samples, and puts it into what is there of a frame.
   *
   * @param before the files that are there
   * @param bore the fingerprint that they bear
   * @return null if it was stopped
   * @throws IllegalArgumentException if what is there cannot take it, saying what would do
   */
  public Done add(
      Again again, int frame, FrameFiles before, String bore, Stop stop, Listener listener)
      throws IOException, ImportException {
    check(again, before);
    FrameContent.Input input = input(frame, stop);
    if (input == null) {
      return null;
    }
    long start = machine.nanoseconds.getAsLong();
    Crop box = again.box() == null ? region(frame) : again.box();
    FrameRenderer renderer = renderer(frame, box, stop);
    if (renderer == null) {
      return null;
    }
    int all = settings.sampling().most(), there = again.more() == 0 ? 0 : all - again.more();
    renderer.skip(there);
    FrameImage image = image(renderer, stop, listener);
    if (image == null) {
      return null;
    }
    double seconds = (machine.nanoseconds.getAsLong() - start) / 1e9;
    Map<String, String> texts = new TreeMap<>(before.texts(frame));
    if (again.more() > 0) {
      texts.put(SAMPLES, Integer.toString(all));
    }
    texts.merge(AGAIN, again.text(renderer.samples()), (a, b) -> a + "; " + b);
    texts.put(ExrHeader.FINGERPRINT, again.borne(bore, input));
    FrameFiles.Addition addition = new FrameFiles.Addition(image, there, again.more());
    List<Path> written = null;
    while (written == null) {
      try {
        written = files.add(frame, before, addition, texts, machine.workers);
      } catch (IOException e) {
        if (!listener.again(e)) {
          throw e;
        }
      }
    }
    return new Done(
        seconds,
        renderer.samples(),
        files.bytes(frame),
        input.among(renderer.met()),
        renderer.report(),
        Brightness.of(image),
        written);
  }

  /**
   * Refuses what cannot be put into the files of a frame.
   *
   * @param before the files that are there
   */
  public void check(Again again, FrameFiles before) {
    files.checkAddition(before);
    if (settings.crop() != null && settings.crop().alone()) {
      throw new IllegalArgumentException(
          "the picture is a region alone; render the frames again as a whole");
    }
    if (again.box() != null) {
      again.box().check(width(), height());
      return;
    }
    Sampling s = settings.sampling();
    boolean fixed = !s.adaptive() && s.seconds() == 0;
    if (!fixed || settings.guided() || settings.layer().under() || settings.layer().catches()) {
      throw new IllegalArgumentException(
          "samples can be put on top where every pixel has the same number of them, nothing is"
              + " denoised, and the layer has no holdout or shadow catcher under other objects;"
              + " render the frames again as a whole");
    }
  }

  /** Returns what tries frames of the strand out. */
  public Trials trials() {
    return new Trials(document, scene, settings, machine);
  }

  private List<Path> write(
      int frame,
      FrameImage image,
      DeepImage deep,
      Map<String, String> texts,
      boolean overwrite,
      Listener listener)
      throws IOException {
    boolean replace = overwrite;
    while (true) {
      try {
        return files.write(frame, image, deep, texts, replace, machine.workers);
      } catch (IOException e) {
        if (!listener.again(e)) {
          throw e;
        }
        replace = true; // Some of its files may have been written.
      }
    }
  }

  /** What a frame's headers say beside the picture. */
  private Map<String, String> texts(
      Moment moment, double seconds, int samples, String fingerprint) {
    Map<String, String> t = new TreeMap<>();
    t.put("posadaProduction", document.production());
    t.put("posadaShot", document.shot());
    t.put("posadaLayer", settings.layer().name());
    t.put("posadaCamera", document.camera());
    t.put(ExrHeader.FRAME, Integer.toString(moment.frame()));
    t.put(SAMPLES, Integer.toString(samples));
    t.put("posadaSeconds", String.format(Locale.ROOT, "%.3f", seconds));
    t.put(ExrHeader.EXPOSURE, Double.toString(settings.lens().exposure().at(moment.seconds())));
    Denoising denoising = settings.denoising();
    if (denoising.picture()) {
      t.put(ExrHeader.DENOISED, Double.toString(denoising.amount()));
    }
    t.put(ExrHeader.FINGERPRINT, fingerprint);
    return t;
  }
}
