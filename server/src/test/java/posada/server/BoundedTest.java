package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.github.benmanes.caffeine.cache.Cache;
import java.lang.reflect.Field;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.springframework.aop.framework.AopProxyUtils;

/** Nothing that the server remembers grows without a bound. */
class BoundedTest extends ServerCase {
  /** What bounds those that have no bound of their own. */
  private static final Map<String, String> BOUNDED =
      new TreeMap<>(
          Map.ofEntries(
              Map.entry("EventHub.open", "pages, of which there are 1,000 at most"),
              Map.entry("ViewerStreams.stops", "viewers, of which there are 100 at most"),
              Map.entry("ShotService.metering", "exposures that are being metered"),
              Map.entry("NewestJobs.jobs", "shots and productions: one job each"),
              Map.entry("FilmService.stands", "films of the database"),
              Map.entry("FilmService.cancelled", "films of the database"),
              Map.entry("HandoverService.progress", "handovers in work"),
              Map.entry("HandoverService.cancelled", "handovers in work"),
              Map.entry("RunService.cancelled", "strands of the database"),
              Map.entry("LedgerService.known", "strands of the database"),
              Map.entry("LedgerService.told", "strands that are being written"),
              Map.entry("LedgerService.next", "strands of the database"),
              Map.entry("LedgerService.writes", "strands of the database"),
              Map.entry("LedgerService.writing", "strands that are being written"),
              Map.entry("LedgerService.comparing", "strands that are being compared"),
              Map.entry("SceneLooks.waiting", "strands that are looked at"),
              Map.entry("EstimateService.waiting", "strands that are tried out"),
              Map.entry("WhatIfService.waiting", "productions that are tried out"),
              Map.entry("Dispatcher.served", "runs that are open")));

  @Test
  void everythingThatIsRememberedHasABound() throws Exception {
    List<String> without = new ArrayList<>();
    int caches = 0;
    for (String name : server.getBeanDefinitionNames()) {
      Object bean = target(server.getBean(name));
      for (Class<?> c = bean.getClass();
          c != null && c.getName().startsWith("posada.server");
          c = c.getSuperclass()) {
        for (Field f : c.getDeclaredFields()) {
          f.setAccessible(true);
          Object value = f.get(bean);
          String field = c.getSimpleName() + "." + f.getName();
          if (value instanceof Cache<?, ?> cache) {
            caches++;
            assertTrue(cache.policy().eviction().isPresent(), field + " has no bound");
          } else if (grows(value) && !BOUNDED.containsKey(field)) {
            without.add(field);
          }
        }
      }
    }
    assertTrue(caches >= 5, "caches: " + caches);
    assertEquals(List.of(), without, "say what bounds them");
  }

  /** Returns what stands behind a bean that is wrapped for transactions. */
  private static Object target(Object bean) {
    Object behind = AopProxyUtils.getSingletonTarget(bean);
    return behind == null ? bean : behind;
  }

  private static boolean grows(Object value) {
    boolean some = value instanceof Map || value instanceof Collection;
    return some && value.getClass().getName().startsWith("java.util.concurrent.Concurrent");
  }
}
