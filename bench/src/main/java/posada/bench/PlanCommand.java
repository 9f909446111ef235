package posada.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.Estimate;
import posada.core.plan.Fit;
import posada.core.plan.FrameRange;
import posada.core.plan.Freshness;
import posada.core.scene.Animation;
import posada.core.scene.Digest;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Denoising;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.files.Delivery;
import posada.formats.gltf.ImportException;
import posada.formats.job.FrameJob;
import posada.formats.job.JobCache;
import posada.formats.job.StrandDocument;
import posada.formats.settings.RenderDocument;

/** What planning costs and whether it is right: fingerprints, and the ledger's verdicts. */
@Command(name = "plan", description = "Measures the planning of batches.")
final class PlanCommand {
  private static final int THREADS = 2;

  private final Workers workers =
      new Workers(
          Executors.newFixedThreadPool(
              THREADS,
              r -> {
                Thread t = new Thread(r, "bench");
                t.setDaemon(true);
                return t;
              }),
          THREADS);

  private PlanCommand() {}

  /** A strand as it is at some time of the day. */
  private record Strand(
      String scene,
      String shot,
      String camera,
      String frames,
      Layer layer,
      RenderSettings settings) {
    Strand with(UnaryOperator<RenderSettings> change) {
      return new Strand(scene, shot, camera, frames, layer, change.apply(settings));
    }

    Strand with(String otherFrames) {
      return new Strand(scene, shot, camera, otherFrames, layer, settings);
    }

    Strand named(String other) {
      return new Strand(scene, other, camera, frames, layer, settings);
    }

    Strand with(Layer other) {
      return new Strand(scene, shot, camera, frames, other, settings);
    }

    /** What it keeps whatever it is called. */
    String key() {
      return camera + "/" + layer.name();
    }

    StrandDocument document(int width, int height) {
      return new StrandDocument(
          StrandDocument.SCHEMA,
          "Larkspur Line",
          scene,
          1,
          "",
          scene,
          shot,
          camera,
          frames,
          24,
          width,
          height,
          RenderDocument.of(settings.with(layer), null, Delivery.DEFAULT),
          1,
          "2026-01-01");
    }
  }

  private FrameJob job(Strand s, RenderScene scene, Path out, int width, int height) {
    return new FrameJob(
        s.document(width, height),
        scene,
        null,
        out,
        new FrameJob.Machine(
            workers, System::nanoTime, () -> Long.MAX_VALUE, new JobCache(1L << 30)));
  }

  private static Layer layer(String name, Layer.Rule... rules) {
    Layer m = Layer.MAIN;
    return new Layer(
        name,
        Layer.Role.SEEN,
        List.of(rules),
        null,
        m.lights(),
        m.environment(),
        true,
        false,
        null);
  }

  private static Layer.Rule rule(Layer.Role role, String... match) {
    return new Layer.Rule(List.of(match), role, null, null, null);
  }

  @Command(description = "The fingerprints of 12 strands of larkspur-pass.")
  int fingerprints(@Option(names = "--frames", defaultValue = "100") int frames) throws Exception {
    Scene scene = DemoScenes.load(DemoScenes.all("larkspur-pass").get(0));
    List<Strand> strands = new ArrayList<>();
    Layer[] layers = {
      layer("main"),
      layer("cars", rule(Layer.Role.HOLDOUT, "pine-*", "valley")),
      layer("no-pines", rule(Layer.Role.LEFT_OUT, "pine-*"))
    };
    for (String camera : List.of("valley-wide", "station-close", "summit", "car-ride")) {
      for (Layer l : layers) {
        strands.add(
            new Strand("larkspur-pass", camera, camera, "1-" + frames, l, RenderSettings.DEFAULT));
      }
    }
    for (int round = 0; round < 3; round++) {
      RenderScene ready = new RenderScene(scene, workers);
      long start = System.nanoTime();
      for (Strand s : strands) {
        all(s, ready);
      }
      long one = System.nanoTime();
      all(strands.get(0).with(q -> q.with(65, 0)), ready);
      long end = System.nanoTime();
      System.out.printf(
          "%d strands x %d frames: %.2f s with nothing cached; one strand again %.0f ms%n",
          strands.size(), frames, (one - start) / 1e9, (end - one) / 1e6);
    }
    return 0;
  }

