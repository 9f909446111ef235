package posada.server.storage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import posada.formats.files.VersionFolders;
import posada.server.app.PosadaProperties;

/** The places of everything that is kept on disk. */
@Component
public class DataFolder {
  /** Bytes of small pictures: some ten thousand. */
  private static final long MOST_PICTURES = 256 << 20;

  private final Path home;
  private final BoundedFolder pictures;

  public DataFolder(PosadaProperties properties) throws IOException {
    home = Path.of(properties.home()).toAbsolutePath().normalize();
    Files.createDirectories(home);
    pictures = new BoundedFolder(home.resolve("pictures"), MOST_PICTURES);
    Path incoming = home.resolve("incoming");
    if (Files.isDirectory(incoming)) {
      remove(incoming); // What an import left that was cut off.
    }
  }

  /** Returns how much room there is on the disk of the data; as much as can be if nobody knows. */
  public long freeBytes() {
    try {
      return Files.getFileStore(home).getUsableSpace();
    } catch (IOException e) {
      return Long.MAX_VALUE;
    }
  }

  /** Returns a new folder for files that are still being looked at. */
  public Path incoming() throws IOException {
    Path folder = home.resolve("incoming");
    Files.createDirectories(folder);
    return Files.createTempDirectory(folder, "scene-");
  }

  /** Returns the folder of a revision's files; the name says what they are. */
  public Path revision(String sha256) {
    return home.resolve("scenes").resolve(sha256);
  }

  /** Returns the folder of small pictures. */
  public BoundedFolder pictures() {
    return pictures;
  }

  /** Returns an empty folder for films that are made again when they are wanted. */
  public Path previews() throws IOException {
    Path folder = home.resolve("previews");
    if (Files.isDirectory(folder)) {
      remove(folder);
    }
    return Files.createDirectories(folder);
  }

  /** Returns the folder of one version of a strand's files. */
  public Path version(String production, String shot, String layer, int number) {
    return VersionFolders.of(home.resolve("output"), production, shot, layer, number);
  }

  /** Removes a folder with everything in it. */
  public static void remove(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(p);
      }
    }
  }
}
