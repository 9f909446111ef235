package posada.server.storage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.stream.Stream;
import org.springframework.stereotype.Component;
import posada.formats.files.AtomicFile;
import posada.formats.files.VersionFolders;
import posada.server.app.PosadaProperties;

/** The places of everything that is kept on disk. */
@Component
public class DataFolder {
  /** Bytes of small pictures: some ten thousand. */
  private static final long MOST_PICTURES = 256 << 20;

  /** Bytes of display proxies: some twenty thousand frames. */
  private static final long MOST_PROXIES = 2L << 30;

  private final Path home;
  private final BoundedFolder pictures, proxies;

  public DataFolder(PosadaProperties properties) throws IOException {
    home = Path.of(properties.home()).toAbsolutePath().normalize();
    Files.createDirectories(home);
    pictures = new BoundedFolder(home.resolve("pictures"), MOST_PICTURES);
    proxies = new BoundedFolder(home.resolve("proxies"), MOST_PROXIES);
    AtomicFile.sweep(home.resolve("pictures"));
    AtomicFile.sweep(home.resolve("proxies"));
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

  /** Returns the folder of small pictures of finished frames. */
  public BoundedFolder proxies() {
    return proxies;
  }

  /** Returns the folder of sequences from elsewhere that were copied here. */
  public Path sequences() throws IOException {
    return Files.createDirectories(home.resolve("sequences"));
  }

  /** Returns an empty folder for films that are made again when they are wanted. */
  public Path previews() throws IOException {
    return emptied("previews");
  }

  /** Returns an empty folder for previews of several shots, likewise. */
  public Path cuts() throws IOException {
    return emptied("cuts");
  }

  private Path emptied(String name) throws IOException {
    Path folder = home.resolve(name);
    if (Files.isDirectory(folder)) {
      remove(folder);
    }
    return Files.createDirectories(folder);
  }

  /** Returns the folder of pictures that somebody has kept. */
  public Path snapshots() throws IOException {
    return Files.createDirectories(home.resolve("snapshots"));
  }

  /** Returns the folder of one version of a strand's files. */
  public Path version(String production, String shot, String layer, int number) {
    return VersionFolders.of(home.resolve("output"), production, shot, layer, number);
  }

  /** Returns the folder of one version of a film. */
  public Path film(String production, String film, int number) {
    return VersionFolders.of(home.resolve("output"), production, "films", film, number);
  }

  /** Returns the folder of copies of the database. */
  public Path backups() throws IOException {
    return Files.createDirectories(home.resolve("backups"));
  }

  /** Returns the folder of zips that were handed over. */
  public Path handovers() throws IOException {
    return Files.createDirectories(home.resolve("handovers"));
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
