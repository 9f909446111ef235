package posada.server.scenes;

import jakarta.annotation.PostConstruct;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryNotEmptyException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import posada.formats.gltf.SceneReading;
import posada.formats.settings.Documents;
import posada.server.storage.DataFolder;

/**
 * Folders of scenes that are read otherwise than their upload: its files, a reading beside the
 * scene, and files that were added. The upload stays as it is.
 */
@Component
class SceneFolders {
  /** Folder of what was added, in the scene's. */
  static final String ADDED = "added";

  /** Ending of a mark beside a folder that no revision is known to use yet. */
  private static final String NEW = ".new";

  private static final int LOCKS = 64;

  private static final Logger LOG = LoggerFactory.getLogger(SceneFolders.class);

  private final DataFolder folder;
  private final SceneRepository revisions;
  private final Object[] locks = new Object[LOCKS];

  /** How often each folder is held just now. */
  private final Map<String, Integer> held = new HashMap<>();

  /** Counts what was held so far. */
  private long holds;

  SceneFolders(DataFolder folder, SceneRepository revisions) {
    this.folder = folder;
    this.revisions = revisions;
    Arrays.setAll(locks, i -> new Object());
  }

  /** Removes folders that were made for revisions which a killed server did not record. */
  @PostConstruct
  void sweep() throws IOException {
    Path all = Files.createDirectories(folder.revision("x").getParent());
    List<Path> marks;
    try (Stream<Path> there = Files.list(all)) {
      marks = there.filter(p -> p.toString().endsWith(NEW)).toList();
    }
    for (Path mark : marks) {
      String text = mark.getFileName().toString();
      settle(text.substring(0, text.length() - NEW.length()));
    }
  }

  /**
   * Says that whether a folder is used will be known soon, by {@link #settle} or at the next start.
   */
  void begin(String name) throws IOException {
    Files.write(mark(name), new byte[0]);
  }

  /** Keeps a folder, there or not yet, for a revision that is being recorded. */
  void hold(String name) {
    synchronized (held) {
      held.merge(name, 1, Integer::sum);
      holds++;
    }
  }

  /** Gives up a hold once the revision is recorded or will not be. */
  void release(String name) {
    synchronized (held) {
      held.computeIfPresent(name, (n, count) -> count == 1 ? null : count - 1);
    }
    settle(name);
  }

  /**
   * Keeps a folder that a revision uses for good; removes one that was begun if none does. One that
   * is held is left to whoever holds it.
   */
  void settle(String name) {
    try {
      Path gone = unused(name);
      if (gone != null) {
        DataFolder.remove(gone);
      }
    } catch (IOException e) {
      LOG.warn("whether the folder {} is used stays open until the next start", name, e);
    }
  }

  /** Moves a folder away that nobody uses or holds; returns where to, or null. */
  private Path unused(String name) throws IOException {
    while (true) {
      long before;
      synchronized (held) {
        before = holds;
      }
      // No lock is held meanwhile: whoever the database waits for may be waiting for it.
      boolean used = revisions.uses(name);
      synchronized (held) {
        if (held.containsKey(name)) {
          return null;
        }
        if (holds == before) {
          Path gone = null;
          boolean open = Files.exists(mark(name)) && Files.isDirectory(folder.revision(name));
          if (open && !used) {
            gone = folder.incoming();
            Files.move(folder.revision(name), gone.resolve(name));
          }
          Files.deleteIfExists(mark(name));
          return gone;
        }
      }
    }
  }

  private Path mark(String name) {
    return folder.revision(name + NEW);
  }

  /** Returns what is to be held by whoever decides whether a folder is there. */
  Object lock(String name) {
    return locks[Math.floorMod(name.hashCode(), LOCKS)];
  }

  /** Returns the files that were added to a revision's. */
  List<Path> added(String sha256) {
    Path of = folder.revision(sha256).resolve(ADDED);
    if (!Files.isDirectory(of)) {
      return List.of();
    }
    try (Stream<Path> all = Files.list(of)) {
      return all.sorted().toList();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /**
   * Makes a folder, if it is not there, and returns its name; it is held until it is released.
   *
   * @param origin name of the upload's folder
   * @param fileName the scene file in it
   * @param added whose names tell what is in them
   */
  String made(String origin, String fileName, SceneReading reading, List<Path> added)
      throws IOException {
    String name = origin;
    String text = Documents.write(reading);
    if (!reading.equals(SceneReading.NONE) || !added.isEmpty()) {
      List<String> names = added.stream().map(p -> p.getFileName().toString()).sorted().toList();
      byte[] told =
          (origin + "\n" + text + "\n" + String.join("\n", names)).getBytes(StandardCharsets.UTF_8);
      name = HexFormat.of().formatHex(digest().digest(told));
    }
    hold(name);
    try {
      if (!Files.isDirectory(folder.revision(name))) {
        make(name, origin, fileName, text, added);
      }
    } catch (IOException | RuntimeException e) {
      release(name);
      throw e;
    }
    return name;
  }

  private void make(String name, String origin, String fileName, String text, List<Path> added)
      throws IOException {
    Path making = folder.incoming();
    try {
      Path from = folder.revision(origin);
      try (Stream<Path> all = Files.walk(from)) {
        for (Path p : all.filter(Files::isRegularFile).toList()) {
          link(p, making.resolve(from.relativize(p).toString()));
        }
      }
      for (Path p : added) {
        link(p, making.resolve(ADDED).resolve(p.getFileName().toString()));
      }
      Path beside = SceneReading.beside(making.resolve(fileName));
      Files.deleteIfExists(beside);
      Files.writeString(beside, text);
      begin(name);
      try {
        Files.move(making, folder.revision(name));
      } catch (FileAlreadyExistsException | DirectoryNotEmptyException e) {
        // Somebody has made the same meanwhile.
      }
    } finally {
      if (Files.isDirectory(making)) {
        DataFolder.remove(making);
      }
    }
  }

  /**
   * Stores a file; returns the SHA-256 of its bytes.
   *
   * @throws IllegalArgumentException if it has more bytes than may be
   */
  static String store(InputStream in, Path file, long most) throws IOException {
    MessageDigest digest = digest();
    long bytes;
    try (DigestInputStream hashed = new DigestInputStream(in, digest)) {
      bytes = Files.copy(hashed, file);
    }
    if (bytes > most) {
      throw new IllegalArgumentException(
          "a picture may have " + (most >> 20) + " MiB (got " + (bytes >> 20) + " MiB)");
    }
    return HexFormat.of().formatHex(digest.digest());
  }

  private static void link(Path from, Path to) throws IOException {
    Files.createDirectories(to.getParent());
    try {
      Files.createLink(to, from);
    } catch (IOException | UnsupportedOperationException e) {
      Files.copy(from, to);
    }
  }

  private static MessageDigest digest() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }
}
