package posada.formats.files;

import java.util.Collections;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import posada.core.plan.NamePattern;
import posada.formats.exr.ExrCompression;

/**
 * How frames are written, whatever is in them.
 *
 * @param formats at least one, each once
 * @param pattern of the files' names, see {@link NamePattern}
 * @param compression of EXR
 * @param perPass true for a file for each pass, false for all passes in one EXR
 * @param dataApart true for a second EXR that holds what is not light, unless each pass has one
 * @param depth how exactly EXR holds numbers
 * @param quality of JPEG, 1 .. 100
 * @param fill scene-linear colour behind a transparent background in display formats: red, green,
 *     blue; null for none
 * @param alpha false to leave it out of all files
 * @param color what the numbers mean
 * @param extras what is made of the frames when all are there
 */
public record Delivery(
    List<FileFormat> formats,
    String pattern,
    ExrCompression compression,
    boolean perPass,
    boolean dataApart,
    ExrDepth depth,
    int quality,
    List<Float> fill,
    boolean alpha,
    DeliveryColor color,
    Set<Extra> extras) {
  /** Default layout below a version's folder: a folder for each pass. */
  public static final String PATTERN = "{pass}/{shot}_{layer}_{pass}.{frame:4}";

  public static final Delivery DEFAULT =
      new Delivery(List.of(FileFormat.EXR), PATTERN, ExrCompression.ZIP, false, 92, null);

  /** How exactly EXR holds numbers. */
  public enum ExrDepth {
    /** Half for light and directions, float for what needs it. */
    AS_NEEDED,
    HALF,
    FLOAT
  }

  /** One that makes nothing beside the frames, and writes them as they are. */
  public Delivery(
      List<FileFormat> formats,
      String pattern,
      ExrCompression compression,
      boolean perPass,
      int quality,
      List<Float> fill) {
    this(
        formats,
        pattern,
        compression,
        perPass,
        false,
        ExrDepth.AS_NEEDED,
        quality,
        fill,
        true,
        DeliveryColor.DEFAULT,
        Set.of());
  }

  public Delivery {
    formats = formats.stream().distinct().toList();
    if (formats.isEmpty()) {
      throw new IllegalArgumentException(
          "at least one format is needed: a film alone would be lost if it breaks off");
    }
    new NamePattern(pattern);
    if (!compression.written()) {
      throw new IllegalArgumentException(
          "compression " + compression.label() + " is read but not written; choose another");
    }
    if (quality < 1 || quality > 100) {
      throw new IllegalArgumentException("JPEG quality must be 1 .. 100 (got " + quality + ")");
    }
    if (fill != null) {
      fill = List.copyOf(fill);
      if (fill.size() != 3 || fill.stream().anyMatch(v -> !(v >= 0 && v < 1e6f))) {
        throw new IllegalArgumentException(
            "the fill must be three numbers of 0 or more (got " + fill + ")");
      }
    }
    extras = Collections.unmodifiableSet(new TreeSet<>(extras));
    if (color.encoding() == DeliveryColor.Encoding.SCENE_LINEAR) {
      for (FileFormat f : formats) {
        if (f.display()) {
          throw new IllegalArgumentException(
              f.label()
                  + " cannot hold scene-linear light: it has no values above 1. Take exr or"
                  + " tiff-float, or the view transform");
        }
      }
    }
    boolean wide = color.primaries() == DeliveryColor.Space.DISPLAY_P3;
    if (wide && formats.contains(FileFormat.TGA)) {
      throw new IllegalArgumentException(
          "tga has no room to say that its colours are those of display-p3; take png or rec709");
    }
  }

  /** Returns the same with a file for each pass, or one for all. */
  public Delivery perPass(boolean each) {
    return new Delivery(
        formats, pattern, compression, each, dataApart, depth, quality, fill, alpha, color, extras);
  }

  /** Returns the same in other formats. */
  public Delivery as(List<FileFormat> others) {
    return new Delivery(
        others,
        pattern,
        compression,
        perPass,
        dataApart,
        depth,
        quality,
        fill,
        alpha,
        color,
        extras);
  }
}
