package posada.server.storage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import posada.formats.files.AtomicFile;

/**
 * Files that can be made again: those that were not asked for longest go when together they are too
 * large. The last one stays, however large.
 */
public final class BoundedFolder {
  private final Path folder;
  private final long most;

  /** Bytes of all files, or a little more; -1 if nobody has counted yet. */
  private long held = -1;

  /**
   * @param most sum of the files' bytes
   */
  BoundedFolder(Path folder, long most) {
    this.folder = folder;
    this.most = most;
  }

  /** Returns what is in a file, if it is there. */
  public synchronized Optional<byte[]> get(String name) throws IOException {
    Path file = folder.resolve(name);
    try {
      byte[] bytes = Files.readAllBytes(file);
      Files.setLastModifiedTime(file, FileTime.from(Instant.now()));
      return Optional.of(bytes);
    } catch (NoSuchFileException e) {
      return Optional.empty();
    }
  }

  /** Keeps a file. */
  public synchronized void put(String name, byte[] bytes) throws IOException {
    AtomicFile.publish(folder.resolve(name), bytes, true);
    held += held < 0 ? 0 : bytes.length;
    if (held >= 0 && held <= most) {
      return;
    }
    long sum = 0;
    long left = 0;
    for (Entry e : newestFirst()) {
      sum += e.bytes();
      if (sum > most && !e.file().endsWith(name)) {
        Files.deleteIfExists(e.file());
      } else {
        left += e.bytes();
      }
    }
    held = left;
  }

  private record Entry(Path file, long bytes, FileTime used) {
    private static Entry of(Path file) throws IOException {
      return new Entry(file, Files.size(file), Files.getLastModifiedTime(file));
    }
  }

  private List<Entry> newestFirst() throws IOException {
    try (Stream<Path> all = Files.list(folder)) {
      List<Entry> found = new ArrayList<>();
      for (Path file : all.toList()) {
        found.add(Entry.of(file));
      }
      found.sort(Comparator.comparing(Entry::used).reversed());
      return found;
    }
  }
}
