package posada.cli;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.Locale;
import java.util.stream.Stream;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.ImportedScene;
import posada.formats.gltf.SceneArchive;
import posada.formats.gltf.SceneImporter;

/** A scene given on the command line; a zip is unpacked into a folder that closing removes. */
record SceneInput(ImportedScene imported, Path unpacked) implements AutoCloseable {
  static SceneInput open(Path path) throws ImportException, IOException {
    if (!Files.isRegularFile(path)) {
      throw new ImportException(path + " is not there or is no file.");
    }
    if (!path.toString().toLowerCase(Locale.ROOT).endsWith(".zip")) {
      return new SceneInput(SceneImporter.load(path), null);
    }
    Path folder = Files.createTempDirectory("posada-scene-");
    try (InputStream in = Files.newInputStream(path)) {
      Path file =
          SceneArchive.unpack(
              path.getFileName().toString(), in, folder, SceneArchive.DEFAULT_LIMIT);
      return new SceneInput(SceneImporter.load(file), folder);
    } catch (ImportException | IOException | RuntimeException e) {
      remove(folder);
      throw e;
    }
  }

  @Override
  public void close() throws IOException {
    if (unpacked != null) {
      remove(unpacked);
    }
  }

  private static void remove(Path folder) throws IOException {
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(p);
      }
    }
  }
}
