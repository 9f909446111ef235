package posada.formats.gltf;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import de.javagl.jgltf.impl.v2.Accessor;
import de.javagl.jgltf.impl.v2.Buffer;
import de.javagl.jgltf.impl.v2.BufferView;
import de.javagl.jgltf.impl.v2.GlTF;
import de.javagl.jgltf.model.io.JsonError;
import de.javagl.jgltf.model.io.v2.GltfReaderV2;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The container, JSON and bytes of one glTF or GLB file (glTF 2.0, sections 3.6 and 4). */
final class GltfFile {
  private static final int GLB_MAGIC = 0x46546C67;
  private static final int CHUNK_JSON = 0x4E4F534A;
  private static final int CHUNK_BIN = 0x004E4942;

  final Path path;
  final String name;
  final long size;
  final GlTF gltf;
  final SceneReading reading;
  final Set<String> missing = new LinkedHashSet<>();
  final Remarks remarks = new Remarks();
  private ByteBuffer binary;
  private final List<ByteBuffer> buffers = new ArrayList<>();
  private final Map<Integer, ByteBuffer> unpacked = new HashMap<>();

  GltfFile(Path path) throws ImportException {
    this.path = path;
    name = path.getFileName().toString();
    reading = SceneReading.of(path);
    byte[] bytes;
    try {
      size = Files.size(path);
      if (size > Integer.MAX_VALUE - 16) {
        throw failure("the file", "is larger than 2 GiB; keep its buffers in files of their own");
      }
      bytes = Files.readAllBytes(path);
    } catch (IOException e) {
      throw new ImportException(name + " cannot be read: there is no such file or no permission.");
    }
    gltf = parse(json(bytes));
    if (gltf.getAsset() == null || gltf.getAsset().getVersion() == null) {
      throw failure("the file", "is not glTF: it lacks asset.version");
    }
    String version = gltf.getAsset().getVersion();
    if (!version.startsWith("2.")) {
      throw failure("asset.version", "is " + version + "; version 2.0 is needed");
    }
    int n = gltf.getBuffers() == null ? 0 : gltf.getBuffers().size();
    for (int i = 0; i < n; i++) {
      Buffer given = gltf.getBuffers().get(i);
      buffers.add(PackedView.standsIn(given) ? ByteBuffer.allocate(0) : buffer(i, given));
    }
  }

  ImportException failure(String element, String reason) {
    return new ImportException(name + ": " + element + " " + reason + ".");
  }

  void remark(String text) {
    remarks.add(text);
  }

  private byte[] json(byte[] bytes) throws ImportException {
    ByteBuffer b = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    if (bytes.length < 4 || b.getInt(0) != GLB_MAGIC) {
      if (firstLetter(bytes) != '{') {
        throw failure("the file", "is not glTF: it begins neither with \"glTF\" nor with \"{\"");
      }
      return bytes;
    }
    if (bytes.length < 12) {
      throw failure("the header", "is cut off after " + bytes.length + " of 12 bytes");
    }
    int version = b.getInt(4);
    if (version != 2) {
      throw failure("the header", "says version " + version + "; version 2 is needed");
    }
    long length = b.getInt(8) & 0xffffffffL;
    if (length > bytes.length) {
      throw failure(
          "the file", "is cut off: " + bytes.length + " of " + length + " bytes are there");
    }
    byte[] json = null;
    int at = 12;
    for (int chunk = 0; at + 8 <= length; chunk++) {
      long n = b.getInt(at) & 0xffffffffL;
      int type = b.getInt(at + 4);
      if (at + 8 + n > length) {
        throw failure("chunk " + chunk, "is cut off");
      }
      if (type == CHUNK_JSON && json == null) {
        json = java.util.Arrays.copyOfRange(bytes, at + 8, at + 8 + (int) n);
      } else if (type == CHUNK_BIN && binary == null) {
        binary = b.slice(at + 8, (int) n).order(ByteOrder.LITTLE_ENDIAN);
      }
      at += 8 + (int) n;
    }
    if (json == null) {
      throw failure("the file", "has no JSON chunk");
    }
    return json;
  }

  private static int firstLetter(byte[] bytes) {
    int i = bytes.length > 3 && (bytes[0] & 255) == 0xEF ? 3 : 0;
    while (i < bytes.length && bytes[i] <= ' ' && bytes[i] > 0) {
      i++;
    }
    return i < bytes.length ? bytes[i] : -1;
  }

  private GlTF parse(byte[] json) throws ImportException {
    GltfReaderV2 reader = new GltfReaderV2();
    // By the library's path, which lacks the numbers of elements.
    Map<String, List<JsonError>> ignored = new LinkedHashMap<>();
    reader.setJsonErrorConsumer(
        e -> {
          String path = String.join("/", e.getJsonPath());
          if (!pointer(path, e)) {
            ignored.computeIfAbsent(path, k -> new ArrayList<>()).add(e);
          }
        });
    try {
      GlTF g = reader.read(new ByteArrayInputStream(json));
      if (g == null) {
        throw failure("the JSON", "is empty");
      }
      ignored.forEach((path, all) -> remark(ignored(json, path, all)));
      return g;
    } catch (IOException | RuntimeException e) {
      throw failure("the JSON", "cannot be read; the file is damaged or not glTF");
    }
  }

  /** The library does not know the extension by which a channel's path is "pointer". */
  private static boolean pointer(String path, JsonError e) {
    return path.endsWith("target/path")
        && e.getThrowable() != null
        && String.valueOf(e.getThrowable().getMessage()).contains("path: pointer,");
  }

