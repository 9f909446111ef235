package posada.formats.assembly;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import posada.core.assembly.Picture;
import posada.core.assembly.Reading;
import posada.core.assembly.Shelf;
import posada.core.image.FrameImage;
import posada.core.image.NameHash;
import posada.core.image.Resample;
import posada.core.image.SrgbTransfer;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.files.WrittenPicture;
import posada.formats.review.Footage;
import posada.formats.review.Footage.Found;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Inputs that are files. */
public final class FileShelf implements Shelf {
  private static final JsonMapper JSON = new JsonMapper();

  /** Milliseconds for which what is known of footage is taken to be so. */
  private static final long FACTS_LAST = 2000;

  private final Finder finder;
  private final Cache cache, files;
  private final Workers workers;

  /** Knows where footage is. */
  public interface Finder {
    /**
     * Returns footage and its rate.
     *
     * @throws IllegalArgumentException saying what is not there
     */
    Known find(String footage);
  }

  /**
   * Footage.
   *
   * @param rate frames for each second; null if nothing tells
   */
  public record Known(Footage footage, Double rate) {}

  /** Keeps pictures that were read. */
  public interface Cache {
    Object of(Object key, Supplier<Object> read);
  }

  /** Keeps nothing. */
  public static final Cache NOTHING = (key, read) -> read.get();

  /**
   * @param cache of pictures of passes
   * @param files of whole files: several inputs are often of one
   * @param workers that unpack them
   */
  public FileShelf(Finder finder, Cache cache, Cache files, Workers workers) {
    this.workers = workers;
    this.finder = finder;
    this.cache = cache;
    this.files = files;
  }

  /**
   * What a file says about how it is read.
   *
   * @param light whether the format or header tells what colours are
   * @param alpha likewise
   * @param rate null if nothing tells
   */
  public record ReadAs(
      Reading.Light light,
      boolean lightTold,
      Reading.Alpha alpha,
      boolean alphaTold,
      Double rate,
      boolean rateTold) {}

  /** Returns how the files of a pass are read where nobody says otherwise. */
  public ReadAs readAs(String footage, String pass) throws IOException {
    Known k = finder.find(footage);
    Found f = found(k.footage, first(k.footage), pass);
    if (!f.file().format().display()) {
      boolean exr = f.file().format() == FileFormat.EXR;
      FrameRate in = exr ? ExrReader.header(f.file().path()).rate() : null;
      boolean alpha = f.group().channels().size() == 4 && f.group().light();
      return new ReadAs(
          Reading.Light.LINEAR,
          true,
          alpha ? Reading.Alpha.PREMULTIPLIED : Reading.Alpha.NONE,
          true,
          in == null ? k.rate : Double.valueOf(in.perSecond()),
          in != null);
    }
    boolean jpeg = f.file().format() == FileFormat.JPEG;
    boolean png = f.file().format() == FileFormat.PNG8 || f.file().format() == FileFormat.PNG16;
    return new ReadAs(
        Reading.Light.DISPLAY,
        png || jpeg,
        jpeg ? Reading.Alpha.NONE : Reading.Alpha.STRAIGHT,
        png || jpeg,
        k.rate,
        false);
  }

  /** The first frame that is there. */
  private static int first(Footage f) throws IOException {
    for (int frame : f.frames()) {
      if (!f.there(frame).isEmpty()) {
        return frame;
      }
    }
    throw new Missing("no frame of " + f.name());
  }

  @Override
  public Facts facts(String footage) throws IOException {
    // Looked at again after a while: frames may have been written.
    return (Facts)
        kept(
            List.of(footage, System.currentTimeMillis() / FACTS_LAST),
            () -> facts(finder.find(footage)));
  }

  private static Facts facts(Known k) throws IOException {
    if (k.footage.frames().isEmpty()) {
      throw new Missing("no frame of " + k.footage.name());
    }
    int[] size = k.footage.size(first(k.footage));
    return new Facts(k.footage.name(), k.footage.frames(), k.rate, size[0], size[1]);
  }

  private static Found found(Footage f, int frame, String pass) throws IOException {
    try {
      return f.find(frame, pass);
    } catch (NoSuchFileException e) {
      throw new Missing(e.getMessage());
    }
  }

  private interface Making {
    Object make() throws IOException;
  }

