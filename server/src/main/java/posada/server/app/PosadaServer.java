package posada.server.app;

import java.net.InetAddress;
import java.nio.file.Path;
import java.util.Map;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.context.properties.ConfigurationPropertiesScan;
import org.springframework.context.ConfigurableApplicationContext;
import posada.server.storage.DataFolderCheck;

/** Starts the server. */
@SpringBootApplication(scanBasePackages = "posada.server")
@ConfigurationPropertiesScan
public class PosadaServer {
  public static void main(String[] args) {
    Path home = Path.of(start(args).getEnvironment().getRequiredProperty("posada.home"));
    SpringApplication.getShutdownHandlers().add(() -> DataFolderCheck.left(home));
  }

  /**
   * Starts the server and returns its context; {@code PORT}, {@code POSADA_HOME}, {@code
   * POSADA_PASSWORD} and {@code POSADA_VIEW_PASSWORD} are heeded.
   */
  public static ConfigurableApplicationContext start(String... args) {
    System.setProperty("java.awt.headless", "true");
    SpringApplication app = new SpringApplication(PosadaServer.class);
    String home = System.getenv().getOrDefault("POSADA_HOME", "posada-data");
    app.setDefaultProperties(
        Map.of(
            "posada.home", Path.of(home).toAbsolutePath().normalize().toString(),
            "posada.view-password", System.getenv().getOrDefault("POSADA_VIEW_PASSWORD", ""),
            "server.port", System.getenv().getOrDefault("PORT", "8080"),
            "server.address", InetAddress.getLoopbackAddress().getHostAddress()));
    return app.run(args);
  }
}
