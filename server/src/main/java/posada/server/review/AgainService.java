package posada.server.review;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.Freshness;
import posada.core.settings.Crop;
import posada.core.settings.Recipe;
import posada.core.settings.Sampling;
import posada.core.trace.FrameContent;
import posada.formats.files.FrameFiles;
import posada.formats.gltf.ImportException;
import posada.formats.job.Again;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.server.app.ConflictException;
import posada.server.definitions.Definition;
import posada.server.definitions.Recipes;
import posada.server.ledger.LedgerService;
import posada.server.review.AgainController.NewAgain;
import posada.server.runs.RunService;
import posada.server.runs.RunStrand;

/**
 * Sends frames back to be rendered again, with the settings that their version was rendered with.
 */
@Service
class AgainService {
  private final RunService runs;
  private final LedgerService ledger;
  private final Recipes recipes;

  AgainService(RunService runs, LedgerService ledger, Recipes recipes) {
    this.runs = runs;
    this.ledger = ledger;
    this.recipes = recipes;
  }

  /** Starts the render of frames that were sent back, before everything else. */
  RunStrand start(NewAgain n) throws IOException, ImportException {
    RunStrand looked = runs.find(n.strandId());
    if (looked.shotId() == null || looked.layerId() == null) {
      throw new ConflictException(
          "The shot or the layer of " + title(looked) + " is not there any more.");
    }
    List<Integer> frames = FrameRange.parse(n.frames()).frames();
    LedgerRows rows = ledger.rows(looked.shotId(), looked.layerId());
    Map<Integer, LedgerRow> there = rows.whole(frames);
    Map<Long, LedgerRows.Written> written =
        rows.written(there.values().stream().map(LedgerRow::writer).collect(Collectors.toSet()));
    for (int f : frames) {
      LedgerRow r = there.get(f);
      if (r == null) {
        throw new IllegalArgumentException(
            "Frame " + f + " of " + title(looked) + " has not been rendered yet.");
      }
      LedgerRows.Written w = written.get(r.writer());
      if (!w.folder().equals(Path.of(looked.folder()))) {
        throw new ConflictException(
            "Frame %d is newest in v%03d, not in v%03d; send it back from there."
                .formatted(f, w.document().version(), looked.number()));
      }
    }
    StrandDocument d = looked.settings();
    for (int f : frames) {
      StrandDocument w = written.get(there.get(f).writer()).document();
      if (w.width() != d.width() || w.height() != d.height()) {
        throw new ConflictException(
            "Frame %d has %d × %d px, the version %d × %d px; start a new run of the strand instead."
                .formatted(f, w.width(), w.height(), d.width(), d.height()));
      }
    }
    Again again = again(n, d, there.get(frames.get(0)));
    if (!again.whole()) {
      FrameJob job = ledger.job(again.of(d), Path.of(looked.folder()));
      for (int f : frames) {
        LedgerRow r = there.get(f);
        LedgerRows.Written w = written.get(r.writer());
        FrameFiles before = FrameJob.files(w.document(), w.folder());
        job.check(again, before);
        if (again.more() > 0) {
          checkSamples(r, there.get(frames.get(0)), rows, d);
        }
      }
    }
    return runs.startAgain(looked, FrameRange.parse(n.frames()), again);
  }

  private static String title(RunStrand s) {
    return "%s %s v%03d".formatted(s.shot(), s.layer(), s.number());
  }

  private Again again(NewAgain n, StrandDocument d, LedgerRow first) {
    Definition<Recipe> other = n.recipeId() == null ? null : recipes.find(n.recipeId());
    Recipe own = d.settings().recipe();
    Recipe recipe = other == null ? null : other.document();
    String with = other == null ? "" : " with recipe " + other.name();
    if (n.more() > 0) {
      int all = first.samples() + n.more();
      return new Again(
          own.with(samples(own.sampling(), all)), null, n.more(), n.more() + " more samples");
    }
    if (n.width() > 0) {
      Crop box = box(n, d.width(), d.height());
      String text =
          "box %d × %d px at %d, %d rendered again"
              .formatted(box.width(), box.height(), box.x(), box.y());
      return new Again(recipe, box, 0, text + with);
    }
    return new Again(recipe, null, 0, "rendered again" + with);
  }

  private static Sampling samples(Sampling s, int most) {
    return s.with(most, s.seed());
  }

  /** The pixels that a box touches. */
  private static Crop box(NewAgain n, int width, int height) {
    for (double v : new double[] {n.x(), n.y(), n.width(), n.height()}) {
      if (!(v >= 0 && v <= 1)) {
        throw new IllegalArgumentException(
            "a box's shares of the picture are 0 .. 1 (got " + v + ")");
      }
    }
    int x0 = Math.min(width - 1, (int) Math.floor(n.x() * width));
    int y0 = Math.min(height - 1, (int) Math.floor(n.y() * height));
    int x1 = (int) Math.min(width, Math.ceil((n.x() + n.width()) * width));
    int y1 = (int) Math.min(height, Math.ceil((n.y() + n.height()) * height));
    return new Crop(x0, y0, Math.max(1, x1 - x0), Math.max(1, y1 - y0), false);
  }

  /** Refuses frames that are not what the strand's recipe makes of the scene as it is now. */
  private void checkSamples(LedgerRow r, LedgerRow first, LedgerRows rows, StrandDocument d)
      throws IOException, ImportException {
    if (r.samples() != first.samples()) {
      throw new ConflictException(
          "Frames %d and %d have %d and %d samples; send those back together that have as many."
              .formatted(first.frame(), r.frame(), first.samples(), r.samples()));
    }
    Recipe own = d.settings().recipe();
    Recipe as = own.with(samples(own.sampling(), Math.max(1, r.samples())));
    FrameJob job = ledger.job(d.with(d.settings().settings().with(as)), Path.of(""));
    FrameContent.Input now = job.input(r.frame(), Stop.NEVER);
    List<FrameContent.Thing> things =
        r.things() == null ? List.of() : FrameContent.placed(rows.things(r.things()), r.places());
    List<String> changes = Freshness.changes(new Freshness.Made(r.parts(), things, r.met()), now);
    if (r.samples() == 0 || !changes.isEmpty()) {
      throw new ConflictException(
          "Frame "
              + r.frame()
              + " was made otherwise ("
              + (changes.isEmpty() ? "samples are not known" : String.join(", ", changes))
              + "), so that samples on top would not fit; render it again as a whole.");
    }
  }
}