  private void all(Strand s, RenderScene ready) throws IOException, ImportException {
    FrameJob job = job(s, ready, Path.of(""), 1280, 720);
    for (int f : FrameRange.parse(s.frames()).frames()) {
      job.input(f, Stop.NEVER).whole();
    }
  }

  @Command(description = "What keeping the objects that rays met adds to tracing them.")
  int met(@Option(names = "--rounds", defaultValue = "9") int rounds) throws Exception {
    for (DemoScenes.Demo d : DemoScenes.all()) {
      RenderScene scene = new RenderScene(DemoScenes.load(d), workers);
      InstanceBvh top = scene.hierarchy(Moment.at(1), RenderSettings.DEFAULT, workers);
      int most = scene.scene().nodes().size() * 4;
      Turns turns = new Turns(rounds);
      for (int r = -2; r < rounds; r++) {
        int seed = r;
        turns.time(r, 0, () -> trace(top, new boolean[most], seed));
        turns.time(r, 1, () -> trace(top, null, seed));
      }
      System.out.println(d.name() + ": " + turns.told(1));
    }
    return 0;
  }

  /** Rays from where others ended, and shadow rays from there; returns how many were blocked. */
  private static int trace(InstanceBvh top, boolean[] met, int seed) {
    java.util.Random random = new java.util.Random(seed);
    Ray ray = new Ray(), shadow = new Ray();
    ray.met = met;
    shadow.met = met;
    int blocked = 0;
    float x = 0, y = 30, z = 0;
    for (int i = 0; i < 400_000; i++) {
      float dx = random.nextFloat() - 0.5f, dy = random.nextFloat() - 0.6f;
      float dz = random.nextFloat() - 0.5f;
      ray.set(x, y, z, dx, dy, dz, Float.POSITIVE_INFINITY);
      top.intersect(ray);
      boolean on = ray.hit();
      float t = ray.tMax * 0.999f;
      x = on ? x + t * dx : 0;
      y = on ? y + t * dy : 30;
      z = on ? z + t * dz : 0;
      shadow.set(x, y, z, 0.3f, 1, 0.2f, 1000);
      blocked += top.occluded(shadow) ? 1 : 0;
    }
    return blocked;
  }

  @Command(description = "A run of the server against the same frames by the command line.")
  int overhead(
      @Option(names = "--frames", defaultValue = "200") int frames,
      @Option(names = "--width", defaultValue = "160") int width,
      @Option(names = "--samples", defaultValue = "16") int samples,
      @Option(names = "--rounds", defaultValue = "3") int rounds)
      throws Exception {
    Path scene = Files.createTempFile("overhead", ".glb");
    Files.write(scene, DemoScenes.all("larkspur-pass").get(0).file());
    new Overhead(scene, "valley-wide", frames, width, samples).measure(rounds);
    return 0;
  }

  @Command(description = "How soon Layers and Quality answer.")
  int stations() throws Exception {
    Stations.measure();
    return 0;
  }

  private Map<String, RenderScene> ready() throws Exception {
    Map<String, RenderScene> ready = new HashMap<>();
    for (String name : List.of("larkspur-pass", "ticket-hall")) {
      ready.put(name, new RenderScene(DemoScenes.load(DemoScenes.all(name).get(0)), workers));
    }
    return ready;
  }

  /** The first pictures of a process are slow. */
  private static void warm(FrameJob job, int frame) throws IOException, ImportException {
    job.render(frame, List.of(frame), true, Stop.NEVER, (x, r) -> {});
  }

  private static List<Estimate.Trial> tried(
      FrameJob job, List<Integer> frames, int most, Path scratch)
      throws IOException, ImportException {
    List<Estimate.Trial> found = new ArrayList<>();
    for (int f : Estimate.tried(frames, most)) {
      found.add(job.trials().tryOut(f, scratch, Stop.NEVER));
    }
    return found;
  }

