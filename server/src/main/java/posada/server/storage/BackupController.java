package posada.server.storage;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RestController;

/** Copies of the database while it is in use. */
@RestController
class BackupController {
  /** Copies that are kept, the newest. */
  private static final int KEPT = 30;

  private static final String ENDING = ".zip";

  /** A copy that is not whole yet. */
  static final String MAKING = "making";

  private final BackupRepository repository;
  private final DataFolder folder;

  BackupController(BackupRepository repository, DataFolder folder) {
    this.repository = repository;
    this.folder = folder;
  }

  /**
   * A copy of the database.
   *
   * @param file where it is
   */
  record Backup(String file, long bytes) {}

  /** Makes a copy; {@code bin/restore} brings it back. */
  @PostMapping("/api/backups")
  synchronized Backup backup() throws IOException {
    Path all = folder.backups();
    String now = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss-SSS").format(LocalDateTime.now());
    Path file = all.resolve("posada-" + now + ENDING);
    Path making = all.resolve(MAKING);
    Files.deleteIfExists(making);
    repository.write(making);
    Files.move(making, file);
    try (Stream<Path> there = Files.list(all)) {
      List<Path> copies =
          there
              .filter(p -> p.toString().endsWith(ENDING) && !p.equals(file))
              .sorted(Comparator.reverseOrder())
              .toList();
      for (Path old : copies.subList(Math.min(KEPT - 1, copies.size()), copies.size())) {
        Files.delete(old);
      }
    }
    return new Backup(file.toString(), Files.size(file));
  }
}
