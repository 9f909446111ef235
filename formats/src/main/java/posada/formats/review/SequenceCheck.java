package posada.formats.review;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntConsumer;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.review.Fault;
import posada.core.review.FrameLook;
import posada.core.review.SequenceChecks;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrReader;

/**
 * What the checks found in a sequence.
 *
 * @param name of its files
 * @param width of most of the pictures, pixels; 0 if none can be read; height likewise
 * @param frames numbers of those that can be read, in order
 * @param curves a figure of each of them
 * @param faults what somebody should look at, by frame
 */
public record SequenceCheck(
    String name,
    int width,
    int height,
    List<Integer> frames,
    SequenceChecks.Curves curves,
    List<Fault> faults) {
  /**
   * Reads all files of a sequence and checks it.
   *
   * @param wanted frames that should be there; null to judge that by those that are
   * @param progress hears how many files have been read
   * @return null if it was stopped
   */
  public static SequenceCheck of(
      SequenceFolder.Sequence s,
      List<Integer> wanted,
      Workers workers,
      Stop stop,
      IntConsumer progress) {
    List<Map.Entry<Integer, Path>> files = List.copyOf(s.files().entrySet());
    FrameLook[] looks = new FrameLook[files.size()];
    String[] damage = new String[files.size()];
    FrameRate[] rates = new FrameRate[files.size()];
    AtomicInteger done = new AtomicInteger();
    try {
      workers
          .until(stop::check)
          .each(
              files.size(),
              i -> {
                Path file = files.get(i).getValue();
                try {
                  looks[i] = look(files.get(i).getKey(), file, s.display());
                  rates[i] = s.display() ? null : ExrReader.header(file).rate();
                } catch (IOException | RuntimeException e) {
                  damage[i] = e.getMessage() == null ? e.toString() : e.getMessage();
                }
                progress.accept(done.incrementAndGet());
              });
    } catch (Stop.Stopped e) {
      return null;
    }
    List<FrameLook> read = new ArrayList<>();
    List<Fault> faults = new ArrayList<>();
    for (int i = 0; i < looks.length; i++) {
      int frame = files.get(i).getKey();
      if (looks[i] != null) {
        read.add(looks[i]);
      } else {
        String text = "It cannot be read: " + damage[i] + ".";
        faults.add(new Fault(Fault.Kind.DAMAGED, List.of(frame), text, null, 0));
      }
      if (s.padded().contains(frame)) {
        String text =
            "It is called "
                + files.get(i).getValue().getFileName()
                + ", the others "
                + s.name()
                + ".";
        faults.add(new Fault(Fault.Kind.PADDING, List.of(frame), text, null, 0));
      }
    }
    rates(files, rates, faults);
    SequenceChecks.of(read).stream()
        .filter(f -> f.kind() != Fault.Kind.MISSING)
        .forEach(faults::add);
    // What is there but cannot be read is not missing.
    faults.addAll(SequenceChecks.missing(List.copyOf(s.files().keySet()), wanted));
    faults.sort(Comparator.comparing(f -> f.frames().get(0)));
    Map<List<Integer>, Integer> sizes = new HashMap<>();
    read.forEach(l -> sizes.merge(List.of(l.width(), l.height()), 1, Integer::sum));
    List<Integer> size =
        sizes.entrySet().stream()
            .max(Map.Entry.comparingByValue())
            .map(Map.Entry::getKey)
            .orElse(List.of(0, 0));
    return new SequenceCheck(
        s.name(),
        size.get(0),
        size.get(1),
        read.stream().map(FrameLook::frame).toList(),
        SequenceChecks.curves(read),
        faults);
  }

  /** Frames whose headers say another rate than those of most. */
  private static void rates(
      List<Map.Entry<Integer, Path>> files, FrameRate[] rates, List<Fault> faults) {
    Map<Double, Integer> counts = new TreeMap<>();
    for (FrameRate r : rates) {
      if (r != null) {
        counts.merge(r.perSecond(), 1, Integer::sum);
      }
    }
    if (counts.size() < 2) {
      return;
    }
    double usual =
        counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
    for (int i = 0; i < rates.length; i++) {
      if (rates[i] != null && rates[i].perSecond() != usual) {
        String text = "Its header says %s frames a second, the others %s.";
        faults.add(
            new Fault(
                Fault.Kind.RATE,
                List.of(files.get(i).getKey()),
                text.formatted(figure(rates[i].perSecond()), figure(usual)),
                null,
                rates[i].perSecond()));
      }
    }
  }

  private static String figure(double rate) {
    return String.format(Locale.ROOT, "%.3f", rate).replaceFirst("\\.?0+$", "");
  }

  private static FrameLook look(int frame, Path file, boolean display) throws IOException {
    if (Files.size(file) == 0) {
      throw new IOException("the file is empty");
    }
    boolean exr = file.toString().toLowerCase(Locale.ROOT).endsWith(".exr");
    FrameImage image = exr ? ExrReader.read(file) : DisplayFile.linear(file);
    return FrameLook.of(frame, image.full(), display);
  }
}