  @Command(description = "Noise and time of strands whose samples were fitted into a time.")
  int fit(
      @Option(names = "--width", defaultValue = "320") int width,
      @Option(names = "--samples", defaultValue = "32") int samples,
      @Option(names = "--every", defaultValue = "16") int every,
      @Option(names = "--share", defaultValue = "0.8") double share)
      throws Exception {
    Map<String, RenderScene> ready = ready();
    Path out = Files.createTempDirectory("plan");
    Path scratch = Files.createTempDirectory("trial");
    int height = width * 9 / 16;
    List<Strand> strands = new ArrayList<>();
    List<Fit.Strand> takes = new ArrayList<>();
    double today = 0;
    for (Strand d : day(samples)) {
      Strand s = d.with(d.frames().replaceFirst("x.*", "x" + every));
      FrameJob job = job(s, ready.get(s.scene()), out, width, height);
      List<Integer> frames = FrameRange.parse(s.frames()).frames();
      if (strands.isEmpty()) {
        warm(job, frames.get(0));
      }
      List<Estimate.Trial> found = tried(job, frames, 4, scratch);
      Estimate.BySamples t =
          Estimate.bySamples(frames, (long) width * height, samples, found, List.of());
      takes.add(
          new Fit.Strand(
              t.fixed(), t.perSample(), t.noise(), Fit.LEAST, RenderSettings.MOST_SAMPLES));
      today += takes.get(takes.size() - 1).seconds(samples);
      strands.add(s);
    }
    int[] fitted = Fit.samples(takes, share * today);
    double said = 0, took = 0, worst = 0, mostSaid = 0, mostReal = 0;
    for (int i = 0; i < fitted.length; i++) {
      int n = fitted[i];
      Strand s = strands.get(i).with(q -> q.with(n, 0));
      FrameJob job = job(s, ready.get(s.scene()), out, width, height);
      double noise = 0;
      List<Integer> frames = FrameRange.parse(s.frames()).frames();
      long start = System.nanoTime();
      for (int f : frames) {
        noise += job.render(f, List.of(f), true, Stop.NEVER, (x, r) -> {}).report().noise();
      }
      took += (System.nanoTime() - start) / 1e9;
      noise /= frames.size();
      double promised = takes.get(i).noise(n);
      said += takes.get(i).seconds(n);
      worst = Math.max(worst, Math.abs(promised / noise - 1));
      mostSaid = Math.max(mostSaid, promised);
      mostReal = Math.max(mostReal, noise);
      System.out.printf(
          "%-24s %d samples: noise %.2f %%, promised %.2f %%%n",
          s.key(), n, 100 * noise, 100 * promised);
    }
    System.out.printf(
        "noisiest %.2f %%, promised %.2f %% (%+.1f %%), each within %.1f %%; %.1f s, promised %.1f"
            + " (%+.1f %%)%n",
        100 * mostReal,
        100 * mostSaid,
        100 * (mostSaid / mostReal - 1),
        100 * worst,
        took,
        said,
        100 * (said / took - 1));
    return 0;
  }

