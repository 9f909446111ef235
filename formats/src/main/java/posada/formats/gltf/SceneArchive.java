package posada.formats.gltf;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;

/** Unpacks zips: of one scene and its files, or of any. */
public final class SceneArchive {
  /** Most bytes that an archive may unpack to. */
  public static final long DEFAULT_LIMIT = 4L << 30;

  private static final int MAX_ENTRIES = 20_000;

  /** Bytes of a file's name at most, and of a whole path. */
  private static final int LONGEST_NAME = 255, LONGEST_PATH = 4000;

  /** Letters of an entry that are shown. */
  private static final int SHOWN = 60;

  private SceneArchive() {}

  /**
   * Unpacks into a folder and returns the scene file in it. The caller removes the folder after a
   * failure.
   *
   * @param name shown in errors
   * @param limit most bytes of all files together
   * @throws ImportException if an entry leaves the folder, the limit is passed, the zip is damaged
   *     or holds no or several scenes
   */
  public static Path unpack(String name, InputStream in, Path folder, long limit)
      throws ImportException, IOException {
    List<Path> scenes =
        new ArrayList<>(
            files(name, in, folder, limit).stream().filter(SceneArchive::isScene).toList());
    if (scenes.isEmpty()) {
      throw new ImportException(name + ": the zip holds no .gltf or .glb file.");
    }
    scenes.sort(Comparator.comparing(Path::toString));
    if (scenes.size() > 1) {
      throw new ImportException(
          name
              + ": the zip holds "
              + scenes.size()
              + " scenes ("
              + scenes.get(0).getFileName()
              + ", "
              + scenes.get(1).getFileName()
              + " ...); pack one.");
    }
    return scenes.get(0);
  }

  private static boolean isScene(Path p) {
    String lower = p.toString().toLowerCase(Locale.ROOT);
    return (lower.endsWith(".gltf") || lower.endsWith(".glb")) && !lower.contains("__macosx");
  }

  /**
   * Unpacks into a folder and returns the files in it. The caller removes the folder after a
   * failure.
   *
   * @param name shown in errors
   * @param limit most bytes of all files together
   * @throws ImportException if an entry leaves the folder, the limit is passed, or the zip is empty
   *     or damaged
   */
  public static List<Path> files(String name, InputStream in, Path folder, long limit)
      throws ImportException, IOException {
    Path base = folder.toAbsolutePath().normalize();
    List<Path> files = new ArrayList<>();
    long left = limit;
    int entries = 0;
    try (ZipInputStream zip = new ZipInputStream(in)) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        if (++entries > MAX_ENTRIES) {
          throw new ImportException(name + ": the zip has more than " + MAX_ENTRIES + " entries.");
        }
        Path target = target(name, base, e.getName());
        try {
          if (e.isDirectory()) {
            Files.createDirectories(target);
            continue;
          }
          Files.createDirectories(target.getParent());
          left = copy(name, zip, target, left, limit);
          files.add(target);
        } catch (FileSystemException x) {
          throw unfit(name, e.getName(), base, target, x);
        }
      }
    } catch (java.util.zip.ZipException | java.io.EOFException | IllegalArgumentException e) {
      throw new ImportException(name + ": the zip is damaged and cannot be unpacked.");
    }
    if (entries == 0) {
      throw new ImportException(name + ": the file is empty or not a zip.");
    }
    return files;
  }

  /** Says what is wrong with an entry that the disk does not take, or passes on what it said. */
  private static ImportException unfit(
      String name, String entry, Path base, Path target, FileSystemException said)
      throws FileSystemException {
    String shown =
        "\"" + (entry.length() > SHOWN ? entry.substring(0, SHOWN) + " …" : entry) + "\"";
    boolean longer = bytes(target) > LONGEST_PATH;
    for (Path part : base.relativize(target)) {
      longer |= bytes(part) > LONGEST_NAME;
    }
    if (longer) {
      return new ImportException(
          name + ": the zip entry " + shown + " has a longer name than a file may have.");
    }
    boolean taken = Files.isDirectory(target);
    for (Path p = target; p.startsWith(base); p = p.getParent()) {
      taken |= Files.isRegularFile(p);
    }
    if (taken) {
      return new ImportException(
          name + ": the zip has a file where it has a folder, too: " + shown + "; rename one.");
    }
    throw said;
  }

  private static int bytes(Path p) {
    return p.toString().getBytes(StandardCharsets.UTF_8).length;
  }

  private static Path target(String name, Path base, String entry) throws ImportException {
    try {
      Path target = base.resolve(entry.replace('\\', '/')).normalize();
      if (target.startsWith(base)) {
        return target;
      }
    } catch (java.nio.file.InvalidPathException e) {
      throw new ImportException(name + ": the zip has an entry whose name is no file name.");
    }
    throw new ImportException(
        name + ": the zip entry \"" + entry + "\" would be written outside its folder.");
  }

  private static long copy(String name, InputStream zip, Path target, long left, long limit)
      throws IOException, ImportException {
    byte[] buffer = new byte[1 << 16];
    try (OutputStream out = Files.newOutputStream(target)) {
      for (int n = zip.read(buffer); n >= 0; n = zip.read(buffer)) {
        left -= n;
        if (left < 0) {
          throw new ImportException(
              name + ": the zip unpacks to more than the limit of " + (limit >> 20) + " MiB.");
        }
        out.write(buffer, 0, n);
      }
    }
    return left;
  }
}
