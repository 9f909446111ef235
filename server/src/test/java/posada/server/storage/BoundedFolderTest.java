package posada.server.storage;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class BoundedFolderTest {
  @TempDir Path home;

  private List<String> there() throws IOException {
    try (Stream<Path> all = Files.list(home)) {
      return all.map(p -> p.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void whatWasNotAskedForLongestGoes() throws Exception {
    BoundedFolder f = new BoundedFolder(home, 30);
    for (String name : List.of("a", "b", "c")) {
      f.put(name, new byte[10]);
      Files.setLastModifiedTime(home.resolve(name), FileTime.fromMillis(name.charAt(0)));
    }
    assertArrayEquals(new byte[10], f.get("a").orElseThrow());
    f.put("d", new byte[10]);
    assertEquals(List.of("a", "c", "d"), there());
    f.put("huge", new byte[100]);
    assertEquals(List.of("huge"), there());
    assertTrue(f.get("a").isEmpty());
  }
}
