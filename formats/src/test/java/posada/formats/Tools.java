package posada.formats;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.concurrent.TimeUnit;

/** Programs of others that files are made and checked with. */
public final class Tools {
  private Tools() {}

  /** Runs a program to its good end; returns what it printed. */
  public static String run(List<String> command) throws Exception {
    Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
    String out = new String(p.getInputStream().readAllBytes());
    assertTrue(p.waitFor(60, TimeUnit.SECONDS));
    assertEquals(0, p.exitValue(), out);
    return out;
  }

  public static String run(String... command) throws Exception {
    return run(List.of(command));
  }
}
