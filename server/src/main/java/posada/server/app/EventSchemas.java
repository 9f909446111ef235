package posada.server.app;

import io.swagger.v3.core.converter.AnnotatedType;
import io.swagger.v3.core.converter.ModelConverters;
import io.swagger.v3.core.converter.ResolvedSchema;
import io.swagger.v3.oas.models.Components;
import io.swagger.v3.oas.models.media.Schema;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import org.springframework.beans.factory.config.BeanDefinition;
import org.springframework.context.annotation.ClassPathScanningCandidateComponentProvider;
import org.springframework.core.type.filter.AnnotationTypeFilter;
import org.springframework.util.ClassUtils;

/** What pushed events look like in the OpenAPI document: a part for each, under its name. */
@SuppressWarnings({"rawtypes", "unchecked"})
final class EventSchemas {
  static final String NAME = "Events";

  private EventSchemas() {}

  static void complete(Components components) {
    Schema all = new Schema();
    all.setTypes(new LinkedHashSet<>(List.of("object")));
    all.setDescription("The data of each pushed event, under the event's name.");
    for (Class<?> kind : kinds()) {
      ResolvedSchema s =
          ModelConverters.getInstance(true)
              .resolveAsResolvedSchema(new AnnotatedType(kind).resolveAsRef(true));
      s.referencedSchemas.forEach((n, v) -> components.getSchemas().putIfAbsent(n, v));
      all.addProperty(kind.getAnnotation(Pushed.class).value(), s.schema);
    }
    components.addSchemas(NAME, all);
  }

  private static List<Class<?>> kinds() {
    ClassPathScanningCandidateComponentProvider scan =
        new ClassPathScanningCandidateComponentProvider(false);
    scan.addIncludeFilter(new AnnotationTypeFilter(Pushed.class));
    return scan.findCandidateComponents("posada.server").stream()
        .map(BeanDefinition::getBeanClassName)
        .sorted(Comparator.naturalOrder())
        .<Class<?>>map(n -> ClassUtils.resolveClassName(n, null))
        .toList();
  }
}
