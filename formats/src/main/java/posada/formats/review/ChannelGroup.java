package posada.formats.review;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import posada.core.assembly.PassView;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.review.Look;
import posada.core.settings.Pass;

/**
 * Channels of a file that are looked at together: those whose names are the same before the last
 * dot; of an ID matte all ranks.
 *
 * @param name of the pass
 * @param channels in the order in which they are shown
 */
public record ChannelGroup(String name, List<String> channels) {
  /** The group of the channels without a dot. */
  public static final String BEAUTY = "beauty";

  private static final String ORDER = "RGBAXYZUV";
  private static final List<String> PLAIN = List.of("R", "G", "B", "A");

  public ChannelGroup {
    channels = List.copyOf(channels);
  }

  /** Returns the groups of channels, the beauty first and the others in the files' order. */
  public static List<ChannelGroup> of(List<String> channels) {
    Map<String, List<String>> groups = new LinkedHashMap<>();
    for (String c : channels) {
      if (PLAIN.contains(c) || c.equals("Y")) {
        groups.computeIfAbsent(BEAUTY, k -> new ArrayList<>()).add(c);
      }
    }
    for (String c : channels) {
      if (!PLAIN.contains(c) && !c.equals("Y")) {
        groups.computeIfAbsent(name(c), k -> new ArrayList<>()).add(c);
      }
    }
    List<ChannelGroup> all = new ArrayList<>();
    groups.forEach(
        (name, some) -> {
          some.sort(
              Comparator.comparing(ChannelGroup::before)
                  .thenComparing(c -> ORDER.indexOf(c.charAt(c.length() - 1))));
          all.add(new ChannelGroup(name, some));
        });
    return all;
  }

  private static String before(String channel) {
    int dot = channel.lastIndexOf('.');
    return dot < 0 ? "" : channel.substring(0, dot);
  }

  private static String name(String channel) {
    int dot = channel.lastIndexOf('.');
    String before = dot < 0 ? channel : channel.substring(0, dot);
    String base = before.replaceFirst("\\d\\d$", "");
    return !base.equals(before) && known(base) != null ? base : before;
  }

  private static Pass known(String name) {
    for (Pass p : Pass.values()) {
      if (p.label().equals(name)) {
        return p;
      }
    }
    return null;
  }

  /** Returns the pass of the catalogue; null if it is none, such as the light of one group. */
  public Pass pass() {
    return known(name);
  }

  /** Returns true if exposure and view change how it looks: it holds light, not data. */
  public boolean light() {
    Pass p = pass();
    return p == null || p.color();
  }

  /** Returns the channels to read. */
  public Set<String> wanted() {
    return new TreeSet<>(channels);
  }

  /**
   * Returns the picture of it.
   *
   * @param image with its channels
   * @param look at what is light
   */
  public DisplayImage show(FrameImage image, Look look) {
    if (!light()) {
      return PassView.of(pass(), image, channels);
    }
    return look.of(plain(image));
  }

  /** Returns the picture with the channels R, G and B, and A if there is one. */
  public FrameImage plain(FrameImage image) {
    List<Channel> out = new ArrayList<>();
    for (int k = 0; k < 3; k++) {
      String from = channels.get(channels.size() < 3 ? 0 : k);
      out.add(channel(image, from, PLAIN.get(k)));
    }
    if (channels.size() == 4) {
      out.add(channel(image, channels.get(3), "A"));
    }
    return new FrameImage(image.width(), image.height(), out);
  }

  private static Channel channel(FrameImage image, String from, String name) {
    float[] data = image.find(from);
    if (data == null) {
      throw new IllegalArgumentException("this picture has no channel " + from);
    }
    return new Channel(name, FrameImage.Precision.FLOAT, data);
  }
}
