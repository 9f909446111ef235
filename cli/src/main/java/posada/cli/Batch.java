package posada.cli;

import java.io.Closeable;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.Estimate;
import posada.core.plan.Finding;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.core.plan.Preflight;
import posada.core.scene.Digest;
import posada.core.scene.NameMask;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameContent;
import posada.core.trace.FrameFailure;
import posada.core.trace.RenderScene;
import posada.core.trace.SceneLook;
import posada.formats.batch.PlanDocument;
import posada.formats.batch.PlanStrand;
import posada.formats.files.Extra;
import posada.formats.files.FileTrouble;
import posada.formats.files.VersionFolders;
import posada.formats.gltf.ImportException;
import posada.formats.job.Finishing;
import posada.formats.job.FrameJob;
import posada.formats.job.JobCache;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.Comparison;
import posada.formats.ledger.FramePlan;
import posada.formats.ledger.LedgerFile;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.Remaining;
import posada.formats.ledger.Standing;
import posada.formats.ledger.Standings;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;

/** The strands of a plan in a folder of output, with their ledger. One object works at a time. */
final class Batch implements Closeable {
  /** A frame that failed this often is set aside. */
  private static final int MOST_ATTEMPTS = 3;

  /** Frames of a strand that are tried out for an estimate. */
  private static final int TRIALS = 4;

  private static final int WARMING = 3;

  private static final long CACHE = 1L << 40;

  private final Path beside;
  private final Path out;
  private final Workers workers;
  private final Stop stop;
  private final List<PlanStrand> strands;
  private final Map<String, SceneInput> scenes = new HashMap<>();
  private final Map<Object, RenderScene> ready = new HashMap<>();
  private final Map<String, String> prints = new HashMap<>();
  private final JobCache cache = new JobCache(CACHE);
  private FileChannel lock;
  private boolean warm;

  /**
   * @param only names of strands, {@code shot/layer}, with {@code *} for any letters; null for all
   *     that are on
   * @throws IllegalArgumentException if the plan cannot be read, or there is no such strand
   */
  Batch(Path plan, Path out, List<String> only, Workers workers, Stop stop) throws IOException {
    PlanDocument document = Documents.read(plan, PlanDocument.class);
    beside = plan.toAbsolutePath().getParent();
    this.out = out.toAbsolutePath().normalize();
    this.workers = workers;
    this.stop = stop;
    strands = new ArrayList<>();
    List<PlanStrand> all = document.on(LocalDate.now().toString());
    for (PlanStrand s : all) {
      if (only == null || only.stream().anyMatch(o -> fits(o, s.name()))) {
        strands.add(withPrint(s));
      }
    }
    if (strands.isEmpty()) {
      String names = all.stream().map(PlanStrand::name).collect(Collectors.joining(", "));
      throw new IllegalArgumentException(
          only == null || all.isEmpty()
              ? "no strand of the plan is on"
              : "there is no strand " + String.join(", ", only) + "; there are " + names);
    }
  }

  private static boolean fits(String pattern, String name) {
    return NameMask.fits(pattern, name);
  }

  List<PlanStrand> strands() {
    return strands;
  }

