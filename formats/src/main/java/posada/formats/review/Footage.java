package posada.formats.review;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.util.ArrayList;
import java.util.List;
import java.util.function.IntFunction;
import posada.core.image.FrameImage;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrReader;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.files.WrittenPicture;

/**
 * A sequence that is looked at.
 *
 * @param name in sentences
 * @param frames numbers of those that may be there, rising
 * @param parts the files of a frame
 */
public record Footage(String name, List<Integer> frames, IntFunction<List<FrameFiles.Part>> parts) {

  /** Returns the footage of written frames. */
  public static Footage of(String name, List<Integer> frames, FrameFiles files) {
    return new Footage(
        name, frames, f -> files.parts(f).stream().filter(p -> !p.passes().isEmpty()).toList());
  }

  /** Returns the files of a frame that are there; of several formats EXR alone. */
  public List<FrameFiles.Part> there(int frame) {
    List<FrameFiles.Part> all =
        parts.apply(frame).stream().filter(p -> Files.exists(p.path())).toList();
    List<FrameFiles.Part> exr = all.stream().filter(p -> p.format() == FileFormat.EXR).toList();
    return exr.isEmpty() ? all : exr;
  }

  /** Returns the frames that are there. */
  public List<Integer> written() {
    return frames.stream().filter(f -> !there(f).isEmpty()).toList();
  }

  /** Returns the width and height of a frame, pixels. */
  public int[] size(int frame) throws IOException {
    FrameFiles.Part p = there(frame).get(0);
    return p.format() == FileFormat.EXR ? ExrReader.size(p.path()) : DisplayFile.size(p.path());
  }

  /** Channels of one of a frame's files. */
  public record Found(ChannelGroup group, FrameFiles.Part file) {}

  /** Returns what can be looked at of a frame. */
  public List<Found> groups(int frame) throws IOException {
    List<Found> all = new ArrayList<>();
    for (FrameFiles.Part p : there(frame)) {
      if (p.format() == FileFormat.EXR) {
        ChannelGroup.of(ExrReader.channels(p.path())).forEach(g -> all.add(new Found(g, p)));
      } else {
        String name = p.passes().iterator().next().label();
        all.add(new Found(new ChannelGroup(name, List.of("R", "G", "B", "A")), p));
      }
    }
    return all;
  }

  /**
   * Returns what can be looked at under a name.
   *
   * @throws NoSuchFileException if the frame is not there
   * @throws IllegalArgumentException if it has no such pass, naming those that it has
   */
  public Found find(int frame, String group) throws IOException {
    List<Found> all = groups(frame);
    if (all.isEmpty()) {
      throw new NoSuchFileException("frame " + frame + " of " + name);
    }
    return all.stream()
        .filter(f -> f.group.name().equals(group))
        .findFirst()
        .orElseThrow(
            () ->
                new IllegalArgumentException(
                    "Frame "
                        + frame
                        + " of "
                        + name
                        + " has no pass \""
                        + group
                        + "\"; it has "
                        + String.join(", ", all.stream().map(f -> f.group.name()).toList())
                        + "."));
  }

  /** Reads channels of a frame as the full frame, scene-linear. */
  public static FrameImage read(Found f) throws IOException {
    return WrittenPicture.read(f.file, f.group.wanted());
  }
}
