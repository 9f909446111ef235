package posada.cli;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** Commands in this process, in a folder with a scene, and what they print. */
abstract class CliCase {
  @TempDir Path folder;
  private final PrintStream out = System.out;
  private final PrintStream err = System.err;

  /** What was printed, and what on the error stream. */
  final ByteArrayOutputStream said = new ByteArrayOutputStream();

  final ByteArrayOutputStream told = new ByteArrayOutputStream();
  Path scene;

  @BeforeEach
  void listen() throws Exception {
    System.setOut(new PrintStream(said, true));
    System.setErr(new PrintStream(told, true));
    scene = TwoCameras.in(folder);
  }

  @AfterEach
  void stopListening() {
    System.setOut(out);
    System.setErr(err);
  }
}
