package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Buffer;
import de.javagl.jgltf.impl.v2.BufferView;
import java.nio.ByteBuffer;
import java.util.Map;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;

/**
 * A buffer view compressed after EXT_meshopt_compression, decoded by the library that the extension
 * describes.
 *
 * @param buffer number of the buffer with the compressed bytes
 * @param offset of its first byte
 * @param length in bytes
 * @param stride bytes of each element
 * @param count of elements
 * @param mode {@code ATTRIBUTES}, {@code TRIANGLES} or {@code INDICES}
 * @param filter {@code NONE}, {@code OCTAHEDRAL}, {@code QUATERNION} or {@code EXPONENTIAL}
 */
record PackedView(
    int buffer, long offset, long length, int stride, int count, String mode, String filter) {
  static final String EXTENSION = "EXT_meshopt_compression";

  /** Most bytes of one decoded view. */
  private static final long MOST = Integer.MAX_VALUE - 64L;

  /** Elements that one compressed byte can stand for at most; a lie costs no memory then. */
  private static final long MOST_EACH = 4096;

  /** Returns true if a buffer without data only stands in for decoded bytes. */
  static boolean standsIn(Buffer b) {
    return b.getUri() == null
        && b.getExtensions() != null
        && b.getExtensions().get(EXTENSION) instanceof Map<?, ?> e
        && Boolean.TRUE.equals(e.get("fallback"));
  }

  /** Returns how a view is packed, or null if it is plain. */
  static PackedView of(BufferView v) {
    if (v.getExtensions() == null || !(v.getExtensions().get(EXTENSION) instanceof Map<?, ?> e)) {
      return null;
    }
    return new PackedView(
        (int) number(e, "buffer", -1),
        number(e, "byteOffset", 0),
        number(e, "byteLength", 0),
        (int) number(e, "byteStride", 0),
        (int) number(e, "count", 0),
        String.valueOf(e.get("mode")),
        e.get("filter") == null ? "NONE" : String.valueOf(e.get("filter")));
  }

  private static long number(Map<?, ?> e, String key, long otherwise) {
    return e.get(key) instanceof Number n ? n.longValue() : otherwise;
  }

  /** Returns the decoded bytes. */
  ByteBuffer unpack(GltfFile file, int index) throws ImportException {
    String element = "buffer view " + index;
    if (buffer < 0 || buffer >= file.buffers()) {
      throw file.failure(element, "refers to buffer " + buffer + ", which does not exist");
    }
    long size = (long) stride * count;
    boolean indices = !mode.equals("ATTRIBUTES");
    boolean strideFits =
        indices ? stride == 2 || stride == 4 : stride % 4 == 0 && stride > 0 && stride <= 256;
    boolean plausible = size <= MOST && count > 0 && count <= MOST_EACH * length;
    if (!strideFits || !plausible || mode.equals("TRIANGLES") && count % 3 != 0) {
      throw file.failure(element, "is compressed in a way that cannot be right");
    }
    ByteBuffer source = file.part(buffer, offset, length, index);
    ByteBuffer in = MemoryUtil.memAlloc((int) length);
    ByteBuffer out = MemoryUtil.memAlloc((int) size);
    try {
      in.put(source.duplicate()).flip();
      if (decode(out, in) != 0) {
        throw file.failure(element, "is compressed and damaged");
      }
      filter(out, file, element);
      ByteBuffer kept = ByteBuffer.allocate((int) size);
      kept.put(out.clear());
      return kept.flip();
    } finally {
      MemoryUtil.memFree(in);
      MemoryUtil.memFree(out);
    }
  }

  private int decode(ByteBuffer out, ByteBuffer in) {
    return switch (mode) {
      case "ATTRIBUTES" -> MeshOptimizer.meshopt_decodeVertexBuffer(out, count, stride, in);
      case "TRIANGLES" -> MeshOptimizer.meshopt_decodeIndexBuffer(out, count, stride, in);
      case "INDICES" -> MeshOptimizer.meshopt_decodeIndexSequence(out, count, stride, in);
      default -> -1;
    };
  }

  private void filter(ByteBuffer out, GltfFile file, String element) throws ImportException {
    switch (filter) {
      case "NONE" -> {}
      case "OCTAHEDRAL" -> {
        if (stride != 4 && stride != 8) {
          throw file.failure(element, "has normals of " + stride + " bytes");
        }
        MeshOptimizer.meshopt_decodeFilterOct(out, count, stride);
      }
      case "QUATERNION" -> {
        if (stride != 8) {
          throw file.failure(element, "has rotations of " + stride + " bytes");
        }
        MeshOptimizer.meshopt_decodeFilterQuat(out, count, stride);
      }
      case "EXPONENTIAL" -> MeshOptimizer.meshopt_decodeFilterExp(out, count, stride);
      default -> throw file.failure(element, "uses the unknown filter " + filter);
    }
  }
}
