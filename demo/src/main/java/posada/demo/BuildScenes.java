package posada.demo;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** Command that writes the demo scenes into a folder. */
public final class BuildScenes {
  private BuildScenes() {}

  /** Returns the scene {@code larkspur-pass} as a GLB file. */
  public static byte[] larkspurPass() {
    return LarkspurPass.build();
  }

  /**
   * Writes all scenes.
   *
   * @param args the folder
   */
  public static void main(String[] args) throws IOException {
    Path folder = Path.of(args.length > 0 ? args[0] : ".");
    Files.createDirectories(folder);
    Path file = folder.resolve("larkspur-pass.glb");
    Files.write(file, larkspurPass());
    System.out.println("wrote " + file);
  }
}
