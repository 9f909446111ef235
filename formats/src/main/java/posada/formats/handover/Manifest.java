package posada.formats.handover;

import java.util.ArrayList;
import java.util.List;
import posada.core.settings.Pass;
import posada.formats.review.ChannelGroup;

/**
 * What is in a handover.
 *
 * @param schema 1
 * @param madeAt ISO 8601
 * @param copied true if the files are in the handover; false if they stay where they are
 * @param timeline name of the timeline file
 * @param stacks names of files that say how pictures were put together
 */
public record Manifest(
    int schema,
    String production,
    String madeAt,
    boolean copied,
    String timeline,
    List<String> stacks,
    List<Sequence> sequences) {
  public static final int SCHEMA = 1;

  /** The manifest's name. */
  public static final String NAME = "manifest.json";

  /**
   * A sequence, or a film.
   *
   * @param kind {@code frames} or {@code film}
   * @param shot that it is of; the name of a film
   * @param layer empty for a film
   * @param frames that it has, as a range; empty for a film
   * @param step from one frame to the next
   * @param rate frames for each second: of those that are there
   * @param colour what its numbers are, in words
   * @param approval what was decided about it, in words
   * @param open findings of the checks that nobody has called fine
   */
  public record Sequence(
      String kind,
      String title,
      String shot,
      String layer,
      int version,
      String frames,
      int step,
      double rate,
      int width,
      int height,
      String colour,
      List<PassLine> passes,
      String approval,
      List<String> open,
      List<FileLine> files) {}

  /**
   * A pass.
   *
   * @param channels in the files
   * @param holds what it means
   * @param combine what is done with it
   */
  public record PassLine(
      String name, List<String> channels, String holds, String units, String combine) {
    /** Returns what is known of a group of channels. */
    static PassLine of(ChannelGroup g) {
      Pass p = g.pass();
      if (p == null) {
        return new PassLine(
            g.name(),
            g.channels(),
            "light of one group",
            Pass.BEAUTY.units(),
            "adds up to the beauty");
      }
      return new PassLine(g.name(), g.channels(), p.holds(), p.units(), p.use().label());
    }

    /** Returns what is known of groups of channels. */
    static List<PassLine> of(List<ChannelGroup> groups) {
      List<PassLine> all = new ArrayList<>();
      groups.forEach(g -> all.add(of(g)));
      return all;
    }
  }

  /**
   * A file.
   *
   * @param frame 0 for a film
   * @param path below the handover with slashes; absolute if files stay where they are
   * @param sha256 of its bytes
   * @param fingerprint of what it was made from; empty if that is not known
   */
  public record FileLine(int frame, String path, long bytes, String sha256, String fingerprint) {}
}
