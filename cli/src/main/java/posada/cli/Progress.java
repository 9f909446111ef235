package posada.cli;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import posada.core.trace.Brightness;
import posada.core.trace.FrameReport;
import tools.jackson.databind.json.JsonMapper;

/** Shows how far a render is: one line that changes on a terminal, plain lines elsewhere. */
final class Progress {
  private static final JsonMapper JSON = new JsonMapper();

  /** Share of the light from which it is said that it was cut. */
  private static final double NOTABLE_CUT = 0.01;

  private final int frames;
  private final boolean json;
  private final boolean terminal = System.console() != null;
  private final long start = System.nanoTime();
  private int done;
  private boolean toldLost;

  Progress(int frames, boolean json) {
    this.frames = frames;
    this.json = json;
  }

  /** A frame is at a fraction of its samples. */
  void at(int frame, double fraction) {
    if (terminal) {
      System.err.printf(
          Locale.ROOT,
          "\rframe %d  %3.0f %%  %d of %d frames  %s left   ",
          frame,
          100 * fraction,
          done,
          frames,
          left(fraction));
    }
  }

  private String left(double fraction) {
    double work = done + fraction;
    return time((System.nanoTime() - start) / 1e9 / work * (frames - work));
  }

  /** Returns a duration as people say it. */
  static String time(double seconds) {
    long s = Math.round(seconds);
    if (s < 60) {
      return s + " s";
    }
    return s < 3600 ? s / 60 + " min " + s % 60 + " s" : s / 3600 + " h " + s / 60 % 60 + " min";
  }

  /** A frame is on disk. */
  void done(int frame, double seconds, FrameReport report, List<Path> files) {
    done++;
    if (json) {
      Map<String, Object> o = new LinkedHashMap<>();
      o.put("frame", frame);
      o.put("seconds", Math.round(seconds * 1000) / 1000.0);
      o.put("noise", number(report.noise()));
      o.put("samplesSpent", report.samplesSpent());
      o.put("samplesOfMost", report.samplesOfMost());
      o.put("shareClean", number(report.shareClean()));
      o.put("shareCut", report.shareCut());
      o.put("outOfTime", report.outOfTime());
      o.put("files", files.stream().map(Path::toString).toList());
      System.out.println(JSON.writeValueAsString(o));
    }
    if (terminal) {
      System.err.print("\r\033[K");
    }
    System.err.printf(
        Locale.ROOT,
        "frame %d  %.1f s%s  %d of %d frames  %s left%n",
        frame,
        seconds,
        remark(report),
        done,
        frames,
        left(0));
  }

  /** Says once that most of a frame is too bright or too dark to be seen. */
  void looked(int frame, Brightness b) {
    if (b.isLost() && !toldLost) {
      toldLost = true;
      boolean white = b.white() > b.black();
      System.err.printf(
          Locale.ROOT,
          "frame %d  %.0f %% of the picture is %s; --exposure meter finds an exposure for it%n",
          frame,
          100 * (white ? b.white() : b.black()),
          white ? "clipped" : "black");
    }
  }

  private static String remark(FrameReport r) {
    String s = "";
    if (r.outOfTime()) {
      s = String.format(Locale.ROOT, " (out of time at %d samples)", r.samplesOfMost());
    } else if (!Double.isNaN(r.shareClean())) {
      s = String.format(Locale.ROOT, " (%.1f %% of pixels clean)", 100 * r.shareClean());
    }
    if (r.shareCut() >= NOTABLE_CUT) {
      String cut = " (clamped %.1f %% of the light)";
      s += String.format(Locale.ROOT, cut, 100 * r.shareCut());
    }
    return s;
  }

  private static Double number(double d) {
    return Double.isNaN(d) ? null : d;
  }

  void stopped() {
    System.err.printf("%nstopped: %d of %d frames are written%n", done, frames);
  }

  void ended() {
    System.err.printf(
        "%d %s in %s%n",
        done, done == 1 ? "frame" : "frames", time((System.nanoTime() - start) / 1e9));
  }
}
