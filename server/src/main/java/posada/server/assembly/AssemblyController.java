package posada.server.assembly;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.assembly.Assembler;
import posada.core.assembly.Corrections;
import posada.core.assembly.Input;
import posada.core.assembly.Operator;
import posada.core.assembly.Rebuild;
import posada.core.assembly.Source;
import posada.core.assembly.Stack;
import posada.core.assembly.StartingMix;
import posada.core.review.Look;
import posada.core.scene.Track;
import posada.formats.assembly.FileShelf;
import posada.formats.assembly.FilmOutput;
import posada.server.app.NotFoundException;

/** Stacks while somebody works on them. */
@RestController
class AssemblyController {
  private final AssemblyPictures pictures;
  private final Sources sources;

  AssemblyController(AssemblyPictures pictures, Sources sources) {
    this.pictures = pictures;
    this.sources = sources;
  }

  /** How inputs can be put onto what is below them. */
  record OperatorLine(Operator operator, String label, String formula, boolean beyondOne) {}

  @GetMapping("/api/assemblies/operators")
  List<OperatorLine> operators() {
    return Arrays.stream(Operator.values())
        .map(o -> new OperatorLine(o, o.label(), o.formula(), o.beyondOne()))
        .toList();
  }

  /** Inputs and parts of them as they are where nobody says otherwise. */
  record Usual(
      Input input, Corrections.Defocus defocus, Corrections.Ring ring, FilmOutput output) {}

  @GetMapping("/api/assemblies/usual")
  Usual usual() {
    Corrections.Ring ring = new Corrections.Ring(Track.of(12), Track.of(0.5));
    Input in = Input.of("1", "input", Source.solid(1, 1, 1, 1));
    return new Usual(in, Corrections.Defocus.USUAL, ring, FilmOutput.DEFAULT);
  }

  /** What was rendered, of which inputs can be made. */
  @GetMapping("/api/assemblies/sources")
  List<Sources.Offered> sources(@RequestParam long production) {
    return sources.all(production);
  }

  /**
   * A stack to begin with.
   *
   * @param isAdded true if it is laid on a stack that is there
   */
  record MixLine(
      StartingMix.Kind kind, String label, boolean isAdded, List<Input> inputs, List<String> why) {}

  @GetMapping("/api/assemblies/mixes")
  List<MixLine> mixes(
      @RequestParam long production,
      @RequestParam long shot,
      @RequestParam(required = false) Long layer) {
    return sources.mixes(production, shot, layer).stream()
        .map(m -> new MixLine(m.kind(), m.kind().label(), m.kind().added(), m.inputs(), m.why()))
        .toList();
  }

  /**
   * How far pictures that are put together are from the one that was rendered at once.
   *
   * @param apart mean relative difference of luminance
   * @param most largest difference of a colour, at pixel x, y
   * @param reason why nothing can be compared; null if that is not so
   */
  record RebuildLine(
      double apart,
      double most,
      int x,
      int y,
      List<Float> whole,
      List<Float> rebuilt,
      @Schema(types = {"string", "null"}) String reason) {}

  @GetMapping("/api/assemblies/rebuild")
  RebuildLine rebuild(
      @RequestParam long production,
      @RequestParam long shot,
      @RequestParam long layer,
      @RequestParam int frame,
      @RequestParam Sources.Checked checked) {
    try {
      Rebuild r = sources.rebuild(production, shot, layer, frame, checked);
      return new RebuildLine(
          r.apart(), r.most(), r.x(), r.y(), list(r.whole()), list(r.rebuilt()), null);
    } catch (NotFoundException e) {
      return new RebuildLine(0, 0, 0, 0, List.of(), List.of(), e.getMessage());
    }
  }

  /** The difference, 16 times as bright. */
  @GetMapping(path = "/api/assemblies/rebuild/picture", produces = MediaType.IMAGE_JPEG_VALUE)
  byte[] rebuildPicture(
      @RequestParam long production,
      @RequestParam long shot,
      @RequestParam long layer,
      @RequestParam int frame,
      @RequestParam Sources.Checked checked) {
    Rebuild r = sources.rebuild(production, shot, layer, frame, checked);
    return AssemblyPictures.jpeg(r.difference(), Look.STANDARD);
  }