  private Object kept(Object key, Making m) throws IOException {
    return kept(cache, key, m);
  }

  /** Reads all channels of a file. */
  private FrameImage image(Found f) throws IOException {
    return (FrameImage) kept(files, stamp(f.file()), () -> WrittenPicture.read(f.file(), workers));
  }

  private static Object kept(Cache c, Object key, Making m) throws IOException {
    try {
      return c.of(
          key,
          () -> {
            try {
              return m.make();
            } catch (IOException e) {
              throw new UncheckedIOException(e);
            }
          });
    } catch (UncheckedIOException e) {
      throw e.getCause();
    }
  }

  @Override
  public Loaded picture(String footage, String pass, int frame, Reading reading, int shrink)
      throws IOException {
    Found f = found(finder.find(footage).footage, frame, pass);
    Object key = List.of(stamp(f.file()), f.group(), reading, shrink);
    return (Loaded) kept(key, () -> read(f, reading, shrink));
  }

  private Loaded read(Found f, Reading reading, int shrink) throws IOException {
    FrameImage image = image(f);
    boolean display = f.file().format().display();
    if (display) {
      Picture p = as(Picture.of(image), reading, true);
      boolean opaque = reading.alpha() == Reading.Alpha.NONE || opaque(p.c()[3]);
      return new Loaded(shrunk(p, shrink), !opaque);
    }
    FrameImage plain = f.group().plain(image);
    boolean alpha = plain.find("A") != null && f.group().light();
    Picture p = as(Picture.of(plain), reading, false);
    return new Loaded(shrunk(p, shrink), alpha && reading.alpha() != Reading.Alpha.NONE);
  }

  private static boolean opaque(float[] a) {
    for (float v : a) {
      if (v != 1) {
        return false;
      }
    }
    return true;
  }

  /**
   * Returns a picture read another way than its file says.
   *
   * @param p as its file says: scene-linear, premultiplied
   * @param display true if the file has display values and straight alpha
   */
  private static Picture as(Picture p, Reading r, boolean display) {
    boolean light = r.light() != Reading.Light.FILE;
    boolean alpha = r.alpha() != Reading.Alpha.FILE;
    if (!light && !alpha) {
      return p;
    }
    boolean shown = light ? r.light() == Reading.Light.DISPLAY : display;
    boolean straight = alpha ? r.alpha() != Reading.Alpha.PREMULTIPLIED : display;
    Picture out = p.copy();
    for (int i = 0; i < p.pixels(); i++) {
      float a = p.c()[3][i], now = r.alpha() == Reading.Alpha.NONE ? 1 : a;
      for (int j = 0; j < 3; j++) {
        double v = p.c()[j][i];
        if (display) {
          v = SrgbTransfer.encode(a > 0 ? v / a : v); // What stands in the file.
        }
        double s = straight || now == 0 ? v : v / now;
        s = shown ? SrgbTransfer.decode(s) : s;
        out.c()[j][i] = (float) (straight || now != 0 ? s * now : s);
      }
      out.c()[3][i] = now;
    }
    return out;
  }

  private static Picture shrunk(Picture p, int k) {
    if (k == 1) {
      return p;
    }
    int w = Math.max(1, p.width() / k), h = Math.max(1, p.height() / k);
    float[][] c = new float[4][];
    for (int j = 0; j < 4; j++) {
      c[j] = Resample.means(p.c()[j], p.width(), p.height(), k);
    }
    return new Picture(w, h, c);
  }

  @Override
  public Plane values(String footage, String pass, int channel, int frame, int shrink)
      throws IOException {
    Footage of = finder.find(footage).footage;
    Found f =
        of.groups(frame).stream()
            .filter(g -> g.group().name().equals(pass))
            .findFirst()
            .orElse(null);
    if (f == null || channel >= f.group().channels().size()) {
      return null;
    }
    Object key = List.of(stamp(f.file()), f.group(), channel, shrink);
    return (Plane)
        kept(
            key,
            () -> {
              FrameImage image = image(f);
              String name = f.group().channels().get(channel);
              float[] all = image.find(name) != null ? image.find(name) : image.find("R");
              int w = Math.max(1, image.width() / shrink), h = Math.max(1, image.height() / shrink);
              float[] out = new float[w * h];
              for (int y = 0; y < h; y++) {
                for (int x = 0; x < w; x++) {
                  int at = (y * shrink + shrink / 2) * image.width() + x * shrink + shrink / 2;
                  out[y * w + x] = all[Math.min(all.length - 1, at)];
                }
              }
              return new Plane(w, h, out);
            });
  }

