package posada.server.assembly;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Service;
import posada.core.assembly.LayerMerge;
import posada.core.assembly.Picture;
import posada.core.assembly.Reading;
import posada.core.assembly.Rebuild;
import posada.core.assembly.Shelf;
import posada.core.assembly.StartingMix;
import posada.core.assembly.StartingMix.Rendered;
import posada.core.image.FrameImage;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.formats.assembly.FileShelf;
import posada.formats.review.ChannelGroup;
import posada.formats.review.Footage;
import posada.server.app.NotFoundException;
import posada.server.definitions.Definition;
import posada.server.definitions.Layers;
import posada.server.review.FootageService;
import posada.server.review.FootageService.Named;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;
import posada.server.shots.ShotService;

/** What stacks can be made from: what was rendered of shots. */
@Service
class Sources {
  private static final Logger LOG = LoggerFactory.getLogger(Sources.class);

  private final FootageService footage;
  private final AssemblyPictures pictures;
  private final ShotService shots;
  private final Layers layers;
  private final RunService runs;

  Sources(
      FootageService footage,
      AssemblyPictures pictures,
      ShotService shots,
      Layers layers,
      RunService runs) {
    this.footage = footage;
    this.pictures = pictures;
    this.shots = shots;
    this.layers = layers;
    this.runs = runs;
  }

  /**
   * Something that inputs can be made from.
   *
   * @param footage as sources name it
   * @param key of its newest version, as Review names it
   * @param passes of its first frame that can be read
   * @param frames that it has or should have, as a range
   */
  record Offered(
      String footage,
      String key,
      String shot,
      String layer,
      int version,
      List<String> passes,
      String frames,
      double rate,
      int width,
      int height) {}

  /** Returns what was rendered of a production's shots, in their order. */
  List<Offered> all(long production) {
    return shots.all(production).stream().flatMap(s -> of(production, s.id()).stream()).toList();
  }

  /** Returns what was rendered of a shot, the lowest layer first. */
  private List<Offered> of(long production, long shot) {
    return layers.all(production).stream()
        .map(Definition::id)
        .flatMap(l -> runs.newestWritten(shot, l).flatMap(this::offered).stream())
        .toList();
  }

  static String newest(long shot, long layer) {
    return "shot-" + shot + ".layer-" + layer;
  }

  private Optional<Offered> offered(RunStrand r) {
    Named n = footage.named("strand-" + r.id());
    Footage f = n.footage();
    for (int frame : f.frames()) {
      if (!f.there(frame).isEmpty()) {
        try {
          int[] size = f.size(frame);
          List<String> passes =
              f.groups(frame).stream().map(Footage.Found::group).map(ChannelGroup::name).toList();
          return Optional.of(
              new Offered(
                  newest(r.shotId(), r.layerId()),
                  n.key(),
                  r.shot(),
                  r.layer(),
                  r.number(),
                  passes,
                  r.settings().frames(),
                  n.rate(),
                  size[0],
                  size[1]));
        } catch (IOException damaged) {
          LOG.debug("frame {} of {} cannot be read", frame, f.name(), damaged);
        }
      }
    }
    return Optional.empty();
  }

  /** Returns the mixes that a stack of a shot can begin with. */
  List<StartingMix.Mix> mixes(long production, long shot, Long layer) {
    List<Offered> some = of(production, shot);
    if (some.isEmpty()) {
      return List.of();
    }
    String wanted = layer == null ? null : newest(shot, layer);
    Offered chosen =
        some.stream()
            .filter(o -> o.footage().equals(wanted))
            .findFirst()
            .or(() -> some.stream().max(Comparator.comparingInt(o -> o.passes().size())))
            .orElseThrow();
    Rendered main =
        new Rendered(
            chosen.footage(), chosen.layer(), chosen.passes(), dark(chosen), LayerMerge.How.OVER);
    return StartingMix.all(rendered(shot, apart(shot, some)), main, chosen.width());
  }

  /** Returns the layers that are apart: without the one in which everything is seen. */
  private List<Offered> apart(long shot, List<Offered> some) {
    return some.stream().filter(o -> !shots.seesAll(shot, layer(o))).toList();
  }

  /** What was rendered of a shot with how it is merged; the lowest layer first. */
  private List<Rendered> rendered(long shot, List<Offered> some) {
    List<LayerMerge.How> ways = shots.mergeWays(shot, some.stream().map(this::layer).toList());
    List<Rendered> all = new ArrayList<>();
    for (int i = 0; i < some.size(); i++) {
      Offered o = some.get(i);
      all.add(new Rendered(o.footage(), o.layer(), o.passes(), List.of(), ways.get(i)));
    }
    return all;
  }

