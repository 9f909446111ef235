package posada.formats.handover;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;

/** Says in words what is in a handover, to somebody who has never seen Posada. */
final class ReadMe {
  private ReadMe() {}

  static String of(Manifest m) {
    StringBuilder s = new StringBuilder();
    line(s, m.production() + ": pictures for compositing and editing");
    line(s, "Made " + m.madeAt() + ".");
    line(s, "");
    line(s, "WHAT IS HERE");
    line(
        s,
        "  "
            + Manifest.NAME
            + ", "
            + Handover.TABLE
            + "  every file: what, which frame, size, SHA-256");
    line(s, "  " + m.timeline() + "  the cut as an OpenTimelineIO timeline");
    line(s, "  " + Handover.SHEET + "  first, middle and last picture of each sequence");
    if (!m.stacks().isEmpty()) {
      line(s, "  stacks/  how pictures were put together, as JSON");
    }
    line(
        s,
        m.copied()
            ? "  sequences/, films/  the files"
            : "  The pictures themselves are not in this folder; the manifest says where they lie.");
    line(s, "");
    line(s, "SEQUENCES");
    Map<String, Manifest.PassLine> passes = new LinkedHashMap<>();
    for (Manifest.Sequence q : m.sequences()) {
      q.passes().forEach(p -> passes.putIfAbsent(p.name(), p));
      line(s, "  " + q.title());
      if (q.kind().equals("film")) {
        line(s, "    a film, " + number(q.rate()) + " frames a second");
      } else {
        line(
            s,
            "    frames %s, %d x %d pixels, %s a second%s"
                .formatted(
                    q.frames(),
                    q.width(),
                    q.height(),
                    number(q.rate()),
                    q.step() > 1
                        ? "; every %d. frame was rendered, so each is shown that much longer"
                            .formatted(q.step())
                        : ""));
        line(s, "    " + q.colour());
      }
      line(s, "    " + q.approval());
      List<String> open = q.open();
      if (q.layer().isEmpty()) {
        line(s, "    made from rendered frames; the checks did not look at it by itself");
      } else if (open.isEmpty()) {
        line(s, "    the checks found nothing, or it was called fine");
      } else {
        line(s, "    OPEN FINDINGS of the checks:");
        open.forEach(o -> line(s, "      " + o));
      }
    }
    line(s, "");
    line(s, "PASSES");
    for (Manifest.PassLine p : passes.values()) {
      line(s, "  " + p.name() + " (" + String.join(" ", p.channels()) + ")");
      line(s, "    " + p.holds());
      line(s, "    numbers: " + p.units());
      line(s, "    use: " + p.combine());
    }
    line(s, "");
    line(s, "IN COMPOSITING");
    line(
        s,
        "  Light is linear. Passes that add up to the beauty are added; those that are multiplied");
    line(
        s,
        "  darken. Colour is multiplied by alpha already: put a layer over another as it is, and");
    line(
        s,
        "  divide by alpha before changing its colours. Depth where nothing is hit is infinite.");
    line(
        s,
        "  ID mattes hold names as numbers in pairs with their coverage; the header of each file");
    line(s, "  has the list of names.");
    line(s, "");
    line(s, "IS ALL OF IT HERE?");
    line(
        s,
        "  With Posada: bin/posada handover check FOLDER. Without: compare the SHA-256 of files");
    line(s, "  with the manifest.");
    return s.toString();
  }

  private static String number(double v) {
    return v == Math.rint(v) ? Long.toString((long) v) : String.format(Locale.ROOT, "%.3f", v);
  }

  private static void line(StringBuilder s, String text) {
    s.append(text).append("\r\n");
  }
}
