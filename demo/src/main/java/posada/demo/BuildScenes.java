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

  /** Returns the scene {@code ticket-hall} as a GLB file. */
  public static byte[] ticketHall() {
    return TicketHall.build();
  }

  /** Returns the scene {@code winding-engine} as a GLB file. */
  public static byte[] windingEngine() {
    return WindingEngine.build();
  }

  /** Returns the scene {@code lost-luggage}, which has faults on purpose, as a GLB file. */
  public static byte[] lostLuggage() {
    return LostLuggage.build();
  }

  /**
   * Writes all scenes.
   *
   * @param args the folder
   */
  public static void main(String[] args) throws IOException {
    Path folder = Path.of(args.length > 0 ? args[0] : ".");
    Files.createDirectories(folder);
    write(folder.resolve("larkspur-pass.glb"), larkspurPass());
    write(folder.resolve("ticket-hall.glb"), ticketHall());
    write(folder.resolve("winding-engine.glb"), windingEngine());
    write(folder.resolve("lost-luggage.glb"), lostLuggage());
  }

  private static void write(Path file, byte[] scene) throws IOException {
    Files.write(file, scene);
    System.out.println("wrote " + file);
  }
}
