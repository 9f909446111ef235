package posada.formats.files;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.Primaries;
import posada.core.image.SrgbTransfer;
import posada.core.parallel.Workers;
import posada.core.settings.Pass;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;

/** Reads frames back as they were rendered: scene-linear, in the primaries of BT.709. */
public final class WrittenPicture {
  private static final List<String> COLOURS = List.of("R", "G", "B");

  private WrittenPicture() {}

  /** Returns the first file of a frame that holds a pass, if there is one. */
  public static Optional<FrameFiles.Part> of(FrameFiles files, int frame, Pass pass) {
    return files.parts(frame).stream().filter(p -> p.passes().contains(pass)).findFirst();
  }

  /** Reads all channels of a file as the full frame. */
  public static FrameImage read(FrameFiles.Part part) throws IOException {
    boolean exr = part.format() == FileFormat.EXR;
    return read(part, exr ? Set.copyOf(ExrReader.channels(part.path())) : Set.of());
  }

  /** Reads all channels of a file as the full frame, unpacked by workers. */
  public static FrameImage read(FrameFiles.Part part, Workers workers) throws IOException {
    boolean plain =
        part.format() == FileFormat.EXR
            && !ExrReader.texts(part.path()).containsKey(ExrHeader.DISPLAY)
            && ExrReader.primaries(part.path()).near(Primaries.BT709);
    return plain ? ExrReader.read(part.path(), null, workers).full() : read(part);
  }

  /**
   * Reads channels of a file as the full frame.
   *
   * @param wanted names of channels; those that are not there are left out
   */
  public static FrameImage read(FrameFiles.Part part, Set<String> wanted) throws IOException {
    if (part.format() != FileFormat.EXR) {
      return DisplayFile.linear(part.path());
    }
    Primaries primaries = ExrReader.primaries(part.path());
    Map<String, String> texts = ExrReader.texts(part.path());
    boolean shown = texts.containsKey(ExrHeader.DISPLAY);
    boolean turned = !primaries.near(Primaries.BT709);
    if (!shown && !turned) {
      return ExrReader.read(part.path(), wanted).full();
    }
    boolean colour = COLOURS.stream().anyMatch(wanted::contains);
    Set<String> all = new java.util.HashSet<>(wanted);
    if (colour) {
      all.addAll(COLOURS);
    }
    FrameImage in = ExrReader.read(part.path(), all).full();
    if (!colour || COLOURS.stream().anyMatch(n -> in.find(n) == null)) {
      return in;
    }
    float[][] c = COLOURS.stream().map(n -> in.find(n).clone()).toArray(float[][]::new);
    if (shown) {
      for (float[] plane : c) {
        for (int i = 0; i < plane.length; i++) {
          plane[i] = (float) SrgbTransfer.decode(plane[i]);
        }
      }
    }
    if (turned) {
      FileColors.turn(c, primaries.to(Primaries.BT709));
    }
    List<Channel> channels = new ArrayList<>();
    for (Channel ch : in.channels()) {
      int k = COLOURS.indexOf(ch.name());
      channels.add(k < 0 ? ch : new Channel(ch.name(), ch.precision(), c[k], ch.outside()));
    }
    return new FrameImage(in.width(), in.height(), in.window(), channels, in.texts());
  }
}
