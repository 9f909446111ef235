package posada.server.scenes;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.anyString;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.server.storage.DataFolder;

class SceneFoldersTest {
  @TempDir Path home;
  @TempDir Path gone;

  private final DataFolder folder = mock(DataFolder.class);
  private final SceneRepository revisions = mock(SceneRepository.class);
  private final SceneFolders folders = new SceneFolders(folder, revisions);

  @BeforeEach
  void open() throws Exception {
    when(folder.revision(anyString())).then(i -> home.resolve(i.<String>getArgument(0)));
    when(folder.incoming()).then(i -> Files.createTempDirectory(gone, "scene-"));
  }

  private void put(String name) throws Exception {
    Files.writeString(Files.createDirectories(home.resolve(name)).resolve("a.gltf"), "{}");
  }

  private boolean there(String name) {
    return Files.exists(home.resolve(name).resolve("a.gltf"));
  }

  @Test
  void whatOneThrowsAwayWhileAnotherRecordsItStays() throws Exception {
    put("scene");
    folders.hold("scene"); // The same file is uploaded again ...
    folders.begin("scene"); // ... while the revision that used it is thrown away.
    folders.settle("scene");
    assertTrue(there("scene"));
    when(revisions.uses("scene")).thenReturn(true);
    folders.release("scene");
    assertTrue(there("scene"));
    assertFalse(Files.exists(home.resolve("scene.new")), "it is known to be used");
  }

  @Test
  void whatIsRecordedWhileTheDatabaseIsAskedStays() throws Exception {
    put("scene");
    AtomicBoolean recorded = new AtomicBoolean();
    when(revisions.uses("scene"))
        .then(
            i -> {
              boolean answer = recorded.getAndSet(true);
              if (!answer) { // Another upload comes and goes before this is heard.
                folders.hold("scene");
                folders.release("scene");
              }
              return answer;
            });
    folders.begin("scene");
    folders.settle("scene");
    assertTrue(there("scene"));
  }

  @Test
  void theLastWhoGivesUpRemovesWhatNobodyUses() throws Exception {
    put("scene");
    folders.hold("scene");
    folders.hold("scene");
    folders.begin("scene");
    folders.release("scene");
    assertTrue(there("scene"));
    folders.release("scene");
    assertFalse(Files.exists(home.resolve("scene")));
  }

  /** What was settled long ago may be what an undone change goes back to. */
  @Test
  void whatIsUsedNoMoreStaysUnlessItWasBegun() throws Exception {
    put("scene");
    folders.hold("scene");
    folders.release("scene");
    assertTrue(there("scene"));
  }

  @Test
  void whatAKilledServerDidNotRecordIsRemovedAtTheNextStart() throws Exception {
    when(revisions.uses("used")).thenReturn(true);
    for (String name : Set.of("used", "lost", "from-a-newer-database")) {
      put(name);
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
