package posada.server.scenes;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.server.storage.DataFolder;

class SceneFoldersTest {
  @TempDir Path home;

  @Test
  void whatAKilledServerDidNotRecordIsRemovedAtTheNextStart() throws Exception {
    DataFolder folder = mock(DataFolder.class);
    when(folder.revision(anyString())).then(i -> home.resolve(i.<String>getArgument(0)));
    SceneRepository revisions = mock(SceneRepository.class);
    when(revisions.uses("used")).thenReturn(true);
    SceneFolders folders = new SceneFolders(folder, revisions);
    for (String name : Set.of("used", "lost", "from-a-newer-database")) {
      Files.writeString(Files.createDirectories(home.resolve(name)).resolve("a.gltf"), "{}");
    }
    folders.begin("used");
    folders.begin("lost");
    folders.begin("killed before it was moved");
    folders.sweep();
    try (Stream<Path> left = Files.list(home)) {
      assertEquals(
          Set.of("used", "from-a-newer-database"),
          left.map(p -> p.getFileName().toString()).collect(Collectors.toSet()));
    }
  }
}