  @Command(description = "What strands take against what trials of some of their frames say.")
  int estimate(
      @Option(names = "--width", defaultValue = "480") int width,
      @Option(names = "--samples", defaultValue = "32") int samples,
      @Option(names = "--every", defaultValue = "8") int every,
      @Option(names = "--trials", defaultValue = "4") int trials)
      throws Exception {
    Map<String, RenderScene> ready = ready();
    Path out = Files.createTempDirectory("plan");
    Path scratch = Files.createTempDirectory("trial");
    int height = width * 9 / 16;
    List<Estimate.Figure> times = new ArrayList<>(), sizes = new ArrayList<>();
    double tried = 0, really = 0, bytes = 0;
    int held = 0, strands = 0;
    for (Strand s : day(samples)) {
      s = s.with(s.frames().replaceFirst("x.*", "x" + every));
      FrameJob job = job(s, ready.get(s.scene()), out, width, height);
      List<Integer> frames = FrameRange.parse(s.frames()).frames();
      if (strands == 0) {
        warm(job, frames.get(0));
      }
      long start = System.nanoTime();
      List<Estimate.Trial> found = tried(job, frames, trials, scratch);
      tried += (System.nanoTime() - start) / 1e9;
      Estimate.Result e =
          Estimate.of(frames, frames, (long) width * height, samples, found, List.of());
      start = System.nanoTime();
      double size = 0;
      for (int f : frames) {
        size += job.render(f, List.of(f), true, Stop.NEVER, (x, r) -> {}).bytes();
      }
      double took = (System.nanoTime() - start) / 1e9;
      strands++;
      really += took;
      bytes += size;
      times.add(e.seconds());
      sizes.add(e.bytes());
      held += e.seconds().low() <= took && took <= e.seconds().high() ? 1 : 0;
      System.out.printf(
          "%-24s %6.1f s, said %6.1f (%.1f to %.1f); %6.1f MB, said %6.1f%n",
          s.key(),
          took,
          e.seconds().value(),
          e.seconds().low(),
          e.seconds().high(),
          size / 1e6,
          e.bytes().value() / 1e6);
    }
    Estimate.Figure all = Estimate.sum(times), disk = Estimate.sum(sizes);
    System.out.printf(
        "all: %.1f s, said %.1f (%+.1f %%); %.1f MB, said %.1f (%+.1f %%); the band held %d of %d;"
            + " trials took %.1f %%%n",
        really,
        all.value(),
        100 * (all.value() / really - 1),
        bytes / 1e6,
        disk.value() / 1e6,
        100 * (disk.value() / bytes - 1),
        held,
        strands,
        100 * tried / really);
    return 0;
  }

  /** What the ledger holds of a frame, and the bits of its picture. */
  private record Entry(Freshness.Made made, String bits) {}

  /** What changes in the course of the day: scenes, and strands. */
  private record Change(
      String name, String scene, UnaryOperator<Scene> ofScene, Function<Strand, Strand> ofStrand) {
    static Change of(String name, String scene, UnaryOperator<Scene> change) {
      return new Change(name, scene, change, s -> s);
    }

    static Change of(String name, Function<Strand, Strand> change) {
      return new Change(name, null, s -> s, change);
    }
  }

  /** The result of a change, summed up. */
  private static final class Sum {
    private int frames, stale, wronglyFresh, sameBits;

    void add(Sum o) {
      frames += o.frames;
      stale += o.stale;
      wronglyFresh += o.wronglyFresh;
      sameBits += o.sameBits;
    }

    @Override
    public String toString() {
      return String.format(
          "%4d frames, %4d stale, of them %3d with the same bits; %d called fresh with other bits",
          frames, stale, sameBits, wronglyFresh);
    }
  }

  @Command(description = "A day of changes: what the ledger calls fresh, against rendering it all.")
  int ledger(
      @Option(names = "--width", defaultValue = "128") int width,
      @Option(names = "--samples", defaultValue = "4") int samples)
      throws Exception {
    Map<String, Scene> scenes = new HashMap<>();
    for (String name : List.of("larkspur-pass", "ticket-hall")) {
      scenes.put(name, DemoScenes.load(DemoScenes.all(name).get(0)));
    }
    Map<String, Strand> strands = new LinkedHashMap<>();
    day(samples).forEach(s -> strands.put(s.key(), s));
    Path out = Files.createTempDirectory("plan");
    Map<String, Entry> ledger = new TreeMap<>();
    Sum total = new Sum();
    step(strands, scenes, ledger, out, width);
    for (Change c : changes()) {
      if (c.scene != null) {
        scenes.computeIfPresent(c.scene, (k, s) -> c.ofScene.apply(s));
      }
      strands.replaceAll((k, s) -> c.ofStrand.apply(s));
      Sum sum = step(strands, scenes, ledger, out, width);
      System.out.printf("%-44s %s%n", c.name, sum);
      total.add(sum);
    }
    System.out.printf("%-44s %s%n", "all", total);
    System.out.printf(
        "stale with the same bits: %.1f %% of those called stale; rendered %.0f %% of what rendering it all each time takes%n",
        100.0 * total.sameBits / total.stale, 100.0 * total.stale / total.frames);
    return total.wronglyFresh == 0 ? 0 : 1;
  }

