package posada.cli;

import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import picocli.CommandLine.Option;
import posada.core.image.SrgbTransfer;
import posada.core.scene.Track;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.formats.exr.ExrCompression;
import posada.formats.files.Delivery;
import posada.formats.files.FileFormat;
import posada.formats.settings.RenderDocument;

/** How frames are rendered and stored; whatever is given wins over the settings of files. */
final class RenderOptions {
  @Option(names = "--samples", description = "for each pixel; 64 if nothing else is said")
  private Integer samples;

  @Option(
      names = "--noise",
      description = "adaptive: pixels are left alone once their noise is below this, such as 0.03")
  private Double noise;

  @Option(names = "--limit", description = "seconds after which a frame begins no more samples")
  private Double limit;

  @Option(names = "--crop", description = "a region alone: X,Y,WIDTHxHEIGHT in pixels")
  private String crop;

  @Option(
      names = "--passes",
      description = "names of passes, or all parts of the light as 'light'; see posada passes",
      split = ",")
  private List<String> passes;

  @Option(
      names = "--denoise",
      description =
          "off; picture: write it clean; guides: write the pass guides to clean it later (posada"
              + " denoise); both")
  private String denoise;

  @Option(
      names = "--deep",
      arity = "0..1",
      fallbackValue = "0.01",
      description =
          "a deep EXR too; depths that differ by less than this part of them are one (0.01)")
  private Double deep;

  @Option(
      names = "--format",
      description = "exr, png, png16, tiff, tiff16, tiff-float, tga, jpeg; exr if left out",
      split = ",")
  private List<String> format;

  @Option(
      names = "--name",
      description = "pattern of the files' names; {camera}_{pass}.{frame:4} if left out")
  private String name;

  @Option(names = "--compression", description = "of EXR: zip, zips, rle, none")
  private String compression;

  @Option(names = "--per-pass", description = "an EXR for each pass instead of one for all")
  private Boolean perPass;

  @Option(names = "--quality", description = "of JPEG, 1 .. 100; 92 if left out")
  private Integer quality;

  @Option(names = "--seed", description = "of the sampling pattern")
  private Integer seed;

  @Option(
      names = "--exposure",
      description =
          "stops, each twice the light; or meter: what brings the first, middle and last frame's"
              + " average to middle grey")
  private String exposure;

  @Option(names = "--bounces", description = "how often light may be scattered or mirrored")
  private Integer bounces;

  @Option(
      names = "--clay",
      description =
          "everything under clay, with one bounce of even light and without noise, to approve movement")
  private boolean clay;

  @Option(
      names = "--background",
      description =
          "environment, transparent, or a colour such as #405060 that fills display files")
  private String background;

  /** The settings of the files with the options over them. */
  RenderDocument over(RenderDocument d) {
    RenderSettings s = d.settings();
    Sampling p = s.sampling();
    int most = samples == null ? p.most() : samples;
    s =
        s.with(
            new Sampling(
                Math.min(p.least(), Math.max(1, most)),
                most,
                p.adaptive() || noise != null,
                noise == null ? p.noiseThreshold() : noise,
                limit == null ? p.seconds() : limit,
                seed == null ? p.seed() : seed,
                p.seedPerFrame(),
                p.pattern()));
    if (clay) {
      s = s.clay();
    }
    if (bounces != null) {
      s = s.withBounces(bounces, s.bounces().indirectClamp());
    }
    if (exposure != null && !metered()) {
      s = s.with(s.lens().exposed(Track.of(stops())));
    }
    if (crop != null) {
      s = s.with(region());
    }
    if (background != null) {
      s = s.with(skyShown());
    }
    if (passes != null) {
      s = s.with(chosenPasses());
    }
    if (denoise != null) {
      s = denoised(s);
    }
    if (deep != null) {
      s = s.with(s.passes().withDeep(deep));
    }
    return d.with(s).with(delivery(d.delivery()));
  }

  /** Returns true if the exposure is to be found from the pictures. */
  boolean metered() {
    return "meter".equals(exposure);
  }

  private double stops() {
    try {
      double stops = Double.parseDouble(exposure);
      if (Double.isFinite(stops)) {
        return stops;
      }
    } catch (NumberFormatException e) {
      // Falls through to the one error for everything that is no number.
    }
    throw new IllegalArgumentException(
        "exposure \"" + exposure + "\" cannot be read; write stops such as -2.5, or meter");
  }

  private Delivery delivery(Delivery d) {
    return new Delivery(
        format == null
            ? d.formats()
            : format.stream().map(f -> FileFormat.named(f.strip())).toList(),
        name == null ? d.pattern() : name,
        compression == null ? d.compression() : ExrCompression.named(compression),
        perPass == null ? d.perPass() : perPass,
        quality == null ? d.quality() : quality,
        background != null && background.startsWith("#") ? colour() : d.fill());
  }

  /** The background as a scene-linear colour. */
  private List<Float> colour() {
    if (!background.matches("#[0-9a-fA-F]{6}")) {
      throw new IllegalArgumentException(
          "background \"" + background + "\" is no colour; write six digits such as #405060");
    }
    int rgb = Integer.parseInt(background.substring(1), 16);
    return IntStream.of(16, 8, 0)
        .mapToObj(shift -> (float) SrgbTransfer.decode((rgb >> shift & 255) / 255f))
        .toList();
  }

  private RenderSettings denoised(RenderSettings s) {
    if (!Set.of("off", "picture", "guides", "both").contains(denoise)) {
      throw new IllegalArgumentException(
          "there is no way to denoise called \""
              + denoise
              + "\"; there are off, picture, guides and both");
    }
    boolean picture = denoise.equals("picture") || denoise.equals("both");
    Set<Pass> wanted = new LinkedHashSet<>(s.passes().wanted());
    if (denoise.equals("guides") || denoise.equals("both")) {
      wanted.add(Pass.GUIDES);
    }
    return s.with(new Denoising(picture, s.denoising().amount())).with(wanted);
  }

  private Set<Pass> chosenPasses() {
    Set<Pass> chosen = new LinkedHashSet<>();
    for (String name : passes) {
      if (name.strip().equals("light")) {
        chosen.addAll(Pass.LIGHT_PARTS);
      } else {
        chosen.add(Pass.named(name.strip()));
      }
    }
    return chosen;
  }

  private Crop region() {
    Matcher m = Pattern.compile("(\\d{1,5}),(\\d{1,5}),(\\d{1,5})[x×](\\d{1,5})").matcher(crop);
    if (!m.matches()) {
      throw new IllegalArgumentException(
          "crop \"" + crop + "\" cannot be read; write X,Y,WIDTHxHEIGHT such as 100,50,320x180");
    }
    int[] v = new int[4];
    for (int k = 0; k < 4; k++) {
      v[k] = Integer.parseInt(m.group(k + 1));
    }
    return new Crop(v[0], v[1], v[2], v[3], true);
  }

  private boolean skyShown() {
    if (background.startsWith("#")) {
      return false;
    }
    return switch (background) {
      case "environment" -> true;
      case "transparent" -> false;
      default ->
          throw new IllegalArgumentException(
              "there is no background \""
                  + background
                  + "\"; there are environment, transparent and colours such as #405060");
    };
  }
}