  /** Says what could not be taken: where the first of its kind is, and how many more there are. */
  private static String ignored(byte[] json, String path, List<JsonError> all) {
    String why = "";
    if (all.get(0).getThrowable() instanceof JsonProcessingException x && x.getLocation() != null) {
      path = pathAt(json, x.getLocation().getByteOffset(), path);
      why = " (" + x.getOriginalMessage() + ")";
    }
    String more = all.size() == 1 ? "" : "; so were " + (all.size() - 1) + " more like it";
    return "The JSON at " + path + " could not be taken" + why + " and was ignored" + more + ".";
  }

  private static String pathAt(byte[] json, long offset, String otherwise) {
    try (JsonParser p = new JsonFactory().createParser(json)) {
      while (p.currentLocation().getByteOffset() < offset) {
        if (p.nextToken() == null) {
          return otherwise;
        }
      }
      return p.getParsingContext().pathAsPointer().toString();
    } catch (IOException e) {
      return otherwise;
    }
  }

  private ByteBuffer buffer(int i, Buffer buffer) throws ImportException {
    ByteBuffer data;
    if (buffer.getUri() == null) {
      if (i != 0 || binary == null) {
        throw failure("buffer " + i, "has no data");
      }
      data = binary;
    } else {
      byte[] bytes = resource(buffer.getUri());
      if (bytes == null) {
        throw failure("buffer " + i, "refers to " + shown(buffer.getUri()) + ", which is missing");
      }
      data = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
    }
    Integer length = buffer.getByteLength();
    if (length != null && length > data.limit()) {
      throw failure(
          "buffer " + i, "is cut off: " + data.limit() + " of " + length + " bytes are there");
    }
    return data;
  }

  private static String shown(String uri) {
    return uri.length() > 80 ? uri.substring(0, 77) + "..." : uri;
  }

  /**
   * Returns the bytes of a data or file reference.
   *
   * @return null if the file is not there; its name is then listed as missing
   */
  byte[] resource(String uri) throws ImportException {
    if (uri.startsWith("data:")) {
      int comma = uri.indexOf(',');
      if (comma < 0 || !uri.substring(0, comma).endsWith(";base64")) {
        throw failure("a data reference", "is not base64");
      }
      try {
        return Base64.getDecoder().decode(uri.substring(comma + 1).trim());
      } catch (IllegalArgumentException e) {
        throw failure("a data reference", "is not base64");
      }
    }
    byte[] bytes = uri.contains("://") ? null : near(decoded(uri));
    if (bytes == null) {
      String instead = reading.files().get(shown(uri));
      bytes = instead == null ? null : near(instead);
    }
    if (bytes == null) {
      missing.add(shown(uri));
    }
    return bytes;
  }

  /** Returns a reference as a path; null if it is none. */
  private static String decoded(String uri) {
    try {
      return URLDecoder.decode(uri.replace("+", "%2B"), StandardCharsets.UTF_8).replace('\\', '/');
    } catch (IllegalArgumentException e) {
      return null;
    }
  }

  /** Returns the bytes of a file in the scene's folder or below; null if it is not there. */
  private byte[] near(String relative) {
    try {
      Path base = path.toAbsolutePath().getParent().normalize();
      Path file = relative == null ? base : base.resolve(relative).normalize();
      return file.startsWith(base)
              && Files.isRegularFile(file)
              && file.toRealPath().startsWith(base.toRealPath())
          ? Files.readAllBytes(file)
          : null;
    } catch (IOException | InvalidPathException e) {
      return null;
    }
  }

  /** Returns the bytes of a buffer view. */
  ByteBuffer view(int index, String element) throws ImportException {
    List<BufferView> views = gltf.getBufferViews();
    if (views == null || index < 0 || index >= views.size()) {
      throw failure(element, "refers to buffer view " + index + ", which does not exist");
    }
    BufferView v = views.get(index);
    PackedView packed = PackedView.of(v);
    if (packed != null) {
      ByteBuffer there = unpacked.get(index);
      if (there == null) {
        there = packed.unpack(this, index);
        unpacked.put(index, there);
      }
      return there.duplicate().order(ByteOrder.LITTLE_ENDIAN);
    }
    int b = v.getBuffer() == null ? -1 : v.getBuffer();
    if (b < 0 || b >= buffers.size()) {
      throw failure("buffer view " + index, "refers to buffer " + b + ", which does not exist");
    }
    long offset = v.getByteOffset() == null ? 0 : v.getByteOffset();
    long length = v.getByteLength() == null ? 0 : v.getByteLength();
    return part(b, offset, length, index);
  }

  /** Returns some bytes of a buffer that exists. */
  ByteBuffer part(int b, long offset, long length, int index) throws ImportException {
    if (offset < 0 || length < 0 || offset + length > buffers.get(b).limit()) {
      throw failure(
          "buffer view " + index,
          "reaches to byte "
              + (offset + length)
              + " of buffer "
              + b
              + ", which has "
              + buffers.get(b).limit());
    }
    return buffers.get(b).slice((int) offset, (int) length).order(ByteOrder.LITTLE_ENDIAN);
  }

  int buffers() {
    return buffers.size();
  }

  int viewStride(int index) {
    PackedView packed = PackedView.of(gltf.getBufferViews().get(index));
    if (packed != null) {
      return packed.stride();
    }
    Integer s = gltf.getBufferViews().get(index).getByteStride();
    return s == null ? 0 : s;
  }

  Accessor accessor(Integer index, String element) throws ImportException {
    List<Accessor> all = gltf.getAccessors();
    if (all == null || index == null || index < 0 || index >= all.size()) {
      throw failure(element, "refers to accessor " + index + ", which does not exist");
    }
    return all.get(index);
  }
}
