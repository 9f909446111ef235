package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** A picture is the same bit for bit on every Java, with the vector unit or without. */
class SamePicturesTest {
  private static final Pattern VERSION = Pattern.compile("JAVA_VERSION=\"(\\d+)");
  private static final String VECTORS = "jdk.incubator.vector";

  /** Returns the homes of all installed Javas from 17 up, this one first. */
  private static List<Path> homes() throws IOException {
    List<Path> homes = new ArrayList<>();
    homes.add(Path.of(System.getProperty("java.home")).toRealPath());
    Path installed = Path.of("/usr/lib/jvm");
    if (Files.isDirectory(installed)) {
      try (Stream<Path> all = Files.list(installed)) {
        for (Path p : all.toList()) {
          Path real = p.toRealPath();
          Path release = real.resolve("release");
          if (homes.contains(real) || !Files.isExecutable(real.resolve("bin/java"))) {
            continue;
          }
          Matcher m = VERSION.matcher(Files.exists(release) ? Files.readString(release) : "");
          if (m.find() && Integer.parseInt(m.group(1)) >= 17) {
            homes.add(real);
          }
        }
      }
    }
    return homes;
  }

  private static String pictures(Path home, boolean vector, int threads) throws Exception {
    List<String> command = new ArrayList<>(List.of(home.resolve("bin/java").toString()));
    if (vector) {
      command.addAll(List.of("--add-modules", VECTORS));
    }
    command.addAll(
        List.of(
            "-Xmx1g",
            "-cp",
            System.getProperty("java.class.path"),
            PictureHashes.class.getName(),
            Integer.toString(threads)));
    Path out = Files.createTempFile("pictures", ".txt");
    try {
      Process p =
          new ProcessBuilder(command)
              .redirectErrorStream(true)
              .redirectOutput(out.toFile())
              .start();
      assertTrue(p.waitFor(5, TimeUnit.MINUTES), "it takes too long");
      String said = Files.readString(out);
      return said.lines()
          .filter(l -> l.startsWith("pictures"))
          .findFirst()
          .orElseThrow(() -> new AssertionError(home + " made no pictures: " + said));
    } finally {
      Files.delete(out);
    }
  }

  @Test
  void areTheSameOnEveryJavaWithAndWithoutVectorsAndThreads() throws Exception {
    List<Path> homes = homes();
    String want = pictures(homes.get(0), false, 1);
    for (Path home : homes) {
      assertEquals(want, pictures(home, true, 2), home + " with vectors");
    }
    if (homes.size() > 1) {
      assertEquals(want, pictures(homes.get(1), false, 2), homes.get(1) + " without");
    }
  }
}
