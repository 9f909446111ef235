package posada.formats.draco;

import com.dylibso.chicory.runtime.ByteArrayMemory;
import com.dylibso.chicory.runtime.HostFunction;
import com.dylibso.chicory.runtime.ImportValues;
import com.dylibso.chicory.runtime.Instance;
import com.dylibso.chicory.runtime.Memory;
import com.dylibso.chicory.runtime.TrapException;
import com.dylibso.chicory.wasm.ChicoryException;
import com.dylibso.chicory.wasm.WasmModule;
import com.dylibso.chicory.wasm.types.FunctionImport;
import com.dylibso.chicory.wasm.types.FunctionType;
import com.dylibso.chicory.wasm.types.MemoryLimits;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.IntUnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Decodes meshes by the Draco library itself: it is published as WebAssembly, which is translated
 * into Java when Posada is built, and runs in a memory of its own. Of one thread; not to be used
 * any more once something did not decode.
 *
 * <p>Source of the format: "Draco 3D Graphics Compression: Bitstream Specification", version 2.2.
 */
public final class DracoDecoder {
  /** What numbers are wanted as. */
  public enum Number {
    BYTE(1, 1),
    UNSIGNED_BYTE(2, 1),
    SHORT(3, 2),
    UNSIGNED_SHORT(4, 2),
    UNSIGNED_INT(6, 4),
    FLOAT(9, 4);

    /** The library's number for it. */
    private final int code;

    private final int bytes;

    Number(int code, int bytes) {
      this.code = code;
      this.bytes = bytes;
    }
  }

  /**
   * What every vertex has.
   *
   * @param id by which the compressed mesh knows it
   * @param components how many numbers
   */
  public record Attribute(int id, int components, Number number) {}

  /**
   * A decoded mesh.
   *
   * @param indices three of each triangle
   * @param attributes in the order in which they were asked for; numbers close to each other,
   *     little-endian
   */
  public record Decoded(int vertices, ByteBuffer indices, List<ByteBuffer> attributes) {}

  /** A mesh does not decode; the message ends a sentence that begins with what it belongs to. */
  public static final class DamagedMeshException extends Exception {
    private static final long serialVersionUID = 1;

    DamagedMeshException(String message) {
      super(message);
    }
  }

  private static final int PAGE = 1 << 16;

  /** Pages of memory at first, as many as the library was made for, and at most: 1 GiB. */
  private static final int FIRST_PAGES = 1 << 8;

  private static final int MOST_PAGES = 1 << 14;

  /** Names of the library's functions, and what the translated ones are called. */
  private static final Map<String, String> NAMES = names();

  private final Instance library;
  private final Memory memory;

