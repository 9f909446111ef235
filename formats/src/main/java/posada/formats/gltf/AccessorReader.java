package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Accessor;
import de.javagl.jgltf.impl.v2.AccessorSparse;
import java.nio.ByteBuffer;
import java.util.Map;
import posada.formats.draco.DracoDecoder;

/** Reads accessors into plain arrays, sparse and normalised ones too (glTF 2.0, section 3.6.2). */
final class AccessorReader {
  private static final int BYTE = 5120;
  private static final int UNSIGNED_BYTE = 5121;
  private static final int SHORT = 5122;
  private static final int UNSIGNED_SHORT = 5123;
  static final int UNSIGNED_INT = 5125;
  private static final int FLOAT = 5126;

  /** Most numbers of one accessor: 2 GiB of floats. */
  static final long MAX_VALUES = 1L << 29;

  /** Most numbers of an accessor that has no data of its own, so that a lie costs little memory. */
  private static final long MAX_ZEROS = 1L << 25;

  private final GltfFile file;

  /**
   * What stands in for an accessor's own data.
   *
   * @param bytes numbers close to each other
   * @param type of each number
   */
  record Stored(ByteBuffer bytes, int type) {}

  private final Map<Integer, Stored> instead;

  AccessorReader(GltfFile file) {
    this(file, Map.of());
  }

  AccessorReader(GltfFile file, Map<Integer, Stored> instead) {
    this.file = file;
    this.instead = instead;
  }

  /**
   * Returns the accessor's numbers, normalised integers as fractions.
   *
   * @param components how many numbers an element must have
   */
  float[] floats(Integer index, int components, String element) throws ImportException {
    Accessor a = checked(index, components, element);
    boolean normalized = Boolean.TRUE.equals(a.isNormalized());
    double[] raw = values(a, index, components);
    float[] f = new float[raw.length];
    double scale = normalized ? scale(a.getComponentType()) : 1;
    for (int i = 0; i < f.length; i++) {
      f[i] = (float) (normalized ? Math.max(-1, raw[i] * scale) : raw[i]);
    }
    return f;
  }

  /** Returns the accessor's whole numbers; those of 2^31 and more come out negative. */
  int[] ints(Integer index, String element) throws ImportException {
    Accessor a = checked(index, 1, element);
    if (a.getComponentType() == FLOAT) {
      throw file.failure("accessor " + index, "must hold whole numbers for " + element);
    }
    double[] raw = values(a, index, 1);
    int[] v = new int[raw.length];
    for (int i = 0; i < v.length; i++) {
      v[i] = raw[i] > Integer.MAX_VALUE ? -1 : (int) raw[i];
    }
    return v;
  }

  /** Returns how many numbers an element of the accessor has. */
  int components(Integer index, String element) throws ImportException {
    Accessor a = file.accessor(index, element);
    int n = numbers(a.getType());
    if (n == 0) {
      throw file.failure("accessor " + index, "has type " + a.getType());
    }
    return n;
  }

  /** Returns how many numbers an element of a type has; 0 for none that is known. */
  static int numbers(String type) {
    return switch (type == null ? "" : type) {
      case "SCALAR" -> 1;
      case "VEC2" -> 2;
      case "VEC3" -> 3;
      case "VEC4", "MAT2" -> 4;
      case "MAT3" -> 9;
      case "MAT4" -> 16;
      default -> 0;
    };
  }

  private Accessor checked(Integer index, int components, String element) throws ImportException {
    Accessor a = file.accessor(index, element);
    int n = components(index, element);
    if (n != components) {
      throw file.failure(
          "accessor " + index,
          "has " + n + " numbers for each element where " + element + " needs " + components);
    }
    if (a.getCount() == null || a.getCount() < 1) {
      throw file.failure("accessor " + index, "is empty");
    }
    if (a.getComponentType() == null || size(a.getComponentType()) == 0) {
      throw file.failure("accessor " + index, "has component type " + a.getComponentType());
    }
    long most = a.getBufferView() == null ? MAX_ZEROS : MAX_VALUES;
    if ((long) a.getCount() * components > most) {
      throw file.failure("accessor " + index, "holds more numbers than the limit");
    }
    return a;
  }

