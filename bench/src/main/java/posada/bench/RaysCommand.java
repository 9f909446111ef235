package posada.bench;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.lang.management.ManagementFactory;
import java.lang.management.ThreadMXBean;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import posada.core.geometry.Ray;
import posada.core.geometry.TriangleBvh;
import posada.core.geometry.VectorPath;
import posada.core.parallel.Workers;

/** How fast and how right rays meet triangles, to be set against another program's figures. */
@Command(name = "rays", description = "Traces given rays through a given mesh.")
final class RaysCommand {
  private static final int CHUNK = 4096;
  private static final ThreadMXBean THREADS = ManagementFactory.getThreadMXBean();

  private RaysCommand() {}

  /** Rays whose file name says so are only asked whether anything is in their way. */
  private static boolean any(Path rays) {
    return rays.getFileName().toString().contains("shadow");
  }

  @Command(
      description =
          "After 'ready', answers each line 'run K THREADS' with 'wallMrays cpuMrays hits'.")
  int serve(
      @Parameters(paramLabel = "MESH") Path meshFile,
      @Parameters(paramLabel = "RAYS", arity = "1..*") List<Path> rayFiles)
      throws IOException {
    RayFiles.Mesh m = RayFiles.mesh(meshFile);
    List<float[]> rays = new ArrayList<>();
    for (Path p : rayFiles) {
      rays.add(RayFiles.rays(p));
    }
    TriangleBvh bvh = new TriangleBvh(m.positions(), m.indices(), Workers.CALLER);
    System.out.println("ready " + (VectorPath.ON ? "vector" : "scalar"));
    BufferedReader in = new BufferedReader(new InputStreamReader(System.in));
    for (String line = in.readLine(); line != null; line = in.readLine()) {
      String[] words = line.trim().split("\\s+");
      if (words.length != 3 || !words[0].equals("run")) {
        break;
      }
      int k = Integer.parseInt(words[1]);
      System.out.println(run(bvh, rays.get(k), any(rayFiles.get(k)), Integer.parseInt(words[2])));
    }
    return 0;
  }

  private static String run(TriangleBvh bvh, float[] rays, boolean any, int threads) {
    int n = rays.length / RayFiles.RAY;
    AtomicInteger next = new AtomicInteger();
    AtomicLong hits = new AtomicLong();
    AtomicLong cpu = new AtomicLong();
    ExecutorService pool = Executors.newFixedThreadPool(threads);
    try {
      long start = System.nanoTime();
      new Workers(pool, threads)
          .each(
              threads,
              w -> {
                long from = THREADS.getCurrentThreadCpuTime();
                Ray r = new Ray();
                long count = 0;
                for (int b = next.getAndAdd(CHUNK); b < n; b = next.getAndAdd(CHUNK)) {
                  count += trace(bvh, rays, b, Math.min(n, b + CHUNK), any, r);
                }
                hits.addAndGet(count);
                cpu.addAndGet(THREADS.getCurrentThreadCpuTime() - from);
              });
      double wall = (System.nanoTime() - start) * 1e-9;
      double each = cpu.get() * 1e-9 / threads;
      return String.format(Locale.ROOT, "%.4f %.4f %d", n / wall / 1e6, n / each / 1e6, hits.get());
    } finally {
      pool.shutdown();
    }
  }

  private static int trace(TriangleBvh bvh, float[] rays, int from, int to, boolean any, Ray r) {
    int hits = 0;
    for (int i = from, o = from * RayFiles.RAY; i < to; i++, o += RayFiles.RAY) {
      set(r, rays, o);
      if (any) {
        hits += bvh.occluded(r) ? 1 : 0;
      } else {
        bvh.intersect(r);
        hits += r.hit() ? 1 : 0;
      }
    }
    return hits;
  }

  private static void set(Ray r, float[] q, int o) {
    r.set(q[o], q[o + 1], q[o + 2], q[o + 3], q[o + 4], q[o + 5], q[o + 6]);
  }

  @Command(description = "Compares hits with those of another program, ray by ray.")
  int verify(
      @Parameters(paramLabel = "MESH") Path meshFile,
      @Parameters(paramLabel = "RAYS HITS", arity = "2..*", description = "pairs of files")
          List<Path> files,
      @Option(names = "--closed", description = "every ray must hit: the mesh is a closed room")
          boolean closed,
      @Option(
              names = "--least",
              description = "share of hits that must agree",
              defaultValue = "0.99999")
          double least)
      throws IOException {
    RayFiles.Mesh m = RayFiles.mesh(meshFile);
    TriangleBvh bvh = new TriangleBvh(m.positions(), m.indices(), Workers.CALLER);
    boolean good = true;
    for (int f = 0; f + 1 < files.size(); f += 2) {
      boolean any = any(files.get(f));
      float[] rays = RayFiles.rays(files.get(f));
      int[] want = RayFiles.hits(files.get(f + 1));
      int n = rays.length / RayFiles.RAY;
      int same = 0;
      int out = 0;
      Ray r = new Ray();
      for (int i = 0; i < n; i++) {
        set(r, rays, i * RayFiles.RAY);
        boolean hit;
        if (any) {
          hit = bvh.occluded(r);
          same += hit == want[2 * i] >= 0 ? 1 : 0;
        } else {
          bvh.intersect(r);
          hit = r.hit();
          same += agrees(hit, r.triangle, r.tMax, want, i) ? 1 : 0;
        }
        out += hit ? 0 : 1;
      }
      double share = same / (double) n;
      boolean fine = share >= least && !(closed && !any && out > 0);
      good &= fine;
      System.out.printf(
          Locale.ROOT,
          "%-28s %8d rays  agree %.6f %%  differ %d  misses %d  %s%n",
          files.get(f).getFileName(),
          n,
          100 * share,
          n - same,
          out,
          fine ? "good" : "BAD");
    }
    return good ? 0 : 1;
  }

  /** The same triangle, or, where two share the point that is hit, the same distance. */
  private static boolean agrees(boolean hit, int triangle, float t, int[] want, int i) {
    if (hit != want[2 * i] >= 0) {
      return false;
    }
    float other = Float.intBitsToFloat(want[2 * i + 1]);
    return !hit || triangle == want[2 * i] || Math.abs(t - other) <= 1e-5f * Math.max(1, other);
  }

  @Command(description = "Builds the mesh's hierarchy several times; prints wall and CPU ms.")
  int build(
      @Parameters(paramLabel = "MESH") Path meshFile,
      @Option(names = "--threads", defaultValue = "2") int threads,
      @Option(names = "--reps", defaultValue = "12") int reps)
      throws IOException {
    RayFiles.Mesh m = RayFiles.mesh(meshFile);
    ExecutorService pool = Executors.newFixedThreadPool(threads);
    Workers workers = new Workers(pool, threads);
    try {
      for (int i = 0; i < reps; i++) {
        long start = System.nanoTime();
        TriangleBvh bvh = new TriangleBvh(m.positions(), m.indices(), workers);
        System.out.printf(
            Locale.ROOT,
            "build threads=%d wall %.1f ms, %d bytes%n",
            threads,
            (System.nanoTime() - start) * 1e-6,
            bvh.bytes());
      }
    } finally {
      pool.shutdown();
    }
    return 0;
  }
}