  /** How the files of a pass are read where nobody says otherwise. */
  @GetMapping("/api/assemblies/read-as")
  FileShelf.ReadAs readAs(@RequestParam String footage, @RequestParam String pass) {
    return pictures.files(shelf -> shelf.readAs(footage, pass));
  }

  /** What an ID matte says is at a place: shares of the width and the height. */
  @GetMapping("/api/assemblies/names")
  List<String> names(
      @RequestParam String footage,
      @RequestParam String pass,
      @RequestParam int frame,
      @RequestParam double x,
      @RequestParam double y) {
    return pictures.files(shelf -> shelf.namesAt(footage, pass, frame, x, y));
  }

  /**
   * A picture that is asked for.
   *
   * @param most longest side, pixels, 16 .. 4096
   * @param input that is shown alone, or up to which; null else
   * @param stops exposure of the look
   */
  record StackPicture(
      Stack stack,
      int frame,
      int most,
      AssemblyPictures.Show show,
      @Schema(types = {"string", "null"}) String input,
      Look.View view,
      double stops) {
    private static final int LEAST = 16, MOST = 4096;

    StackPicture {
      needed(stack);
      if (most < LEAST || most > MOST) {
        throw new IllegalArgumentException(
            "the longest side must be 16 .. 4096 pixels (got " + most + ")");
      }
    }
  }

  /** A frame of a stack; how long it took stands in the header Server-Timing, milliseconds. */
  @PostMapping(path = "/api/assemblies/picture", produces = MediaType.IMAGE_JPEG_VALUE)
  ResponseEntity<byte[]> picture(@RequestBody StackPicture p) {
    long start = System.nanoTime();
    Assembler.Result r = pictures.frame(p.stack, p.frame, p.most, p.show, p.input);
    byte[] jpeg =
        AssemblyPictures.jpeg(r.picture(), new Look(Look.Shown.COLOUR, p.view, p.stops, 1));
    double millis = (System.nanoTime() - start) / 1e6;
    return ResponseEntity.ok()
        .header("Server-Timing", String.format(java.util.Locale.ROOT, "stack;dur=%.1f", millis))
        .body(jpeg);
  }

  /** A frame of a stack that is asked about. */
  record StackFrame(Stack stack, int frame) {
    StackFrame {
      needed(stack);
    }
  }

  private static void needed(Stack s) {
    if (s == null) {
      throw new IllegalArgumentException("Say which stack it is.");
    }
  }

  /** What somebody should know about inputs at a frame. */
  @PostMapping("/api/assemblies/words")
  List<Assembler.Said> words(@RequestBody StackFrame f) {
    return pictures.frame(f.stack, f.frame, LOOKED, AssemblyPictures.Show.RESULT, null).said();
  }

  /** Longer side of the picture that is looked at for words, pixels: that which is shown. */
  private static final int LOOKED = 640;

  /** A pixel of the full size of a stack. */
  record StackPixel(Stack stack, int frame, int x, int y) {
    StackPixel {
      needed(stack);
    }
  }

  /**
   * The numbers at a pixel after an input.
   *
   * @param own red, green, blue, alpha; empty if the input is left out
   */
  record StepLine(String id, List<Float> own, List<Float> after) {}

  @PostMapping("/api/assemblies/steps")
  List<StepLine> steps(@RequestBody StackPixel p) {
    return pictures.steps(p.stack, p.frame, p.x, p.y).stream()
        .map(s -> new StepLine(s.id(), list(s.own()), list(s.after())))
        .toList();
  }

  private static List<Float> list(float[] v) {
    List<Float> all = new ArrayList<>();
    for (int i = 0; v != null && i < v.length; i++) {
      all.add(v[i]);
    }
    return all;
  }
}