  private static List<Strand> day(int samples) {
    RenderSettings q = RenderSettings.DEFAULT.with(samples, 0).with(new Denoising(false, 1));
    Layer main = layer("main");
    List<Strand> all = new ArrayList<>();
    for (String camera : List.of("valley-wide", "station-close")) {
      String s = "larkspur-pass";
      all.add(new Strand(s, camera, camera, "1-96x24", main, q));
      all.add(
          new Strand(
              s, camera, camera, "1-96x24", layer("land", rule(Layer.Role.LEFT_OUT, "car-*")), q));
      all.add(
          new Strand(
              s,
              camera,
              camera,
              "1-96x24",
              layer("cars", rule(Layer.Role.HOLDOUT, "valley", "pine-*", "*-station")),
              q));
    }
    for (String camera : List.of("glide", "hatch")) {
      String s = "ticket-hall";
      all.add(new Strand(s, camera, camera, "1-72x24", main, q));
      all.add(
          new Strand(
              s,
              camera,
              camera,
              "1-72x24",
              layer("room", rule(Layer.Role.LEFT_OUT, "trunk", "suitcase", "hat-case")),
              q));
      all.add(
          new Strand(
              s,
              camera,
              camera,
              "1-72x24",
              layer("luggage", rule(Layer.Role.HOLDOUT, "floor", "walls", "bench*")),
              q));
    }
    return all;
  }

  private static Scene nodes(Scene s, UnaryOperator<Node> change) {
    return new Scene(
        s.name(),
        s.nodes().stream().map(change).toList(),
        s.meshes(),
        s.materials(),
        s.textures(),
        s.cameras(),
        s.lights(),
        s.animations(),
        s.skins(),
        s.environment());
  }

  private static Node without(Node n) {
    return new Node(
        n.name(),
        n.parent(),
        n.trs(),
        n.matrix(),
        -1,
        n.camera(),
        n.light(),
        -1,
        null,
        null,
        n.shown(),
        n.cameraSees());
  }

  private static Node renamed(Node n, String name) {
    return new Node(
        name,
        n.parent(),
        n.trs(),
        n.matrix(),
        n.mesh(),
        n.camera(),
        n.light(),
        n.skin(),
        n.weights(),
        n.copies(),
        n.shown(),
        n.cameraSees());
  }

  private static Scene material(Scene s, String name, float r, float g, float b) {
    List<Material> all =
        s.materials().stream()
            .map(m -> m.name().equals(name) ? m.changed().base(r, g, b, 1).build() : m)
            .toList();
    return s.with(s.cameras(), s.lights(), all);
  }

  private static Scene lights(Scene s, String of, float factor) {
    List<Light> all =
        s.lights().stream()
            .map(l -> l.name().startsWith(of) ? l.times(new float[] {factor, factor, factor}) : l)
            .toList();
    return s.with(s.cameras(), all, s.materials());
  }

  /** Keys of a node from some time on are moved. */
  private static Scene keys(Scene s, String node, float fromSeconds, float metres) {
    int n = s.node(node);
    List<Animation> all = new ArrayList<>();
    for (Animation a : s.animations()) {
      all.add(
          new Animation(
              a.name(),
              a.channels().stream().map(c -> moved(c, n, fromSeconds, metres)).toList(),
              a.values()));
    }
    return new Scene(
        s.name(),
        s.nodes(),
        s.meshes(),
        s.materials(),
        s.textures(),
        s.cameras(),
        s.lights(),
        all,
        s.skins(),
        s.environment());
  }

  private static Animation.Channel moved(
      Animation.Channel c, int node, float fromSeconds, float metres) {
    if (c.node() != node || c.path() != Animation.Path.TRANSLATION) {
      return c;
    }
    float[] times = c.curve().times();
    float[] values = c.curve().values().clone();
    int each = values.length / times.length;
    for (int i = 0; i < times.length; i++) {
      // Of cubic curves the value stands between its tangents.
      values[i * each + each / 3] += times[i] >= fromSeconds ? metres : 0;
    }
    return new Animation.Channel(c.node(), c.path(), c.curve().interpolation(), times, values);
  }