  private static Map<String, String> names() {
    try (InputStream in = DracoDecoder.class.getResourceAsStream("draco_decoder_nodejs.js")) {
      String js = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      Matcher m = Pattern.compile("a\\._(\\w+)=a\\.asm\\.([\\w$]+)").matcher(js);
      Map<String, String> names = new HashMap<>();
      while (m.find()) {
        names.put(m.group(1).replace("emscripten_bind_", ""), m.group(2));
      }
      return names;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  public DracoDecoder() {
    WasmModule module = Translated.load();
    ImportValues.Builder given = ImportValues.builder();
    for (int i = 0; i < module.importSection().importCount(); i++) {
      FunctionImport f = (FunctionImport) module.importSection().getImport(i);
      FunctionType type = module.typeSection().getType(f.typeIndex());
      given.addFunction(
          new HostFunction(f.module(), f.name(), type, (in, args) -> host(f.name(), args)));
    }
    library =
        Instance.builder(module)
            .withMachineFactory(Translated::create)
            .withImportValues(given.build())
            .withMemoryFactory(ByteArrayMemory::new)
            .withMemoryLimits(new MemoryLimits(FIRST_PAGES, MOST_PAGES))
            .build();
    memory = library.memory();
    // Its constructors.
    library.export("i").apply();
  }

  /** What the library asks of whoever runs it, by the names of its version 1.5.7. */
  private long[] host(String name, long[] args) {
    switch (name) {
      case "e" -> {
        int now = memory.pages();
        long least = ((args[0] & 0xffffffffL) + PAGE - 1) / PAGE;
        // Growing copies all of it, so that it is done by halves.
        long pages = Math.min(MOST_PAGES, Math.max(least, now + now / 2));
        boolean grown = least <= MOST_PAGES && memory.grow((int) pages - now) >= 0;
        return new long[] {grown ? 1 : 0};
      }
      case "g" -> {
        memory.copy((int) args[0], (int) args[1], (int) args[2]);
        return null;
      }
      // It gives up, or wants to write to a console or a file.
      default -> throw new TrapException("the library gave up");
    }
  }

  private int call(String name, int... args) {
    long[] given = new long[args.length];
    for (int i = 0; i < args.length; i++) {
      given[i] = args[i];
    }
    long[] result = library.export(NAMES.get(name)).apply(given);
    return result == null || result.length == 0 ? 0 : (int) result[0];
  }

  /**
   * Decodes a mesh.
   *
   * @param wanted the attributes that are wanted
   */
  public Decoded decode(ByteBuffer packed, List<Attribute> wanted) throws DamagedMeshException {
    try {
      return decoded(packed, wanted);
    } catch (ChicoryException e) {
      throw new DamagedMeshException(
          "cannot be decompressed: it is damaged or needs more than 1 GiB");
    }
  }

  private Decoded decoded(ByteBuffer packed, List<Attribute> wanted) throws DamagedMeshException {
    byte[] bytes = new byte[packed.remaining()];
    packed.duplicate().get(bytes);
    int data = room(bytes.length);
    memory.write(data, bytes);
    int decoder = call("Decoder_Decoder_0");
    int mesh = call("Mesh_Mesh_0");
    int status = call("Decoder_DecodeArrayToMesh_3", decoder, data, bytes.length, mesh);
    if (call("Status_ok_0", status) == 0) {
      String why = memory.readCString(call("Status_error_msg_0", status));
      throw new DamagedMeshException("cannot be decompressed (" + why + ")");
    }
    int vertices = call("Mesh_num_points_0", mesh);
    List<ByteBuffer> attributes = new ArrayList<>();
    for (Attribute a : wanted) {
      attributes.add(attribute(decoder, mesh, vertices, a));
    }
    long size = 12L * call("Mesh_num_faces_0", mesh);
    ByteBuffer indices =
        taken(size, to -> call("Decoder_GetTrianglesUInt32Array_3", decoder, mesh, (int) size, to));
    call("Mesh___destroy___0", mesh);
    call("Decoder___destroy___0", decoder);
    call("free", data);
    return new Decoded(vertices, indices, attributes);
  }

  private ByteBuffer attribute(int decoder, int mesh, int vertices, Attribute a)
      throws DamagedMeshException {
    int found = call("Decoder_GetAttributeByUniqueId_2", decoder, mesh, a.id);
    int components = found == 0 ? 0 : call("PointAttribute_num_components_0", found);
    if (components != a.components) {
      String what = found == 0 ? "lacks" : "has " + components + " numbers in";
      throw new DamagedMeshException(what + " the compressed attribute " + a.id);
    }
    long size = (long) vertices * components * a.number.bytes;
    return taken(
        size,
        to ->
            call(
                "Decoder_GetAttributeDataArrayForAllPoints_5",
                decoder,
                mesh,
                found,
                a.number.code,
                (int) size,
                to));
  }

  private int room(long size) {
    int at = size < 1L << 31 ? call("malloc", (int) size) : 0;
    if (at == 0) {
      throw new TrapException("no room");
    }
    return at;
  }

  /** Returns what the library puts somewhere. */
  private ByteBuffer taken(long size, IntUnaryOperator put) throws DamagedMeshException {
    int at = room(size);
    if (put.applyAsInt(at) == 0) {
      throw new DamagedMeshException("cannot be decompressed");
    }
    byte[] bytes = memory.readBytes(at, (int) size);
    call("free", at);
    return ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }
}
