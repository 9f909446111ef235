package posada.server.review;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.zip.CRC32;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import org.springframework.transaction.event.TransactionalEventListener;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.Resample;
import posada.core.plan.FrameRange;
import posada.core.review.Look;
import posada.core.scene.Digest;
import posada.formats.display.JpegFile;
import posada.formats.files.FrameFiles;
import posada.formats.files.WrittenPicture;
import posada.formats.job.FrameJob;
import posada.formats.review.ChannelGroup;
import posada.formats.review.Footage;
import posada.formats.review.PixelValues;
import posada.server.app.NotFoundException;
import posada.server.app.UnreadableException;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;
import posada.server.storage.BoundedFolder;
import posada.server.storage.DataFolder;

/** Finds what is looked at, and makes pictures of its frames. */
@Service
public class FootageService {
  private static final Logger LOG = LoggerFactory.getLogger(FootageService.class);

  /** Longest side of a proxy, pixels. */
  static final int PROXY = 1280;

  private static final float QUALITY = 0.93f;
  private static final int CHECKSUM = 8;

  /** Bytes of whole frames that are kept for the values under the pointer. */
  private static final long MOST_KEPT = 384L << 20;

  private final RunService runs;
  private final OutsideRepository outside;
  private final BoundedFolder proxies;
  private final Cache<String, FrameImage> frames =
      Caffeine.newBuilder()
          .maximumWeight(MOST_KEPT)
          .weigher((String k, FrameImage i) -> bytes(i))
          .build();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "proxies"));

  FootageService(RunService runs, OutsideRepository outside, DataFolder folder) {
    this.runs = runs;
    this.outside = outside;
    proxies = folder.proxies();
  }

  @PreDestroy
  void close() {
    thread.shutdownNow();
  }

  private static int bytes(FrameImage i) {
    return (int) Math.min(Integer.MAX_VALUE, 4L * i.width() * i.height() * i.channels().size());
  }

  /**
   * What is looked at.
   *
   * @param run the strand; null if it is from elsewhere
   * @param outside where it is from then; else null
   * @param rate frames of a second
   */
  record Looked(
      FootageKey key,
      long production,
      Footage footage,
      RunStrand run,
      OutsideSequence outside,
      double rate) {}

  /**
   * Returns footage by its name.
   *
   * @param key {@code strand-12}, {@code sequence-3}, or {@code shot-3.layer-7} for the newest
   *     version of a strand
   * @throws NotFoundException saying what is not there
   */
  public Named named(String key) {
    Matcher newest = NEWEST.matcher(key);
    if (newest.matches()) {
      long shot = Long.parseLong(newest.group(1)), layer = Long.parseLong(newest.group(2));
      RunStrand run =
          runs.newestWritten(shot, layer)
              .orElseThrow(() -> new NotFoundException("Nothing of it has been rendered yet."));
      return named(strand(run));
    }
    return named(find(FootageKey.of(key)));
  }

  private static Named named(Looked l) {
    Double rate = l.run == null && l.outside.film() == null ? null : Double.valueOf(l.rate);
    return new Named(l.key.toString(), l.footage, l.rate, rate != null);
  }

  private static final Pattern NEWEST = Pattern.compile("shot-(\\d{1,18})\\.layer-(\\d{1,18})");

  /**
   * Footage by its name.
   *
   * @param key of the version
   * @param rate frames for each second
   * @param isTold false if somebody only said so, or nobody
   */
  public record Named(String key, Footage footage, double rate, boolean isTold) {}

  Looked find(FootageKey key) {
    if (key.kind() == FootageKey.Kind.STRAND) {
      return strand(runs.find(key.id()));
    }
    OutsideSequence s =
        outside
            .find(key.id())
            .orElseThrow(
                () -> new NotFoundException("There is no sequence " + key.id() + " any more."));
    return new Looked(key, s.productionId(), OutsideFiles.footage(s), null, s, s.frameRate());
  }

  private static Looked strand(RunStrand run) {
    FootageKey key = FootageKey.strand(run.id());
    FrameFiles files = FrameJob.files(run.settings(), Path.of(run.folder()));
    String name = "%s %s v%03d".formatted(run.shot(), run.layer(), run.number());
    // All frames of the version: a run may have rendered some of them.
    List<Integer> all = FrameRange.parse(run.settings().frames()).frames();
    return new Looked(
        key,
        run.productionId(),
        Footage.of(name, all, files),
        run,
        null,
        run.settings().frameRate());
  }

  /**
   * Returns a JPEG of a frame. With the standard look that is the proxy, which is made if it is not
   * there or damaged.
   *
   * @param pass name of what is looked at
   * @param most longest side in pixels; smaller pictures stay as they are
   */
  byte[] picture(FootageKey key, int frame, String pass, Look look, int most) {
    Looked l = find(key);
    try {
      Footage.Found found = l.footage.find(frame, pass);
      boolean usual = pass.equals(ChannelGroup.BEAUTY) && look.isStandard() && most == PROXY;
      return usual ? proxy(found) : made(found, look, most);
    } catch (NoSuchFileException e) {
      throw gone(l, frame);
    } catch (IOException damaged) {
      throw unreadable(l, frame, damaged);
    }
  }

  /**
   * What the first frame that can be read is like.
   *
   * @param width pixels; 0 if none can be read; height likewise
   */
  record First(List<ChannelGroup> passes, int width, int height) {}

  /** Returns what the first frame that can be read is like. */
  First first(Looked l) {
    for (int frame : l.footage.written()) {
      try {
        int[] size = l.footage.size(frame);
        List<ChannelGroup> passes =
            l.footage.groups(frame).stream().map(Footage.Found::group).toList();
        return new First(passes, size[0], size[1]);
      } catch (IOException damaged) {
        LOG.debug("frame {} of {} cannot be read", frame, l.footage.name(), damaged);
      }
    }
    return new First(List.of(), 0, 0);
  }

  private static NotFoundException gone(Looked l, int frame) {
    return new NotFoundException("Frame " + frame + " of " + l.footage.name() + " is not there.");
  }

  private static UnreadableException unreadable(Looked l, int frame, IOException why) {
    return new UnreadableException(
        "Frame "
            + frame
            + " of "
            + l.footage.name()
            + " cannot be read: "
            + why.getMessage()
            + ".");
  }

  private static byte[] made(Footage.Found found, Look look, int most) throws IOException {
    FrameImage image = Footage.read(found);
    DisplayImage shown = found.group().show(Resample.shrink(image, most), look);
    return JpegFile.encode(shown, QUALITY);
  }

  private byte[] proxy(Footage.Found found) throws IOException {
    String name = Digest.of(stamp(found.file().path()), found.group().name()) + ".proxy";
    Optional<byte[]> kept = proxies.get(name).flatMap(FootageService::whole);
    if (kept.isPresent()) {
      return kept.get();
    }
    byte[] jpeg = made(found, Look.STANDARD, PROXY);
    byte[] sealed = Arrays.copyOf(jpeg, jpeg.length + CHECKSUM);
    ByteBuffer.wrap(sealed, jpeg.length, CHECKSUM).putLong(sum(jpeg, jpeg.length));
    proxies.put(name, sealed);
    return jpeg;
  }

  /** Returns the picture of a proxy's file; nothing if the file is damaged. */
  private static Optional<byte[]> whole(byte[] sealed) {
    int length = sealed.length - CHECKSUM;
    return length > 0 && ByteBuffer.wrap(sealed, length, CHECKSUM).getLong() == sum(sealed, length)
        ? Optional.of(Arrays.copyOf(sealed, length))
        : Optional.empty();
  }

  private static long sum(byte[] bytes, int length) {
    CRC32 crc = new CRC32();
    crc.update(bytes, 0, length);
    return crc.getValue();
  }

  private static String stamp(Path file) throws IOException {
    return Digest.of(
        file.toAbsolutePath().toString(),
        Files.size(file),
        Files.getLastModifiedTime(file).toMillis());
  }

  /** Makes the proxy of a frame that was written. */
  @TransactionalEventListener(fallbackExecution = true)
  void written(RunService.FrameWritten w) {
    thread.execute(
        () -> {
          try {
            picture(
                FootageKey.strand(w.strandId()),
                w.frame(),
                ChannelGroup.BEAUTY,
                Look.STANDARD,
                PROXY);
          } catch (RuntimeException | OutOfMemoryError e) {
            LOG.debug("no proxy of {}", w, e); // It is made when it is asked for.
          }
        });
  }

  /**
   * Returns what all passes hold at a pixel.
   *
   * @param x pixels of the full frame from its left edge; y from its top
   */
  List<PixelValues> values(FootageKey key, int frame, int x, int y) {
    Looked l = find(key);
    try {
      List<PixelValues> all = new ArrayList<>();
      List<Footage.Found> found = l.footage.groups(frame);
      if (found.isEmpty()) {
        throw gone(l, frame);
      }
      for (Footage.Found f : found) {
        FrameImage image = whole(f.file());
        if (x < 0 || y < 0 || x >= image.width() || y >= image.height()) {
          throw new IllegalArgumentException(
              "the picture has %d x %d pixels (got %d, %d)"
                  .formatted(image.width(), image.height(), x, y));
        }
        all.add(PixelValues.of(f.group(), image, x, y));
      }
      return all;
    } catch (IOException damaged) {
      throw unreadable(l, frame, damaged);
    }
  }

  private FrameImage whole(FrameFiles.Part file) throws IOException {
    String stamp = stamp(file.path());
    FrameImage known = frames.getIfPresent(stamp);
    if (known == null) {
      known = WrittenPicture.read(file);
      frames.put(stamp, known);
    }
    return known;
  }
}