  /** Keeps others from working in the same folder of output. */
  void lock() throws IOException {
    Files.createDirectories(ledgerFolder());
    lock =
        FileChannel.open(
            ledgerFolder().resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    FileLock held;
    try {
      held = lock.tryLock();
    } catch (OverlappingFileLockException e) {
      held = null;
    }
    if (held == null) {
      throw new IllegalArgumentException(
          "another posada batch works in " + out + "; wait for it, or choose another folder");
    }
  }

  private Path ledgerFolder() {
    return out.resolve("ledger");
  }

  /** A strand's document that says what its scene's files hold. */
  private PlanStrand withPrint(PlanStrand s) throws IOException {
    Path file = beside.resolve(s.sceneFile());
    if (!prints.containsKey(s.sceneFile())) {
      prints.put(s.sceneFile(), print(file));
    }
    String own = prints.get(s.sceneFile());
    if (s.document().settings().environment() != null
        && s.document().settings().environment().picture() != null) {
      Path picture = beside.resolve(s.document().settings().environment().picture().file());
      own = Digest.of(own, Files.exists(picture) ? print(picture) : "");
    }
    return new PlanStrand(s.document().of(own), s.sceneFile());
  }

  /** The fingerprint of a file, and of those that it names, if it is JSON. */
  private static String print(Path file) throws IOException {
    if (!Files.isRegularFile(file)) {
      throw new IllegalArgumentException(
          file + " is not there; scenes are named by their paths beside the plan");
    }
    List<Object> all = new ArrayList<>();
    byte[] bytes = Files.readAllBytes(file);
    all.add(sums(bytes));
    if (file.toString().toLowerCase(Locale.ROOT).endsWith(".gltf")) {
      for (String uri : uris(new String(bytes, StandardCharsets.UTF_8))) {
        Path other = file.resolveSibling(uri);
        all.add(Files.isRegularFile(other) ? sums(Files.readAllBytes(other)) : "");
      }
    }
    return Digest.of(all);
  }

  private static Set<String> uris(String json) {
    Set<String> all = new TreeSet<>();
    Matcher m = Pattern.compile("\"uri\"\\s*:\\s*\"([^\"]{1,400})\"").matcher(json);
    while (m.find()) {
      if (!m.group(1).startsWith("data:")) {
        all.add(URLDecoder.decode(m.group(1).replace("+", "%2B"), StandardCharsets.UTF_8));
      }
    }
    return all;
  }

  private static String sums(byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }

  private SceneInput scene(PlanStrand s) throws IOException, ImportException {
    SceneInput in = scenes.get(s.sceneFile());
    if (in == null) {
      in = SceneInput.open(beside.resolve(s.sceneFile()));
      scenes.put(s.sceneFile(), in);
    }
    return in;
  }

  private RenderScene ready(PlanStrand s) throws IOException, ImportException {
    RenderDocument settings = s.document().settings();
    Object key = List.of(s.sceneFile(), settings.sceneKey());
    RenderScene scene = ready.get(key);
    if (scene == null) {
      scene =
          settings.changed(new RenderScene(scene(s).imported().scene(), workers), beside, workers);
      ready.put(key, scene);
    }
    return scene;
  }

  private FrameJob job(PlanStrand s, FramePlan.Place at) throws IOException, ImportException {
    return new FrameJob(
        at.document(),
        ready(s),
        null,
        at.folder(),
        new FrameJob.Machine(workers, System::nanoTime, SceneOptions::freeBytes, cache));
  }

  /** Returns what is wrong with the strands, errors first. */
  List<Finding> check() throws IOException, ImportException {
    List<Preflight.Strand> all = new ArrayList<>();
    for (PlanStrand s : strands) {
      StrandDocument d = s.document();
      RenderScene scene = ready(s);
      SceneLook look = null;
      try {
        RenderSettings settings = d.settings().settings();
        look = SceneLook.of(scene, d.camera(), d.moments(), settings, workers, stop);
      } catch (IllegalArgumentException notThere) {
        // What is named and not there is found below, with the other faults.
        look = null;
      }
      PlanStrand.More more = new PlanStrand.More(look, null, null, null);
      all.add(PlanStrand.facts(d, scene(s).imported().report(), key(d), scene, more));
    }
    Path at = out;
    while (!Files.exists(at)) {
      at = at.getParent();
    }
    return Preflight.check(
        all,
        new Preflight.Batch(
            Runtime.getRuntime().maxMemory(), Files.getFileStore(at).getUsableSpace()));
  }

  private static String key(StrandDocument d) {
    return VersionFolders.key(d.production(), d.shot(), d.settings().layer().name());
  }

  private LedgerFile ledger(StrandDocument d) throws IOException {
    String name = NamePattern.safe(d.shot()) + "_" + NamePattern.safe(d.settings().layer().name());
    return new LedgerFile(ledgerFolder().resolve(name + ".jsonl"), out);
  }

  /** Hears how a batch goes on. */
  interface Listener {
    /** How many frames of a strand are to be rendered, and how many are fresh. */
    void begins(PlanStrand s, int toRender, int fresh);

    void at(PlanStrand s, int frame, double fraction);

    void written(PlanStrand s, int frame, FrameJob.Done done);

    void failed(PlanStrand s, int frame, String why, boolean setAside);
  }

  /** What has become of the frames of a batch. */
  static final class Outcome {
    int strands, frames, rendered, fresh, copied, failed;
    double seconds;
    long bytes;

    Map<String, Object> json() {
      Map<String, Object> o = new LinkedHashMap<>();
      o.put("strands", strands);
      o.put("frames", frames);
      o.put("rendered", rendered);
      o.put("fresh", fresh);
      o.put("copied", copied);
      o.put("failed", failed);
      o.put("seconds", Math.round(seconds * 1e3) / 1e3);
      o.put("bytes", bytes);
      return o;
    }

    boolean complete() {
      return rendered + fresh + copied == frames;
    }
  }

  /**
   * Renders what is stale or missing.
   *
   * @param range frames alone that are wanted; null for all
   * @return null if it was stopped
   */
  Outcome run(FrameRange range, Listener listener) throws IOException, ImportException {
    Outcome sum = new Outcome();
    long start = System.nanoTime();
    for (PlanStrand s : strands) {
      sum.strands++;
      try (LedgerFile ledger = ledger(s.document())) {
        if (!run(s, ledger, range, sum, listener)) {
          return null;
        }
      }
    }
    sum.seconds = (System.nanoTime() - start) / 1e9;
    return sum;
  }

  private boolean run(
      PlanStrand s, LedgerFile ledger, FrameRange range, Outcome sum, Listener listener)
      throws IOException, ImportException {
    StrandDocument d = s.document();
    Standings now = Comparison.find(ledger, d, () -> job(s, new FramePlan.Place(d, out)), stop);
    if (now == null) {
      return false;
    }
    int number = free(d, ledger.nextVersion());
    FramePlan.Place anew = new FramePlan.Place(d.withVersion(number), folder(d, number));
    FramePlan.Place at =
        FramePlan.place(ledger, now, anew, number, p -> ledger.begin(p.document(), p.folder()));
    List<FramePlan.Frame> all = new ArrayList<>();
    FrameJob job = now.good() < now.of().length ? job(s, at) : null;
    if (!FramePlan.frames(now, job, null, f -> true, false, Integer.MAX_VALUE, stop, all::addAll)) {
      return false;
    }
    Map<Integer, FramePlan.Frame> todo = new TreeMap<>();
    for (FramePlan.Frame f : all) {
      if (range != null && !range.frames().contains(f.frame())) {
        continue;
      }
      sum.frames++;
      if (f.saved()) {
        sum.fresh++;
      } else {
        todo.put(f.frame(), f);
      }
    }
    listener.begins(s, todo.size(), all.size() - todo.size());
    int failed = sum.failed;
    if (!todo.isEmpty() && !new Strand(s, ledger, at, job, sum, listener).render(todo)) {
      return false;
    }
    boolean whole = range == null && sum.failed == failed;
    return !whole || finish(at, ledger, !todo.isEmpty());
  }

  /**
   * Makes what is asked for beside the frames, if all of them are there.
   *
   * @param anew true to make what is there already, too
   * @return false if it was stopped
   */
  private boolean finish(FramePlan.Place at, LedgerFile ledger, boolean anew) throws IOException {
    Finishing finishing = new Finishing(at.document(), at.folder());
    Map<Integer, LedgerRow> rows = ledger.slim();
    for (Extra e : at.document().settings().delivery().extras()) {
      boolean wanted = anew || !Files.exists(finishing.file(e));
      if (wanted && !finishing.make(e, rows::get, workers, stop, x -> {})) {
        return false;
      }
    }
    return true;
  }

  private Path folder(StrandDocument d, int version) {
    return VersionFolders.of(out, d.production(), d.shot(), d.settings().layer().name(), version);
  }

  /** The next version, from one on, whose folder is not taken by files of others. */
  private int free(StrandDocument d, int from) {
    int number = from;
    while (Files.exists(folder(d, number))) {
      number++;
    }
    return number;
  }

  /** A strand while it is rendered. */
  private final class Strand {
    private final PlanStrand strand;
    private final LedgerFile ledger;
    private final FramePlan.Place at;
    private final FrameJob job;
    private final Outcome sum;
    private final Listener listener;
    private final String basis;

    private Strand(
        PlanStrand strand,
        LedgerFile ledger,
        FramePlan.Place at,
        FrameJob job,
        Outcome sum,
        Listener listener) {
      this.strand = strand;
      this.ledger = ledger;
      this.at = at;
      this.job = job;
      this.sum = sum;
      this.listener = listener;
      basis = strand.document().basis();
    }

    /** Renders frames, those that get one picture together; false if it was stopped. */
    private boolean render(Map<Integer, FramePlan.Frame> todo) throws IOException, ImportException {
      ledger.begin(at.document(), at.folder());
      Map<Integer, List<Integer>> together = new TreeMap<>();
      todo.values()
          .forEach(
              f -> together.computeIfAbsent(f.source(), x -> new ArrayList<>()).add(f.frame()));
      for (List<Integer> frames : together.values()) {
        // The first of them is rendered, whatever else is left out.
        for (int attempt = 1; ; attempt++) {
          try {
            if (!render(todo.get(frames.get(0)).source(), frames)) {
              return false;
            }
            break;
          } catch (IOException | FrameFailure | OutOfMemoryError e) {
            boolean last = attempt == MOST_ATTEMPTS;
            listener.failed(strand, frames.get(0), FileTrouble.sentence(e), last);
            if (last) {
              sum.failed += frames.size();
              break;
            }
          }
        }
      }
      return true;
    }

    private boolean render(int source, List<Integer> frames) throws IOException, ImportException {
      FrameContent.Input input = job.input(source, stop);
      if (input == null) {
        return false;
      }
      String fingerprint = job.borne(input, source);
      List<Integer> left = new ArrayList<>();
      for (int f : frames) {
        job.files().removeParts(f);
        if (job.files().complete(f, fingerprint)) {
          // Written when the batch was cut off last.
          ledger.record(input, row(f, source, fingerprint, null, false));
          sum.rendered++;
          sum.bytes += job.files().bytes(f);
        } else {
          job.files().checkWritable(f);
          left.add(f);
        }
      }
      if (left.isEmpty()) {
        return true;
      }
      FrameJob.Done done =
          job.render(
              source,
              left,
              true,
              stop,
              (fraction, renderer) -> listener.at(strand, left.get(0), fraction));
      if (done == null) {
        return false;
      }
      for (int f : left) {
        ledger.record(input, row(f, source, fingerprint, done, f == left.get(0)));
        sum.bytes += done.bytes();
      }
      sum.rendered++;
      sum.copied += left.size() - 1;
      listener.written(strand, left.get(0), done);
      return true;
    }

    /**
     * @param done null if its files were there
     * @param rendered false for a copy
     */
    private LedgerRow row(
        int frame, int source, String fingerprint, FrameJob.Done done, boolean rendered)
        throws IOException {
      return LedgerRow.written(
          frame,
          at.document().version(),
          source,
          fingerprint,
          basis,
          done,
          rendered,
          job.files().bytes(frame));
    }
  }

  /**
   * Returns how the frames of all strands stand.
   *
   * @param told makes what is told of a strand
   * @return null if it was stopped
   */
  <T> Map<String, T> status(Function<Standings, T> told) throws IOException, ImportException {
    Map<String, T> all = new LinkedHashMap<>();
    for (PlanStrand s : strands) {
      try (LedgerFile ledger = ledger(s.document())) {
        Standings now =
            Comparison.find(
                ledger, s.document(), () -> job(s, new FramePlan.Place(s.document(), out)), stop);
        if (now == null) {
          return null;
        }
        all.put(s.name(), told.apply(now));
      }
    }
    return all;
  }

  /**
   * What the frames of a strand take that are stale or missing.
   *
   * @param rendered how many of them are rendered; the others get their pictures
   */
  record Takes(int rendered, int frames, Estimate.Result result) {}

  /**
   * Tries some frames of each strand out and returns what those take that are stale or missing.
   *
   * @return null if it was stopped
   */
  Map<String, Takes> estimate() throws IOException, ImportException {
    Map<String, Takes> all = new LinkedHashMap<>();
    Path scratch = Files.createTempDirectory("posada-trial");
    try {
      for (PlanStrand s : strands) {
        try (LedgerFile ledger = ledger(s.document())) {
          Takes t = estimate(s, ledger, scratch);
          if (t == null) {
            return null;
          }
          all.put(s.name(), t);
        }
      }
    } finally {
      for (Path p : emptied(scratch)) {
        Files.delete(p);
      }
    }
    return all;
  }

  private Takes estimate(PlanStrand s, LedgerFile ledger, Path scratch)
      throws IOException, ImportException {
    StrandDocument d = s.document();
    FrameJob job = job(s, new FramePlan.Place(d, scratch));
    Standings now = Comparison.find(ledger, d, () -> job, stop);
    if (now == null) {
      return null;
    }
    Map<Integer, Integer> sources = Remaining.sources(d, job, stop);
    if (sources == null) {
      return null;
    }
    Remaining left = Remaining.of(now, sources);
    List<Estimate.Trial> trials = new ArrayList<>();
    List<Integer> tried =
        left.written().isEmpty() ? List.of() : Estimate.tried(now.frames(), TRIALS);
    for (int f : tried) {
      // The first picture of a process is slow.
      Estimate.Trial t = warm ? job.trials().tryOut(f, scratch, stop) : warmed(job, f, scratch);
      if (t == null) {
        return null;
      }
      trials.add(t);
    }
    return new Takes(left.rendered().size(), left.written().size(), left.estimate(d, trials));
  }

  private Estimate.Trial warmed(FrameJob job, int frame, Path scratch)
      throws IOException, ImportException {
    warm = true;
    for (int k = 0; k < WARMING; k++) {
      job.trials().tryOut(frame, scratch, stop);
    }
    return job.trials().tryOut(frame, scratch, stop);
  }

  /** What is in a folder, the deepest first. */
  private static List<Path> emptied(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      return all.sorted(Comparator.reverseOrder()).toList();
    }
  }

  /** Returns how many frames of a strand stand how, and why those are stale that are. */
  static Map<String, Object> told(Standings s) {
    Map<String, Object> o = new LinkedHashMap<>();
    for (Standing x : List.of(Standing.FRESH, Standing.STALE, Standing.MISSING)) {
      o.put(x.name().toLowerCase(Locale.ROOT), s.count(x));
    }
    Map<String, List<Integer>> why = new LinkedHashMap<>();
    for (int i = 0; i < s.of().length; i++) {
      if (s.reasons()[i] != null) {
        why.computeIfAbsent(s.reasons()[i], x -> new ArrayList<>()).add(s.frames().get(i));
      }
    }
    Map<String, String> changed = new LinkedHashMap<>();
    why.forEach((text, frames) -> changed.put(new FrameRange(frames).toString(), text));
    o.put("changed", changed);
    return o;
  }

  @Override
  public void close() throws IOException {
    for (SceneInput in : scenes.values()) {
      in.close();
    }
    if (lock != null) {
      lock.close();
    }
  }
}
