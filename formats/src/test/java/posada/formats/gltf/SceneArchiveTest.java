package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SceneArchiveTest {
  @TempDir Path folder;

  private static byte[] zip(Map<String, byte[]> files) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipOutputStream z = new ZipOutputStream(out)) {
      for (var e : new TreeMap<>(files).entrySet()) {
        z.putNextEntry(new ZipEntry(e.getKey()));
        z.write(e.getValue());
      }
    }
    return out.toByteArray();
  }

  private Path unpack(byte[] bytes, long limit) throws Exception {
    Path inner = Files.createDirectories(folder.resolve("in"));
    return SceneArchive.unpack("s.zip", new ByteArrayInputStream(bytes), inner, limit);
  }

  private void refused(String words, byte[] bytes) {
    var e = assertThrows(ImportException.class, () -> unpack(bytes, 1 << 20));
    assertTrue(e.getMessage().contains(words), e.getMessage());
  }

  @Test
  void findsTheOneScene() throws Exception {
    byte[] z = zip(Map.of("a/s.gltf", new byte[3], "a/t/wood.png", new byte[5]));
    assertEquals("s.gltf", unpack(z, 100).getFileName().toString());
    assertTrue(Files.exists(folder.resolve("in/a/t/wood.png")));
  }

  @Test
  void writesNothingOutsideItsFolder() throws Exception {
    refused("outside its folder", zip(Map.of("../evil.gltf", new byte[3])));
    refused("outside its folder", zip(Map.of("a\\..\\..\\evil.gltf", new byte[3])));
    assertFalse(Files.exists(folder.resolve("evil.gltf")));
  }

  @Test
  void unpacksNoMoreThanTheLimit() throws Exception {
    refused("limit of 1 MiB", zip(Map.of("s.glb", new byte[3 << 20])));
  }

  @Test
  void refusesNoneSeveralAndDamage() throws Exception {
    refused("no .gltf", zip(Map.of("readme.txt", new byte[3])));
    refused("2 scenes", zip(Map.of("a.glb", new byte[3], "b.glb", new byte[3])));
    refused("not a zip", "hello".getBytes());
    byte[] cut = zip(Map.of("a.glb", new byte[90_000]));
    refused("damaged", java.util.Arrays.copyOf(cut, 60));
  }

  /** Such as a link, which is unpacked as a file, and something below it. */
  @Test
  void refusesFilesThatAreFoldersAndNamesThatNoFileMayHave() throws Exception {
    refused("a file where it has a folder", zip(Map.of("a", new byte[3], "a/b.gltf", new byte[3])));
    refused("a file where it has a folder", zip(Map.of(".", new byte[3])));
    refused("a longer name", zip(Map.of("w".repeat(300) + ".gltf", new byte[3])));
    refused("a longer name", zip(Map.of("way/".repeat(1100) + "s.gltf", new byte[3])));
    refused("a longer name", zip(Map.of("\u7f8a".repeat(100) + "/s.gltf", new byte[3])));
  }
}