  @Override
  public Plane coverage(String footage, String pass, List<String> names, int frame, int shrink)
      throws IOException {
    Found f = matte(footage, pass, frame);
    Object key = List.of(stamp(f.file()), f.group(), names, shrink);
    return (Plane)
        kept(
            key,
            () -> {
              FrameImage image = image(f);
              Set<Integer> wanted = names.stream().map(FileShelf::bits).collect(Collectors.toSet());
              float[] sum = new float[image.width() * image.height()];
              List<String> channels = f.group().channels();
              for (int k = 0; k + 1 < channels.size(); k += 2) {
                float[] who = image.find(channels.get(k));
                float[] share = image.find(channels.get(k + 1));
                for (int i = 0; i < sum.length; i++) {
                  if (share[i] > 0 && wanted.contains(Float.floatToRawIntBits(who[i]))) {
                    sum[i] = Math.min(1, sum[i] + share[i]);
                  }
                }
              }
              int w = Math.max(1, image.width() / shrink), h = Math.max(1, image.height() / shrink);
              return new Plane(w, h, Resample.means(sum, image.width(), image.height(), shrink));
            });
  }

  /** The bits of the number that stands for a name. */
  private static int bits(String name) {
    return Float.floatToRawIntBits(NameHash.toFloat(NameHash.of(name)));
  }

  private Found matte(String footage, String pass, int frame) throws IOException {
    Found f = found(finder.find(footage).footage, frame, pass);
    Pass p = f.group().pass();
    if (p == null || !p.matte()) {
      throw new IllegalArgumentException(pass + " is no ID matte");
    }
    return f;
  }

  @Override
  public List<String> names(String footage, String pass, int frame) throws IOException {
    Found f = matte(footage, pass, frame);
    String text = ExrReader.texts(f.file().path()).get(NameHash.key(pass) + "manifest");
    List<String> names = new ArrayList<>();
    if (text != null) {
      JsonNode all = JSON.readTree(text);
      all.propertyNames().forEach(names::add);
    }
    return names;
  }

  /**
   * Returns what an ID matte says is at a pixel, most coverage first.
   *
   * @param x share of the width from the left; y of the height from the top
   */
  public List<String> namesAt(String footage, String pass, int frame, double x, double y)
      throws IOException {
    Found f = matte(footage, pass, frame);
    FrameImage image = image(f);
    int px = Math.max(0, Math.min(image.width() - 1, (int) (x * image.width())));
    int py = Math.max(0, Math.min(image.height() - 1, (int) (y * image.height())));
    Map<Integer, String> known = new HashMap<>();
    for (String n : names(footage, pass, frame)) {
      known.put(bits(n), n);
    }
    List<String> there = new ArrayList<>();
    List<String> channels = f.group().channels();
    for (int k = 0; k + 1 < channels.size(); k += 2) {
      int at = py * image.width() + px;
      if (image.find(channels.get(k + 1))[at] > 0) {
        String name = known.get(Float.floatToRawIntBits(image.find(channels.get(k))[at]));
        if (name != null) {
          there.add(name);
        }
      }
    }
    return there;
  }

  @Override
  public String stamp(String footage, int frame) throws IOException {
    StringBuilder s = new StringBuilder();
    for (FrameFiles.Part p : finder.find(footage).footage.there(frame)) {
      String made =
          p.format() == FileFormat.EXR
              ? ExrReader.texts(p.path()).get(ExrHeader.FINGERPRINT)
              : null;
      s.append(p.path().getFileName()).append(' ').append(Files.size(p.path())).append(' ');
      s.append(made != null ? made : Files.getLastModifiedTime(p.path()).toMillis()).append(';');
    }
    return s.toString();
  }

  private static String stamp(FrameFiles.Part p) throws IOException {
    return p.path()
        + " "
        + Files.size(p.path())
        + " "
        + Files.getLastModifiedTime(p.path()).toMillis();
  }
}
