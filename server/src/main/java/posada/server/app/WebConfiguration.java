package posada.server.app;

import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import java.util.List;
import org.springdoc.core.customizers.OpenApiCustomizer;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.scheduling.annotation.EnableScheduling;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;
import posada.formats.settings.Documents;

@Configuration
@EnableScheduling
class WebConfiguration {
  /** Requests are read as strictly as settings are. */
  @Bean
  JsonMapperBuilderCustomizer settings() {
    return Documents::strict;
  }

  @Bean
  OpenAPI api() {
    SettingsSchemas.describe();
    return new OpenAPI().info(new Info().title("Posada").version("0.1.0")).servers(List.of());
  }

  /** Records always send all their parts; one that may be empty says so by its type. */
  @Bean
  OpenApiCustomizer allPartsAreSent() {
    return api -> {
      api.setServers(null);
      EventSchemas.complete(api.getComponents());
      api.getComponents().getSchemas().values().forEach(WebConfiguration::requireAll);
      SettingsSchemas.complete(api.getComponents().getSchemas());
    };
  }

  @SuppressWarnings({"rawtypes", "unchecked"})
  private static void requireAll(io.swagger.v3.oas.models.media.Schema schema) {
    if (schema.getProperties() != null) {
      schema.setRequired(List.copyOf(schema.getProperties().keySet()));
    }
  }

  /** Every place of a production is a page of the same application, whatever the rest names. */
  @Controller
  static class Pages {
    @GetMapping({
      "/{production:(?!api$|assets$)[^.]+}",
      "/{production:(?!api$).+}/{station:scene|shots|layers|quality|board|run|review|assembly}/**"
    })
    String page() {
      return "forward:/index.html";
    }
  }
}
