package posada.formats.ledger;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.settings.Pass;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrReader;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;

/** Compares the pictures of a frame's files, bit by bit, whatever their headers say. */
public final class SamePicture {
  private SamePicture() {}

  /**
   * Returns whether two sets of files hold the same pictures of a frame. Deep pictures and how long
   * pixels took are left out.
   */
  public static boolean of(FrameFiles a, FrameFiles b, int frame) throws IOException {
    List<FrameFiles.Part> left = a.parts(frame), right = b.parts(frame);
    if (left.size() != right.size()) {
      return false;
    }
    for (int i = 0; i < left.size(); i++) {
      FrameFiles.Part l = left.get(i), r = right.get(i);
      if (l.format() != r.format() || !l.passes().equals(r.passes())) {
        return false;
      }
      if (!l.passes().isEmpty() && !same(read(l), read(r))) {
        return false;
      }
    }
    return true;
  }

  private static FrameImage read(FrameFiles.Part p) throws IOException {
    return p.format() == FileFormat.EXR
        ? ExrReader.read(p.path()).full()
        : DisplayFile.linear(p.path());
  }

  private static boolean same(FrameImage a, FrameImage b) {
    for (Channel c : a.channels()) {
      boolean timed = c.name().startsWith(Pass.TIME.label() + ".");
      if (!timed && !Arrays.equals(c.data(), b.find(c.name()))) {
        return false;
      }
    }
    return a.channels().size() == b.channels().size();
  }
}
