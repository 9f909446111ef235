package posada.server.app;

import java.util.List;
import org.springframework.boot.context.properties.ConfigurationProperties;
import org.springframework.boot.context.properties.bind.DefaultValue;
import org.springframework.util.unit.DataSize;

/**
 * Settings of the server.
 *
 * @param home folder of all data
 * @param demo folder of the demo production's scenes, taken when there is no scene yet; may be
 *     empty
 * @param hosts host names, beside those of this machine, under which the server may be addressed
 * @param threads threads that render; 0 for all processors
 * @param diskReserve room on the disk that is kept for the database: below it runs rest
 * @param cache bytes of scenes, baked light and the like that are kept in memory; 0 for a quarter
 *     of what the server may take
 * @param password that lets everything be done; empty for none, or for one that is made where
 *     others can reach the server
 * @param viewPassword that lets look only; empty for none
 * @param unpackLimit most bytes that an uploaded zip may unpack to
 */
@ConfigurationProperties("posada")
public record PosadaProperties(
    String home,
    @DefaultValue("") String demo,
    @DefaultValue List<String> hosts,
    @DefaultValue("0") int threads,
    @DefaultValue("256MB") DataSize diskReserve,
    @DefaultValue("0") DataSize cache,
    @DefaultValue("") String password,
    @DefaultValue("") String viewPassword,
    @DefaultValue("4294967296") long unpackLimit) {
  /** Returns how many bytes are kept in memory of what may be needed again. */
  public long cacheBytes() {
    return cache.toBytes() > 0 ? cache.toBytes() : Runtime.getRuntime().maxMemory() / 4;
  }

  /** Returns how many threads render. */
  public int renderThreads() {
    return threads > 0 ? threads : Runtime.getRuntime().availableProcessors();
  }
}