  private double[] values(Accessor a, int index, int components) throws ImportException {
    int count = a.getCount();
    int type = a.getComponentType();
    if (instead.containsKey(index)) {
      Stored own = instead.get(index);
      return raw(own.bytes, 0, 0, count, components, own.type, "accessor " + index);
    }
    if (a.getBufferView() == null && a.getSparse() == null) {
      return new double[count * components];
    }
    double[] v;
    if (a.getBufferView() != null) {
      int offset = a.getByteOffset() == null ? 0 : a.getByteOffset();
      v = raw(a.getBufferView(), offset, count, components, type, "accessor " + index);
    } else {
      v = new double[count * components];
    }
    AccessorSparse s = a.getSparse();
    if (s != null) {
      sparse(s, v, index, components, type);
    }
    return v;
  }

  private void sparse(AccessorSparse s, double[] v, int index, int components, int type)
      throws ImportException {
    String element = "the sparse part of accessor " + index;
    if (s.getCount() == null
        || s.getIndices() == null
        || s.getIndices().getBufferView() == null
        || s.getIndices().getComponentType() == null
        || s.getValues() == null
        || s.getValues().getBufferView() == null) {
      throw file.failure(element, "is incomplete");
    }
    int n = s.getCount();
    int io = s.getIndices().getByteOffset() == null ? 0 : s.getIndices().getByteOffset();
    int vo = s.getValues().getByteOffset() == null ? 0 : s.getValues().getByteOffset();
    double[] at =
        raw(s.getIndices().getBufferView(), io, n, 1, s.getIndices().getComponentType(), element);
    double[] values = raw(s.getValues().getBufferView(), vo, n, components, type, element);
    for (int i = 0; i < n; i++) {
      long to = (long) at[i] * components;
      if (to + components > v.length) {
        throw file.failure(element, "writes element " + (long) at[i] + ", which does not exist");
      }
      System.arraycopy(values, i * components, v, (int) to, components);
    }
  }

  private double[] raw(int view, int offset, int count, int components, int type, String element)
      throws ImportException {
    return raw(
        file.view(view, element),
        file.viewStride(view),
        offset,
        count,
        components,
        type,
        element + " in buffer view " + view);
  }

  private double[] raw(
      ByteBuffer b, int stride, int offset, int count, int components, int type, String element)
      throws ImportException {
    int size = size(type);
    if (stride == 0) {
      stride = size * components;
    }
    long end = (long) offset + (long) stride * (count - 1) + (long) size * components;
    if (offset < 0 || size == 0 || stride < size * components || end > b.limit()) {
      throw file.failure(element, "needs " + end + " bytes where there are " + b.limit());
    }
    double[] v = new double[count * components];
    for (int i = 0; i < count; i++) {
      for (int c = 0; c < components; c++) {
        int at = offset + i * stride + c * size;
        v[i * components + c] =
            switch (type) {
              case BYTE -> b.get(at);
              case UNSIGNED_BYTE -> b.get(at) & 0xff;
              case SHORT -> b.getShort(at);
              case UNSIGNED_SHORT -> b.getShort(at) & 0xffff;
              case UNSIGNED_INT -> b.getInt(at) & 0xffffffffL;
              default -> b.getFloat(at);
            };
      }
    }
    return v;
  }

  /** Returns what numbers of a component type are for {@link DracoDecoder}; null for no type. */
  static DracoDecoder.Number number(int type) {
    return switch (type) {
      case BYTE -> DracoDecoder.Number.BYTE;
      case UNSIGNED_BYTE -> DracoDecoder.Number.UNSIGNED_BYTE;
      case SHORT -> DracoDecoder.Number.SHORT;
      case UNSIGNED_SHORT -> DracoDecoder.Number.UNSIGNED_SHORT;
      case UNSIGNED_INT -> DracoDecoder.Number.UNSIGNED_INT;
      case FLOAT -> DracoDecoder.Number.FLOAT;
      default -> null;
    };
  }

  private static int size(int type) {
    return switch (type) {
      case BYTE, UNSIGNED_BYTE -> 1;
      case SHORT, UNSIGNED_SHORT -> 2;
      case UNSIGNED_INT, FLOAT -> 4;
      default -> 0;
    };
  }

  private static double scale(int type) {
    return switch (type) {
      case BYTE -> 1 / 127.0;
      case UNSIGNED_BYTE -> 1 / 255.0;
      case SHORT -> 1 / 32767.0;
      case UNSIGNED_SHORT -> 1 / 65535.0;
      default -> 1;
    };
  }
}
