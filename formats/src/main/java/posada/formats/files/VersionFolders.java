package posada.formats.files;

import java.nio.file.Path;
import posada.core.plan.NamePattern;

/** Where the versions of strands lie: {@code production/shot/layer/v001}. */
public final class VersionFolders {
  private VersionFolders() {}

  /** Returns the folder of one version of a strand's files. */
  public static Path of(Path base, String production, String shot, String layer, int number) {
    return base.resolve(NamePattern.safe(production))
        .resolve(NamePattern.safe(shot))
        .resolve(NamePattern.safe(layer))
        .resolve(String.format("v%03d", number));
  }

  /** Returns what is the same for all strands whose files would lie in one folder. */
  public static String key(String production, String shot, String layer) {
    return String.join(
        "/", NamePattern.folded(production), NamePattern.folded(shot), NamePattern.folded(layer));
  }
}