  private static List<Change> changes() {
    String pass = "larkspur-pass";
    String hall = "ticket-hall";
    return List.of(
        Change.of("a shot is renamed", s -> s.named(s.shot() + " again")),
        Change.of(
            "objects are renamed",
            hall,
            s -> nodes(s, n -> n.name().equals("bell") ? renamed(n, "little bell") : n)),
        Change.of("the needles' colour", pass, s -> material(s, "needles", 0.1f, 0.2f, 0.1f)),
        Change.of("the leather's colour", hall, s -> material(s, "leather", 0.3f, 0.2f, 0.1f)),
        Change.of("the third poster's colour", hall, s -> material(s, "poster-3", 0.5f, 0.5f, 1)),
        Change.of("the lamps on the path", pass, s -> lights(s, "path", 2)),
        Change.of(
            "the camera's keys after two seconds", pass, s -> keys(s, "valley-wide", 2, 1.5f)),
        Change.of(
            "more frames and samples in one shot",
            s ->
                s.camera().equals("glide")
                    ? s.with("1-72x12").with(q -> q.with(q.sampling().most() + 2, 0))
                    : s),
        Change.of(
            "a pass more in one layer",
            s ->
                s.layer().name().equals("cars")
                    ? s.with(q -> q.with(java.util.Set.of(Pass.BEAUTY, Pass.DEPTH, Pass.NORMAL)))
                    : s),
        Change.of(
            "a new revision: the hat case gone",
            hall,
            s -> nodes(s, n -> n.name().equals("hat-case") ? without(n) : n)),
        Change.of(
            "a pylon and some pines gone",
            pass,
            s ->
                nodes(
                    s,
                    n ->
                        n.name().equals("pylon-3") || n.name().matches("pine-1.")
                            ? without(n)
                            : n)),
        Change.of(
            "a pine by the way gone",
            pass,
            s -> nodes(s, n -> n.name().equals("pine-1200") ? without(n) : n)),
        Change.of(
            "one layer leaves out more",
            s ->
                s.layer().name().equals("land")
                    ? s.with(layer("land", rule(Layer.Role.LEFT_OUT, "car-*", "cable-*")))
                    : s));
  }

  private Sum step(
      Map<String, Strand> strands,
      Map<String, Scene> scenes,
      Map<String, Entry> ledger,
      Path out,
      int width)
      throws IOException, ImportException {
    Sum sum = new Sum();
    Map<String, RenderScene> ready = new HashMap<>();
    scenes.forEach((k, s) -> ready.put(k, new RenderScene(s, workers)));
    for (Map.Entry<String, Strand> e : strands.entrySet()) {
      FrameJob job = job(e.getValue(), ready.get(e.getValue().scene()), out, width, width * 9 / 16);
      for (int f : FrameRange.parse(e.getValue().frames()).frames()) {
        String key = e.getKey() + "/" + f;
        FrameContent.Input now = job.input(f, Stop.NEVER);
        Entry before = ledger.get(key);
        boolean fresh = before != null && Freshness.changes(before.made, now).isEmpty();
        String[] bits = new String[1];
        FrameJob.Done done = job.render(f, List.of(f), true, Stop.NEVER, new Bits(bits));
        Entry after = new Entry(new Freshness.Made(now.parts(), now.placed(), done.met()), bits[0]);
        if (before != null) {
          boolean same = before.bits.equals(after.bits);
          sum.frames++;
          sum.stale += fresh ? 0 : 1;
          sum.sameBits += !fresh && same ? 1 : 0;
          sum.wronglyFresh += fresh && !same ? 1 : 0;
        }
        if (!fresh) {
          ledger.put(key, after);
        }
      }
    }
    return sum;
  }

  /** Keeps a fingerprint of a picture's bits. */
  private record Bits(String[] out) implements FrameJob.Listener {
    @Override
    public void at(double fraction, FrameRenderer renderer) {}

    @Override
    public void made(FrameImage image, DeepImage deep) {
      List<Object> all = new ArrayList<>();
      image.full().channels().forEach(c -> all.add(List.of(c.name(), c.data())));
      out[0] = Digest.of(all);
    }
  }
}
