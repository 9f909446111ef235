package posada.formats.files;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.UUID;
import java.util.stream.Stream;

/**
 * Publishes files so that one under its final name is complete: temporary name in the same folder,
 * of this attempt's own since another may be writing the same file, forced to disk, read back,
 * renamed. A failure leaves nothing behind.
 */
public final class AtomicFile {
  /** Ending of temporary names, which begin with the final name. */
  public static final String TEMPORARY = ".posada-part";

  private AtomicFile() {}

  /**
   * Writes a file and gives it its name.
   *
   * @param overwrite false to refuse if the name is taken
   * @throws IOException naming the file, if the disk is full, reads back otherwise than it was
   *     written, or the name is taken
   */
  public static void publish(Path file, byte[] bytes, boolean overwrite) throws IOException {
    Path folder = file.toAbsolutePath().getParent();
    try {
      Files.createDirectories(folder);
    } catch (FileAlreadyExistsException e) {
      throw new IOException(e.getFile() + " is a file, not a folder; choose another folder", e);
    }
    if (!overwrite && Files.exists(file)) {
      throw new FileAlreadyExistsException(file + " exists already; choose another name or folder");
    }
    String own = UUID.randomUUID().toString().substring(0, 8);
    Path part = folder.resolve(file.getFileName() + "." + own + TEMPORARY);
    try {
      try (FileChannel out =
          FileChannel.open(
              part,
              StandardOpenOption.CREATE,
              StandardOpenOption.TRUNCATE_EXISTING,
              StandardOpenOption.WRITE)) {
        ByteBuffer b = ByteBuffer.wrap(bytes);
        while (b.hasRemaining()) {
          out.write(b);
        }
        out.force(true);
      }
      if (!Arrays.equals(Files.readAllBytes(part), bytes)) {
        throw new IOException(file + " did not read back as it was written; is the disk failing?");
      }
      Files.move(part, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    } catch (IOException e) {
      Files.deleteIfExists(part);
      if (e.getMessage() != null && e.getMessage().contains(file.toString())) {
        throw e;
      }
      throw new IOException(file + " could not be written: " + e.getMessage(), e);
    }
    forceFolder(folder);
  }

  /** Removes what attempts at a file left behind that were cut off. */
  public static void removeParts(Path file) throws IOException {
    Path folder = file.toAbsolutePath().getParent();
    if (!Files.isDirectory(folder)) {
      return;
    }
    String begins = file.getFileName() + ".";
    try (Stream<Path> all = Files.list(folder)) {
      for (Path p : all.toList()) {
        String name = p.getFileName().toString();
        if (name.startsWith(begins) && name.endsWith(TEMPORARY)) {
          Files.deleteIfExists(p);
        }
      }
    }
  }

  /** Removes what was cut off, of all files below a folder. */
  public static void sweep(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      return;
    }
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.filter(f -> f.toString().endsWith(TEMPORARY)).toList()) {
        Files.deleteIfExists(p);
      }
    }
  }

  /** Makes the new name itself last; some file systems cannot, which is no failure of the file. */
  private static void forceFolder(Path folder) {
    try (FileChannel c = FileChannel.open(folder, StandardOpenOption.READ)) {
      c.force(true);
    } catch (IOException e) {
      return;
    }
  }
}
