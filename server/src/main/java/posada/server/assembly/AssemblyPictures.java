package posada.server.assembly;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;
import posada.core.assembly.Assembler;
import posada.core.assembly.Input;
import posada.core.assembly.Picture;
import posada.core.assembly.Shelf;
import posada.core.assembly.Source;
import posada.core.assembly.Stack;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.review.Look;
import posada.formats.assembly.FileShelf;
import posada.formats.display.JpegFile;
import posada.server.app.NotFoundException;
import posada.server.app.RenderThreads;
import posada.server.app.UnreadableException;
import posada.server.review.FootageService;

/** Makes pictures of stacks while somebody works on them. */
@Component
class AssemblyPictures {
  private static final float QUALITY = 0.9f;

  /** Bytes of whole files, pictures of passes, and inputs that are ready, that are kept. */
  private static final long MOST_FILES = 256L << 20,
      MOST_READ = 256L << 20,
      MOST_READY = 256L << 20;

  /** After so many seconds without use they go. */
  private static final int RESTED = 60;

  /** Bytes that anything kept takes beside its pictures. */
  private static final int BESIDE = 1000;

  private final FootageService footage;
  private final RenderThreads pool;
  private final Cache<Object, Object> files = cache(MOST_FILES);
  private final Cache<Object, Object> read = cache(MOST_READ);
  private final Cache<Object, Object> ready = cache(MOST_READY);

  AssemblyPictures(FootageService footage, RenderThreads pool) {
    this.footage = footage;
    this.pool = pool;
  }

  private static Cache<Object, Object> cache(long most) {
    return Caffeine.newBuilder()
        .maximumWeight(most)
        .weigher(AssemblyPictures::bytes)
        .expireAfterAccess(RESTED, TimeUnit.SECONDS)
        .build();
  }

  private static int bytes(Object key, Object value) {
    long bytes = Assembler.bytes(value);
    if (value instanceof Shelf.Loaded l) {
      bytes = l.picture().bytes();
    } else if (value instanceof Shelf.Plane p) {
      bytes = 4L * p.values().length;
    } else if (value instanceof FrameImage i) {
      bytes = 4L * i.width() * i.height() * i.channels().size();
    }
    return (int) Math.min(Integer.MAX_VALUE, BESIDE + bytes);
  }

  /** Returns the files of inputs; pictures that were read are kept. */
  FileShelf shelf() {
    return new FileShelf(
        this::known,
        (key, make) -> read.get(key, k -> make.get()),
        (key, make) -> files.get(key, k -> make.get()),
        pool.workers());
  }

  /** Returns the files of inputs for one frame after the other: little of them is kept. */
  FileShelf plainShelf() {
    return new FileShelf(
        this::known,
        FileShelf.NOTHING,
        (key, make) -> files.get(key, k -> make.get()),
        pool.workers());
  }

  private FileShelf.Known known(String key) {
    try {
      FootageService.Named n = footage.named(key);
      return new FileShelf.Known(n.footage(), n.rate());
    } catch (NotFoundException e) {
      throw new IllegalArgumentException(e.getMessage(), e);
    }
  }

  private Assembler assembler() {
    return new Assembler(shelf(), (key, make) -> ready.get(key, k -> make.get()), pool.workers());
  }

  /** What of a stack is shown. */
  enum Show {
    RESULT,
    /** The beauty of what the lowest input is from. */
    BEFORE,
    /** An input alone. */
    INPUT,
    /** Everything up to an input. */
    UP_TO
  }

  /** Returns the size of a picture of a stack whose longer side has at most so many pixels. */
  static int[] size(Stack s, int most) {
    double k = Math.min(1, most / (double) Math.max(s.width(), s.height()));
    return new int[] {
      Math.max(1, (int) Math.round(s.width() * k)), Math.max(1, (int) Math.round(s.height() * k))
    };
  }

  /**
   * Returns a frame of a stack.
   *
   * @param input of what is shown of one; else null
   */
  Assembler.Result frame(Stack s, int frame, int most, Show show, String input) {
    int[] size = size(s, most);
    try (RenderThreads.Watched w = pool.watch()) {
      return switch (show) {
        case RESULT -> assembler().frame(s, frame, size[0], size[1], null);
        case UP_TO -> assembler().frame(s, frame, size[0], size[1], find(s, input).id());
        case INPUT -> assembler().alone(s, find(s, input), frame, size[0], size[1]);
        case BEFORE -> before(s, frame, size);
      };
    }
  }

  /** The picture that the stack begins with: the beauty of what its lowest input is from. */
  private Assembler.Result before(Stack s, int frame, int[] size) {
    List<Input> taking = s.taking();
    for (Input in : taking) {
      if (in.source().footage() != null) {
        Input plain = Input.of(in.id(), in.name(), Source.of(in.source().footage(), "beauty"));
        return assembler().alone(s, plain, frame, size[0], size[1]);
      }
    }
    return new Assembler.Result(new Picture(size[0], size[1]), new ArrayList<>());
  }

  private static Input find(Stack s, String id) {
    return s.inputs().stream()
        .filter(i -> i.id().equals(id))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("this stack has no input \"" + id + "\""));
  }

  /** Returns a picture as a JPEG. */
  static byte[] jpeg(Picture p, Look look) {
    DisplayImage shown = look.of(p.image());
    return JpegFile.encode(shown, QUALITY);
  }

  /** Returns the numbers at a pixel after each input, the lowest first. */
  List<Assembler.Step> steps(Stack s, int frame, int x, int y) {
    if (x < 0 || y < 0 || x >= s.width() || y >= s.height()) {
      throw new IllegalArgumentException(
          "the picture has %d x %d pixels (got %d, %d)".formatted(s.width(), s.height(), x, y));
    }
    int[] size = size(s, MOST_STEPS);
    int px = Math.min(size[0] - 1, x * size[0] / s.width());
    int py = Math.min(size[1] - 1, y * size[1] / s.height());
    return assembler().steps(s, frame, size[0], size[1], px, py);
  }

  /** Longer side of the picture that numbers under the pointer are from, pixels. */
  private static final int MOST_STEPS = 1280;

  /** What is done with files of footage. */
  interface OfFiles<T> {
    T of(FileShelf shelf) throws IOException;
  }

  /** Does something with files; what is wrong with them is said. */
  <T> T files(OfFiles<T> f) {
    try {
      return f.of(shelf());
    } catch (Shelf.Missing e) {
      throw new NotFoundException("There is " + e.getMessage() + ".");
    } catch (IOException e) {
      throw new UnreadableException("A file cannot be read: " + e.getMessage() + ".");
    }
  }
}