  /** Returns the light parts in which no light is in the first, the middle and the last frame. */
  private List<String> dark(Offered o) {
    List<Integer> there = footage.named(o.footage()).footage().written();
    List<Integer> some =
        List.of(there.get(0), there.get(there.size() / 2), there.get(there.size() - 1));
    List<String> dark = new ArrayList<>();
    for (String p : o.passes()) {
      boolean part = Pass.LIGHT_PARTS.stream().anyMatch(q -> q.label().equals(p));
      try {
        boolean light = false;
        for (int i = 0; part && i < some.size() && !light; i++) {
          Picture seen =
              pictures
                  .shelf()
                  .picture(o.footage(), p, some.get(i), Reading.AS_FILE, SMALLER)
                  .picture();
          for (int j = 0; j < 3 && !light; j++) {
            for (float v : seen.c()[j]) {
              light |= v > 0;
            }
          }
        }
        if (part && !light) {
          dark.add(p);
        }
      } catch (IOException damaged) {
        LOG.debug("a frame of {} cannot be read", o.footage(), damaged);
      }
    }
    return dark;
  }

  /** By which pictures are made smaller in which somebody looks for light. */
  private static final int SMALLER = 4;

  /** What of a shot can be compared with the picture that was rendered at once. */
  enum Checked {
    PARTS,
    LAYERS
  }

  /**
   * Returns how far parts, or layers, are from the picture that was rendered at once.
   *
   * @param layer whose parts
   * @throws NotFoundException saying what is not there to compare
   */
  Rebuild rebuild(long production, long shot, long layer, int frame, Checked c) {
    List<Offered> some = of(production, shot);
    String of = newest(shot, layer);
    return pictures.files(
        shelf ->
            c == Checked.PARTS ? parts(shelf, some, of, frame) : layers(shelf, shot, some, frame));
  }

  private static Rebuild parts(FileShelf shelf, List<Offered> some, String of, int frame)
      throws IOException {
    Offered o =
        some.stream()
            .filter(x -> x.footage().equals(of))
            .findFirst()
            .orElseThrow(
                () -> new NotFoundException("Nothing of this layer has been rendered yet."));
    List<String> parts =
        Pass.LIGHT_PARTS.stream().map(Pass::label).filter(o.passes()::contains).toList();
    if (parts.size() < 2) {
      throw new NotFoundException(
          "Layer %s has no light parts to add up; add them to its passes in Layers."
              .formatted(o.layer()));
    }
    List<Picture> pictures = new ArrayList<>();
    for (String p : parts) {
      pictures.add(shelf.picture(of, p, frame, Reading.AS_FILE, 1).picture());
    }
    return Rebuild.ofParts(
        shelf.picture(of, "beauty", frame, Reading.AS_FILE, 1).picture(), pictures);
  }

  /** The whole is the layer in which everything is seen; the others are merged. */
  private Rebuild layers(FileShelf shelf, long shot, List<Offered> some, int frame)
      throws IOException {
    List<Offered> parts = apart(shot, some);
    Offered whole =
        some.stream()
            .filter(o -> !parts.contains(o))
            .findFirst()
            .orElseThrow(
                () ->
                    new NotFoundException(
                        "No layer in which everything is seen was rendered of this shot."));
    if (parts.isEmpty()) {
      throw new NotFoundException("No layers beside %s were rendered.".formatted(whole.layer()));
    }
    List<FrameImage> images = new ArrayList<>();
    for (Offered o : parts) {
      images.add(picture(shelf, o, frame).image());
    }
    List<LayerMerge.How> ways = shots.mergeWays(shot, parts.stream().map(this::layer).toList());
    return Rebuild.of(picture(shelf, whole, frame), Picture.of(LayerMerge.merge(images, ways)));
  }

  private static Picture picture(FileShelf shelf, Offered o, int frame) throws IOException {
    Shelf.Loaded l = shelf.picture(o.footage(), "beauty", frame, Reading.AS_FILE, 1);
    return l.picture();
  }

  private Layer layer(Offered o) {
    long id = Long.parseLong(o.footage().substring(o.footage().lastIndexOf('-') + 1));
    return layers.find(id).document().layer();
  }
}
