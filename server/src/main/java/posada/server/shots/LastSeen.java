package posada.server.shots;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.Optional;
import org.springframework.stereotype.Component;
import posada.core.image.DisplayImage;
import posada.formats.settings.RenderDocument;

/** The newest live picture of each viewer, so that it can be kept. */
@Component
public class LastSeen {
  /** Bytes of all pictures. */
  private static final long MOST = 64 << 20;

  private static final Duration LONG = Duration.ofHours(1);

  /**
   * A picture as it was sent, and what it was made with.
   *
   * @param noise NaN before it is known
   */
  public record Seen(
      RenderDocument document,
      int frame,
      DisplayImage image,
      int samples,
      double noise,
      double seconds) {}

  private final Cache<String, Seen> seen =
      Caffeine.newBuilder()
          .maximumWeight(MOST)
          .weigher((String viewer, Seen s) -> 2 * s.image.samples().length)
          .expireAfterAccess(LONG)
          .build();

  void put(String viewer, Seen s) {
    seen.put(viewer, s);
  }

  /** Returns what a viewer sees; empty if that is nothing any more. */
  public Optional<Seen> of(String viewer) {
    return Optional.ofNullable(seen.getIfPresent(viewer));
  }
}
